#pragma once
// Each tool's length against the reference tool.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* tools_id = "tools";

/// Subject "T2"; mm.
struct ToolEntry {
  std::optional<double> offset{};
  std::optional<double> U_offset{};
  std::optional<double> s{};
};
template <class V>
void describe(V& v, ToolEntry& f) {
  v.number("offset_mm", f.offset);
  v.number("U_offset_mm", f.U_offset);
  v.number("s_mm", f.s);
}

const Task& tools_task();

}  // namespace ypsi
