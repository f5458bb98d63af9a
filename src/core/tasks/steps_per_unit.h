#pragma once
// How far an axis goes for what it is told.
#include "core/calibration/scale.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* steps_per_unit_id = "steps_per_unit";

/// Steps per unit of one axis, found and perhaps applied. The last five where the axis was measured for it.
struct StepsEntry {
  std::optional<double> scale{};
  std::optional<double> U_scale{};
  std::optional<double> new_steps{};
  std::optional<double> U_new_steps{};
  std::optional<double> k{};
  std::string verdict{};
  std::optional<double> u_scale{};
  std::optional<double> lost_motion{};
  std::optional<double> U_lost_motion{};
  std::optional<double> birge{};
};
template <class V>
void describe(V& v, StepsEntry& f) {
  v.number("scale", f.scale);
  v.number("U_scale", f.U_scale);
  v.number("new_steps_per_mm", f.new_steps);
  v.number("U_new_steps_per_mm", f.U_new_steps);
  v.number("k", f.k);
  v.text("verdict", f.verdict, Written::where_not_usual);
  v.number("u_scale", f.u_scale);
  v.number("lost_motion_mm", f.lost_motion);
  v.number("U_lost_motion_mm", f.U_lost_motion);
  v.number("birge", f.birge);
}

StepsEntry steps_entry(const ScaleResult& result);

const Task& steps_per_unit_task();

}  // namespace ypsi
