#pragma once
// What lies on the machine, and the program that is cut.
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* stock_program_id = "program";

const Task& stock_program_task();

}  // namespace ypsi
