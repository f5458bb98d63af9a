#include "core/calibration/next_reading.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {

constexpr double worth_it = 0.98;  // a candidate that is shorter or simpler stays, unless another is better by this

/// The scale's U after one more reading that agrees with those before.
std::optional<double> expanded_with(ScaleInput in, double scale, double lost, double distance, bool reversed) {
  in.readings.push_back({distance, scale * distance - (reversed ? lost : 0), reversed});
  const auto found = fit_scale(in);
  if (!found || !found->fit) return std::nullopt;
  return found->fit->U_scale / found->fit->scale * 1000;
}

/// About `wanted`, and where one end is read none that was read before: the rounding of a length repeats, so each is a
/// little shorter than the one before, by an odd part of the resolution.
double fresh_length(const ScaleInput& in, double wanted, bool reversed) {
  if (in.instrument.ends >= 2) return wanted;
  constexpr double each_shorter = 0.004, odd_part = 0.618, alike = 0.05;
  const auto near_it = std::count_if(in.readings.begin(), in.readings.end(), [&](const ScaleReading& r) {
    return r.reversed == reversed && std::fabs(r.commanded - wanted) < alike * wanted;
  });
  if (near_it == 0) return wanted;
  const double part = std::fmod(static_cast<double>(near_it) * odd_part, 1.0);
  return wanted * (1 - each_shorter * static_cast<double>(near_it)) - part * in.instrument.resolution_mm;
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
  constexpr double tenth = 0.1;
  std::optional<NextReading> best;
  for (const bool reversed : {false, true})
    for (const double part : {1.0, tenth}) {
      const double distance = fresh_length(in, longest * part, reversed);
      const auto U = expanded_with(in, scale, lost, distance, reversed);
      if (!U || (best && *U > best->U_per_m * worth_it)) continue;
      best = NextReading{distance, reversed, *U, so_far.tolerance_per_m && *U <= *so_far.tolerance_per_m};
    }
  return best;
}

std::optional<ReadingsAhead> readings_ahead(const ScaleInput& so_far, double longest) {
  if (!so_far.tolerance_per_m) return std::nullopt;
  ScaleInput in = so_far;
  double scale = 1, lost = 0;
  if (const auto found = fit_scale(in); found && found->fit) {
    scale = found->fit->scale;
    lost = found->fit->lost_motion.value_or(0);
  }
  std::optional<ReadingsAhead> ahead;
  for (int i = 1; i <= most_readings_ahead; ++i) {
    const auto next = next_reading(in, longest);
    if (!next) return ahead;
    ahead = ReadingsAhead{i, next->U_per_m, next->reaches};
    if (next->reaches) return ahead;
    in.readings.push_back({next->distance, scale * next->distance - (next->reversed ? lost : 0), next->reversed});
  }
  return ahead;
}

}  // namespace ypsi
