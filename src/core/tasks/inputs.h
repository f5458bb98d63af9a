#pragma once
// Every switch and the probe seen to change before anything moves.
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* inputs_id = "inputs";

const Task& inputs_task();

}  // namespace ypsi
