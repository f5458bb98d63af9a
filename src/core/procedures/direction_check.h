#pragma once
// Which way each axis goes: a short, slow nudge, two questions, and the axis reversed in the controller where the
// answer is no. Homing before this can drive the machine into its stop. Source: handbook of the trade, 2; ISO 841 for
// the directions.
#include <array>

#include "core/procedures/machine_link.h"

namespace ypsi {

inline constexpr double nudge_mm = 4, nudge_mm_min = 200;

enum class DirectionVerdict { not_tried, right, reversed_now_right, wrong_axis };

class DirectionCheck {
 public:
  struct State {
    DirectionVerdict verdict = DirectionVerdict::not_tried;
    bool reversed_here = false;  ///< the controller's setting was turned round on this sheet
  };
  /// Moves the axis by `length` mm (> 0) towards +, or towards - where a limit is in the way. Errors: those of a jog.
  Result<void> nudge(MachineLink& link, Axis axis, double length = nudge_mm);
  /// The answers to "did this axis move, and nothing else?" and "did it go the way of the arrow?". Where it went the
  /// other way the axis is reversed in the controller, and `asking` stays: nudge it again. Errors: those of a setting.
  /// Precondition: asking().
  Result<void> answer(MachineLink& link, bool alone, bool as_the_arrow);

  std::optional<Axis> asking() const { return asking_; }
  double way() const { return way_; }  ///< +1 or -1, of the last nudge
  const State& operator[](Axis axis) const { return axes_[index(axis)]; }
  /// Whether the axis asked for must be nudged once more, since it was just reversed.
  bool again() const { return again_; }
  bool complete() const;
  bool sound() const;
  std::optional<Axis> next() const;

 private:
  std::array<State, axis_count> axes_;
  std::optional<Axis> asking_;
  double way_ = 1;
  bool again_ = false;
};

}  // namespace ypsi
