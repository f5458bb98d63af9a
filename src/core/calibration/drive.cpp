#include "core/calibration/drive.h"

#include <cmath>
#include <numbers>

namespace ypsi {
namespace {
struct TravelPerRev {
  double operator()(const Screw& s) const { return s.lead_mm; }
  double operator()(const Belt& b) const { return b.pitch_mm * b.teeth; }
  double operator()(const Rack& r) const { return std::numbers::pi * r.module_mm * r.teeth; }
  double operator()(const Rotary&) const { return 360; }
};
}  // namespace

double travel_per_rev(const Transmission& transmission) {
  return std::visit(TravelPerRev{}, transmission);
}

bool is_rotary(const Transmission& transmission) {
  return std::holds_alternative<Rotary>(transmission);
}

Result<DriveResult> steps_per_unit(const DriveTrain& train) {
  const double steps =
      train.full_steps_per_rev * train.microsteps * train.gear_ratio / travel_per_rev(train.transmission);
  if (!std::isfinite(steps) || !(steps > 0) || !std::isfinite(1 / steps))
    return fail("out_of_range", "These parts give no usable steps per unit; every one of them must be above zero.",
                "transmission");
  return DriveResult{steps, is_rotary(train.transmission) ? "deg" : "mm", 1 / steps};
}

double speed_from_pulse_rate(double pulses_per_s, double steps_per_unit) {
  return pulses_per_s / steps_per_unit * 60;
}

}  // namespace ypsi
