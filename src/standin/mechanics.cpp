#include "standin/mechanics.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace ypsi::standin {

void AxisMechanics::turn(std::int64_t steps) {
  nut_ += static_cast<double>(truth_->inverted ? -steps : steps) / truth_->true_steps_per_mm;
  // The nut drags the carriage up at once and down only after the slack.
  const double dragged = std::clamp(carriage_, nut_, nut_ + lost_motion_);
  const double was = std::exchange(carriage_, std::clamp(dragged, truth_->stop_low, truth_->stop_high));
  if (carriage_ != was) place_ = seen_at(carriage_);
  if (carriage_ == dragged) return;
  nut_ += carriage_ - dragged;
  pushed_ += std::fabs(carriage_ - dragged);
}

double AxisMechanics::seen_at(double carriage) const {
  double place = carriage;
  for (const ScrewError& e : truth_->screw) place += e.amplitude * std::sin(2 * std::numbers::pi * carriage / e.period);
  return place;
}

EndSwitch::EndSwitch(const SwitchTruth& truth, std::uint64_t seed) : truth_(truth), random_(seed) {
  draw();
}

void EndSwitch::draw() {
  std::normal_distribution<double> scatter(0, 1);
  trips_at_ = truth_.at + truth_.s * scatter(random_);
}

void EndSwitch::carriage_at(double place) {
  const double inside = truth_.at_max ? place - trips_at_ : trips_at_ - place;
  if (inside >= 0) {
    pressed_ = true;
  } else if (pressed_ && inside < -truth_.release) {
    pressed_ = false;
    draw();
  }
}

}  // namespace ypsi::standin
