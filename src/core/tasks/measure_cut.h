#pragma once
// A part that was cut, measured: which error it shows.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* measure_cut_id = "measure_cut";

/// What is told of the cutter; subject "T1". Scales, lost motion and lean stand beside it under their own names.
struct MeasuredEntry {
  int tool = 0;
  std::optional<double> largest_deviation{};
  std::optional<double> tool_diameter{};
  std::optional<double> U_tool_diameter{};
  std::optional<double> k{};
  std::optional<double> tip{}, U_tip{};  ///< of a point, as an engraving shows it
};
template <class V>
void describe(V& v, MeasuredEntry& f) {
  v.count("tool", f.tool);
  v.number("largest_deviation_mm", f.largest_deviation);
  v.number("tool_diameter_mm", f.tool_diameter);
  v.number("U_tool_diameter_mm", f.U_tool_diameter);
  v.number("k", f.k);
  v.number("tip_mm", f.tip);
  v.number("U_tip_mm", f.U_tip);
}

const Task& measure_cut_task();

}  // namespace ypsi
