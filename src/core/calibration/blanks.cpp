#include "core/calibration/blanks.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/coverage.h"

namespace ypsi {
namespace {
constexpr int most_blanks = 1'000'000;
}

Result<BlanksResult> evaluate_blanks(const std::vector<BlankSize>& sizes, double expected, double tolerance, int every,
                                     double resolution) {
  if (!(expected > 0) || !(tolerance > 0) || every < 1 || !(resolution >= 0))
    return fail("out_of_range", "What a piece should measure and may be off by must be above zero.", "expected");
  if (sizes.size() < fewest_blanks)
    return fail("too_few", "Four measured blanks at least are needed to tell scatter from drift.", "sizes");
  const auto n = static_cast<double>(sizes.size());
  double count_mean = 0, size_mean = 0;
  for (const BlankSize& b : sizes) {
    if (b.count < 1 || b.count > most_blanks || !std::isfinite(b.size_mm))
      return fail("out_of_range", "A blank has a number and a size.", "sizes");
    count_mean += b.count / n;
    size_mean += b.size_mm / n;
  }
  double across = 0, rise = 0;
  for (const BlankSize& b : sizes) {
    across += (b.count - count_mean) * (b.count - count_mean);
    rise += (b.count - count_mean) * (b.size_mm - size_mean);
  }
  if (!(across > 0)) return fail("degenerate", "All that were measured have one number.", "sizes");
  BlanksResult out;
  out.drift = rise / across;
  double left = 0;
  for (const BlankSize& b : sizes) {
    const double r = b.size_mm - size_mean - out.drift * (b.count - count_mean);
    left += r * r;
  }
  const int dof = static_cast<int>(sizes.size()) - 2;
  out.s = std::max(std::sqrt(left / dof), resolution / std::sqrt(12.0));
  const double k = t95(dof);
  out.U_drift = k * out.s / std::sqrt(across);
  const int last = std::max_element(sizes.begin(), sizes.end(), [](const BlankSize& a, const BlankSize& b) {
                     return a.count < b.count;
                   })->count;
  const auto line = [&](double count) { return size_mean + out.drift * (count - count_mean); };
  out.now = line(last);
  out.U_now = k * out.s * std::sqrt(1 / n + (last - count_mean) * (last - count_mean) / across);
  const bool drifts = std::fabs(out.drift) > out.U_drift;
  if (out.drift != 0) {
    const double edge = expected + std::copysign(tolerance, out.drift);
    const double at = count_mean + (edge - size_mean) / out.drift;
    if (at < most_blanks) out.leaves_at = std::max(1, static_cast<int>(std::floor(at + 1e-9)) + 1);
  }
  // A warning does not wait until the drift is beyond doubt: a piece that is lost costs more than a look.
  const bool soon = out.leaves_at && *out.leaves_at <= last + 2 * every;
  if (!drifts && !soon) out.leaves_at.reset();
  out.verdict = std::fabs(out.now - expected) > tolerance ? BlanksVerdict::out
                : soon                                    ? BlanksVerdict::soon
                : drifts                                  ? BlanksVerdict::drifts
                                                          : BlanksVerdict::steady;
  return out;
}

}  // namespace ypsi
