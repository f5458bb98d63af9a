#pragma once
// The overview: what can be trusted, and what is next.
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* overview_id = "standing";

const Task& overview_task();

}  // namespace ypsi
