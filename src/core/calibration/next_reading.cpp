#include "core/calibration/next_reading.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {

constexpr double worth_it = 0.98;  // a candidate that is shorter or simpler stays, unless another is better by this

/// The scale's U after one more reading that agrees with those before.
std::optional<double> expanded_with(ScaleInput in, double scale, double lost, double distance, bool reversed) {
  ScaleReading reading{distance, scale * distance - (reversed ? lost : 0), reversed};
  for (const auto& r : in.readings)
    if (std::fabs(std::fabs(r.commanded) - distance) < 1e-6 && r.reversed == reversed)
      reading.measured = std::fabs(r.measured);
  in.readings.push_back(reading);
  const auto found = fit_scale(in);
  if (!found || !found->fit) return std::nullopt;
  return found->fit->U_scale / found->fit->scale * 1000;
}

}  // namespace

std::optional<NextReading> next_reading(const ScaleInput& so_far, double longest) {
  if (!(longest > 0) || !std::isfinite(longest)) return std::nullopt;
  ScaleInput in = so_far;
  double scale = 1, lost = 0;
  if (!in.readings.empty()) {
    const auto found = fit_scale(in);
    if (!found || found->verdict == ScaleVerdict::wrong_direction || found->verdict == ScaleVerdict::mixed_signs)
      return std::nullopt;
    if (found->fit) {
      scale = found->fit->scale;
      lost = found->fit->lost_motion.value_or(0);
    }
  }
  for (auto& r : in.readings) {
    r.commanded = std::fabs(r.commanded);
    r.measured = std::fabs(r.measured);
  }
  std::optional<NextReading> best;
  for (const bool reversed : {false, true})
    for (const double part : {1.0, 0.9, 0.8, 0.65, 0.5, 0.35}) {
      const auto U = expanded_with(in, scale, lost, longest * part, reversed);
      if (!U || (best && *U > best->U_per_m * worth_it)) continue;
      best = NextReading{longest * part, reversed, *U, so_far.tolerance_per_m && *U <= *so_far.tolerance_per_m};
    }
  return best;
}

}  // namespace ypsi
