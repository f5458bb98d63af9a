#pragma once
// What an axis loses when it turns round.
#include "core/calibration/positioning.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* lost_motion_id = "lost_motion";

/// Lost motion of one axis, mm; `s`, `largest` and `places` where an indicator told it.
struct LostMotionEntry {
  std::optional<double> lost_motion{};
  std::optional<double> U{};
  std::optional<double> k{};
  std::optional<double> s{};
  std::optional<double> largest{};
  std::optional<double> places{};
};
template <class V>
void describe(V& v, LostMotionEntry& f) {
  v.number("lost_motion_mm", f.lost_motion);
  v.number("U_lost_motion_mm", f.U);
  v.number("k", f.k);
  v.number("s_mm", f.s);
  v.number("largest_mm", f.largest);
  v.number("places", f.places);
}

/// What a positioning test by ISO 230-2 keeps beside it, mm.
struct PositioningEntry {
  LostMotionEntry lost_motion;
  PositioningResult test;
};
template <class V>
void describe(V& v, PositioningEntry& f) {
  describe(v, f.lost_motion);
  const auto number = [&v](const char* key, double& value) {
    std::optional<double> told = value;
    v.number(key, told);
    value = told.value_or(0);
  };
  number("reversal_mm", f.test.reversal);
  number("mean_reversal_mm", f.test.mean_reversal);
  number("repeatability_mm", f.test.repeatability);
  number("repeatability_plus_mm", f.test.repeatability_plus);
  number("repeatability_minus_mm", f.test.repeatability_minus);
  number("systematic_mm", f.test.systematic);
  number("mean_deviation_range_mm", f.test.mean_deviation_range);
  number("accuracy_mm", f.test.accuracy);
  number("accuracy_plus_mm", f.test.accuracy_plus);
  number("accuracy_minus_mm", f.test.accuracy_minus);
}

const Task& lost_motion_task();

}  // namespace ypsi
