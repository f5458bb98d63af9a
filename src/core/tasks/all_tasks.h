#pragma once
#include "core/tasks/task.h"

namespace ypsi {

/// Every task, in the order of work. A new one is a file pair here and its line in all_tasks.cpp.
const Tasks& all_tasks();

/// Every task's steps of a rehearsal, in the order in which they are done.
std::vector<rehearsal::Step> rehearsal_steps(const Tasks& tasks = all_tasks());

/// The same with only what the owner's part needs: in place of what measures the causes that it is off by, each of them
/// as long as it is the largest, and nothing that bears on no size.
std::vector<rehearsal::Step> rehearsal_steps_by_part(const Tasks& tasks = all_tasks());

}  // namespace ypsi
