#pragma once
// What an axis loses when it turns round.
#include "core/calibration/error_table.h"
#include "core/calibration/positioning_json.h"
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
  describe(v, f.test);
}

/// What an axis repeats with every turn of its screw, pinion or pulley, mm and rad; subject over_a_turn().
struct PeriodicEntry {
  std::optional<double> amplitude{}, U{}, k{}, period{}, phase{};
};
template <class V>
void describe(V& v, PeriodicEntry& f) {
  v.number("amplitude_mm", f.amplitude);
  v.number("U_amplitude_mm", f.U);
  v.number("k", f.k);
  v.number("period_mm", f.period);
  v.number("phase_rad", f.phase);
}

/// "X turn": such an entry stands beside the axis's lost motion and does not replace it.
std::string over_a_turn(Axis axis);

/// The newest that holds; nothing in it where it was never measured.
PeriodicEntry periodic_error_of(const Book& book, Axis axis);

/// What to add at each target of the positioning test that is on the worksheet; none where it is no test yet. Its
/// period counts as too short where the targets are too far apart for what the axis's drive repeats, unless that is
/// known to be small against the rest. Source: handbook of the trade, 25.
std::optional<ErrorTable> positional_table(const Book& book, Axis axis);

const Task& lost_motion_task();

}  // namespace ypsi
