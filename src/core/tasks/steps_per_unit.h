#pragma once
// How far an axis goes for what it is told.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* steps_per_unit_id = "steps_per_unit";

/// Steps per unit of one axis, found and perhaps applied.
struct StepsEntry {
  std::optional<double> scale;
  std::optional<double> U_scale;
  std::optional<double> new_steps;
  std::optional<double> U_new_steps;
  std::optional<double> k;
};
template <class V>
void describe(V& v, StepsEntry& f) {
  v.number("scale", f.scale);
  v.number("U_scale", f.U_scale);
  v.number("new_steps_per_mm", f.new_steps);
  v.number("U_new_steps_per_mm", f.U_new_steps);
  v.number("k", f.k);
}

const Task& steps_per_unit_task();

}  // namespace ypsi
