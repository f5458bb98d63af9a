#pragma once
// Axes, drives, travel, switches, spindle, instruments.
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* build_id = "build";

const Task& build_task();

}  // namespace ypsi
