#pragma once
// The moving parts: what the carriages really do with the steps they are sent. No controller here, only iron.
#include <cstdint>
#include <random>

#include "standin/scenario.h"

namespace ypsi::standin {

class AxisMechanics {
 public:
  explicit AxisMechanics(const AxisTruth& truth, double at)
      : truth_(&truth), lost_motion_(truth.lost_motion), nut_(at), carriage_(at), place_(seen_at(at)) {}

  /// Turns the motor by `steps` (signed). Slack is taken up first; against a stop the motor loses its steps.
  void turn(std::int64_t steps);
  /// How far the motor has been driven against a stop, mm in all.
  double pushed() const { return pushed_; }
  /// Its nut is adjusted: hardly any slack is left.
  void adjust() { lost_motion_ = std::min(lost_motion_, left_by_a_hand_mm); }
  /// Physical place of the carriage, mm, with the screw's periodic error.
  double place() const { return place_; }

 private:
  double seen_at(double carriage) const;
  static constexpr double left_by_a_hand_mm = 0.01;
  const AxisTruth* truth_;
  double lost_motion_, pushed_ = 0;
  double nut_;       ///< where the nut is, mm
  double carriage_;  ///< where it has dragged the carriage: from nut to nut + lost motion
  double place_;     ///< and where that is, by the screw's error
};

/// A switch at one end: it trips at a place of its own, a little elsewhere each time, and lets go further back.
class EndSwitch {
 public:
  EndSwitch(const SwitchTruth& truth, std::uint64_t seed);
  void carriage_at(double place);
  void hold(bool by_a_finger) { held_ = by_a_finger; }
  void jam_closed() { jammed_ = true; }
  bool held() const { return held_; }
  bool closed() const { return jammed_ || held_ || pressed_; }

 private:
  void draw();
  SwitchTruth truth_;
  std::mt19937_64 random_;
  double trips_at_ = 0;
  bool pressed_ = false, held_ = false, jammed_ = false;
};

}  // namespace ypsi::standin
