#pragma once
// Each axis seen to go where it should.
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* directions_id = "directions";

const Task& directions_task();

}  // namespace ypsi
