#pragma once
// The window's side of each task: its sheet. A new one is a file pair under its id and its line here.
#include <functional>
#include <vector>

#include "app/sheets/sheet.h"
#include "core/tasks/task.h"

namespace ypsi::app {

struct TaskView {
  const Task* task = nullptr;
  std::function<Sheet*(Session&)> make;
};
using TaskViews = std::vector<TaskView>;

const TaskViews& task_views();

}  // namespace ypsi::app
