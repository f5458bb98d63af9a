#pragma once
// The moving parts: what the carriages really do with the steps they are sent. No controller here, only iron.
#include <cstdint>

#include "standin/scenario.h"

namespace ypsi::standin {

class AxisMechanics {
 public:
  explicit AxisMechanics(const AxisTruth& truth, double at) : truth_(&truth), nut_(at), carriage_(at) {}

  /// Turns the motor by `steps` (signed). Slack is taken up first; against a stop the motor loses its steps.
  void turn(std::int64_t steps);
  /// Physical place of the carriage, mm, with the screw's periodic error.
  double place() const;
  bool at_stop() const { return at_stop_; }

 private:
  const AxisTruth* truth_;
  double nut_;       ///< where the nut is, mm
  double carriage_;  ///< where it has dragged the carriage: from nut to nut + lost motion
  bool at_stop_ = false;
};

}  // namespace ypsi::standin
