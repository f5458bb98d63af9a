#pragma once
// The record on paper.
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* certificate_record_id = "certificate";

const Task& certificate_record_task();

}  // namespace ypsi
