#include "core/calibration/homing.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/coverage.h"
#include "core/metrology/spread.h"

namespace ypsi {
namespace {
constexpr std::size_t fewest_trials = 5;
constexpr double of_the_numbers = 1e-12;  // of the readings' size: spreads below it are the numbers' own
}  // namespace

Result<HomingResult> evaluate_homing(const std::vector<double>& readings, double tolerance, double resolution) {
  if (readings.size() < fewest_trials)
    return fail("too_few", "At least five homings are needed to tell scatter from drift.", "readings_mm");
  const auto n = static_cast<double>(readings.size());
  const auto [low, high] = std::minmax_element(readings.begin(), readings.end());
  const double size = std::max(std::fabs(*low), std::fabs(*high));

  HomingResult out;
  out.mean = mean(readings);
  double about_middle = 0, slope = 0;
  for (std::size_t i = 0; i < readings.size(); ++i) {
    const double t = static_cast<double>(i) - (n - 1) / 2;
    about_middle += t * t;
    slope += t * (readings[i] - out.mean);
  }
  if (*high - *low > of_the_numbers * size) {
    out.range = *high - *low;
    out.s = *sample_deviation(readings);
    out.drift = slope / about_middle;
  }
  double left = 0;
  for (std::size_t i = 0; i < readings.size(); ++i) {
    const double r = readings[i] - out.mean - out.drift * (static_cast<double>(i) - (n - 1) / 2);
    if (std::fabs(r) > of_the_numbers * size) left += r * r;
  }
  const double per_reading = std::max(std::sqrt(left / (n - 2)), resolution / std::sqrt(12.0));
  out.U_drift = t95(static_cast<int>(n) - 2) * per_reading / std::sqrt(about_middle);
  // A drift that is real and too small to matter over all trials is no reason to look for its cause.
  const bool drifts = std::fabs(out.drift) > out.U_drift && std::fabs(out.drift) * (n - 1) > tolerance;
  out.verdict = drifts                  ? HomingVerdict::drifting
                : 2 * out.s > tolerance ? HomingVerdict::scattered
                                        : HomingVerdict::repeatable;
  return out;
}

const char* name(HomingVerdict verdict) {
  return verdict == HomingVerdict::drifting    ? "drifting"
         : verdict == HomingVerdict::scattered ? "scattered"
                                               : "repeatable";
}

}  // namespace ypsi
