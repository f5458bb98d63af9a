#pragma once
// Blanks of one size cut one after the other on one zero: whether their size drifts, how it scatters, and after how
// many it leaves the tolerance. Lengths mm. Source: handbook of the trade, 22 and 9.
#include <optional>
#include <vector>

#include "core/result.h"

namespace ypsi {

/// One that was measured.
struct BlankSize {
  int count = 0;  ///< which of all it was, from 1
  double size_mm = 0;
  bool operator==(const BlankSize&) const = default;
};

enum class BlanksVerdict {
  steady,  ///< no drift that its U does not cover, and within the tolerance
  drifts,  ///< it does, and will leave the tolerance only after many more
  soon,    ///< by the line, told or not, before the next but one is measured
  out,     ///< it has left it
};

struct BlanksResult {
  double now = 0, U_now = 0;      ///< size of the newest by the line; U of the line there
  double drift = 0, U_drift = 0;  ///< mm a blank
  double s = 0;                   ///< scatter about the line
  std::optional<int> leaves_at;   ///< the count at which the line has left the tolerance, where it drifts or soon will
  BlanksVerdict verdict = BlanksVerdict::steady;
};

inline constexpr std::size_t fewest_blanks = 4;

/// `sizes` by rising count; `every`: how many are cut from one that is measured to the next, >= 1; `resolution` of the
/// instrument. U about 95 %, t by the degrees of freedom. Errors: `too_few`; `out_of_range`; `degenerate` where all
/// have one count.
///   evaluate_blanks({{10, 80.00}, {20, 80.02}, {30, 80.04}, {40, 80.06}}, 80, 0.1, 10, 0.01) -> drift 0.002,
///   leaves_at 61
Result<BlanksResult> evaluate_blanks(const std::vector<BlankSize>& sizes, double expected, double tolerance, int every,
                                     double resolution);

}  // namespace ypsi
