#pragma once
// How well homing finds the same place again.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* homing_id = "homing";

/// Of one axis; an older entry without a subject is about all.
struct HomingEntry {
  std::optional<double> s{};
  std::optional<double> range{};
  std::optional<double> drift{};
  std::optional<double> U_drift{};
  std::optional<double> tolerance{};
  int trials = 0;
  std::string verdict{};
  bool failed = false;
};
template <class V>
void describe(V& v, HomingEntry& f) {
  v.number("s_mm", f.s);
  v.number("range_mm", f.range);
  v.number("drift_mm_per_trial", f.drift);
  v.number("U_drift_mm_per_trial", f.U_drift);
  v.number("tolerance_mm", f.tolerance);
  v.count("trials", f.trials);
  v.text("verdict", f.verdict, Written::where_not_usual);
  v.flag("failed", f.failed, Written::where_not_usual);
}

const Task& homing_task();

}  // namespace ypsi
