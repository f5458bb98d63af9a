#include "core/calibration/positioning.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/metrology/coverage.h"
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

std::vector<PositioningRun> PositioningReadings::whole_runs() const {
  std::vector<PositioningRun> whole;
  for (const auto& run : runs)
    if (run.deviations.size() == targets.size()) whole.push_back(run);
  return whole;
}

std::vector<double> positioning_targets(double low, double high, int count) {
  constexpr double golden = 0.6180339887498949;  // its multiples never fall into step with anything
  constexpr double uneven_part = 0.5;            // of the spacing
  std::vector<double> targets;
  if (count < 2) return targets;
  targets.reserve(static_cast<std::size_t>(count));
  const double spacing = (high - low) / (count - 1 + uneven_part);
  for (int i = 0; i < count; ++i) targets.push_back(low + spacing * (i + uneven_part * std::fmod(golden * i, 1)));
  return targets;
}

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
  Range means, means_plus, means_minus, centres, both, up, down;
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
    means_plus.take(t.mean_plus);
    means_minus.take(t.mean_minus);
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
  out.systematic_plus = means_plus.width();
  out.systematic_minus = means_minus.width();
  out.mean_deviation_range = centres.width();
  out.accuracy_plus = up.width();
  out.accuracy_minus = down.width();
  out.accuracy = both.width();
  return out;
}

MeanReversal mean_reversal(const PositioningResult& result, int runs, const Instrument& instrument) {
  const auto m = static_cast<double>(result.targets.size());
  double variance = 0;
  for (const auto& t : result.targets) variance += (t.s_plus * t.s_plus + t.s_minus * t.s_minus) / runs;
  const double rounding = 2 * instrument.resolution_mm * instrument.resolution_mm / 12;
  const int dof = static_cast<int>(result.targets.size()) * 2 * (runs - 1);
  return {-result.mean_reversal, t95(dof) * std::sqrt(variance / (m * m) + rounding / m)};
}

}  // namespace ypsi
