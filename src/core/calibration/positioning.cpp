#include "core/calibration/positioning.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/metrology/spread.h"

namespace ypsi {
namespace {

/// Grows with what it is shown.
struct Range {
  double low = INFINITY, high = -INFINITY;
  void take(double v) { low = std::min(low, v), high = std::max(high, v); }
  double width() const { return high - low; }
};

}  // namespace

Result<PositioningResult> evaluate_positioning(const std::vector<double>& targets,
                                               const std::vector<PositioningRun>& runs) {
  if (targets.size() < 2) return fail("too_few", "At least two targets are needed.", "targets_mm");
  for (std::size_t i = 0; i < runs.size(); ++i)
    if (runs[i].deviations.size() != targets.size())
      return fail(runs[i].deviations.size() < targets.size() ? "too_few" : "out_of_range",
                  fmt::format("This run has {} deviations for {} targets; give one for each.",
                              runs[i].deviations.size(), targets.size()),
                  fmt::format("runs[{}].deviation_mm", i));
  const auto plus_runs = std::count_if(runs.begin(), runs.end(), [](const auto& r) { return r.plus; });
  const auto minus_runs = static_cast<std::ptrdiff_t>(runs.size()) - plus_runs;
  if (plus_runs < 2 || minus_runs < 2)
    return fail("too_few", "At least two runs in each direction are needed; five are usual.", "runs");

  PositioningResult out;
  Range means, centres, both, up, down;
  double sum_reversal = 0;
  for (std::size_t i = 0; i < targets.size(); ++i) {
    std::vector<double> plus, minus;
    for (const auto& run : runs) (run.plus ? plus : minus).push_back(run.deviations[i]);
    const PositioningResult::Target t{mean(plus), *sample_deviation(plus), mean(minus), *sample_deviation(minus)};
    const double reversal = t.mean_plus - t.mean_minus;
    sum_reversal += reversal;
    out.reversal = std::max(out.reversal, std::fabs(reversal));
    out.repeatability_plus = std::max(out.repeatability_plus, 4 * t.s_plus);
    out.repeatability_minus = std::max(out.repeatability_minus, 4 * t.s_minus);
    out.repeatability =
        std::max({out.repeatability, 2 * t.s_plus + 2 * t.s_minus + std::fabs(reversal), 4 * t.s_plus, 4 * t.s_minus});
    for (const double m : {t.mean_plus, t.mean_minus}) means.take(m);
    centres.take((t.mean_plus + t.mean_minus) / 2);
    for (const double side : {-2.0, 2.0}) {
      up.take(t.mean_plus + side * t.s_plus);
      down.take(t.mean_minus + side * t.s_minus);
    }
    out.targets.push_back(t);
  }
  for (const Range& r : {up, down}) both.take(r.low), both.take(r.high);
  out.mean_reversal = sum_reversal / static_cast<double>(targets.size());
  out.systematic = means.width();
  out.mean_deviation_range = centres.width();
  out.accuracy_plus = up.width();
  out.accuracy_minus = down.width();
  out.accuracy = both.width();
  return out;
}

}  // namespace ypsi
