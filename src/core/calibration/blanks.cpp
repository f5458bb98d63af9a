#include "core/calibration/blanks.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/straight_line.h"

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
  std::vector<double> counts, measured;
  int last = 0;
  for (const BlankSize& b : sizes) {
    if (b.count < 1 || b.count > most_blanks || !std::isfinite(b.size_mm))
      return fail("out_of_range", "A blank has a number and a size.", "sizes");
    counts.push_back(b.count);
    measured.push_back(b.size_mm);
    last = std::max(last, b.count);
  }
  auto line = fit_line(counts, measured);
  if (!line) return fail("degenerate", "All that were measured have one number.", "sizes");
  line->s = std::max(line->s, resolution / std::sqrt(12.0));
  BlanksResult out;
  out.drift = line->slope;
  out.U_drift = line->U_slope();
  out.s = line->s;
  out.now = line->at(last);
  out.U_now = line->U_at(last);
  const bool drifts = std::fabs(out.drift) > out.U_drift;
  if (out.drift != 0) {
    const double edge = expected + std::copysign(tolerance, out.drift);
    const double at = line->x_mean + (edge - line->y_mean) / out.drift;
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
