#pragma once
// Where the setter stands, and what the reference tool found there.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* tool_setter_id = "tool_setter";

/// Machine Z, mm.
struct SetterEntry {
  std::optional<double> trigger{};
  std::optional<double> s{};
  int tool = 0;
  std::optional<double> setter_to_work{};
};
template <class V>
void describe(V& v, SetterEntry& f) {
  v.number("trigger_mm", f.trigger);
  v.number("s_mm", f.s);
  v.count("tool", f.tool);
  v.number("setter_to_work_mm", f.setter_to_work);
}

const Task& tool_setter_task();

}  // namespace ypsi
