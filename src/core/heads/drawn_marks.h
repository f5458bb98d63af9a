#pragma once
// Printed or cut marks found again on what lies on the bed, and where anything else that is drawn then lies. Source:
// handbook of the trade, 24.
#include <vector>

#include "core/heads/plan_point.h"
#include "core/result.h"

namespace ypsi {

struct FoundMark {
  PlanPoint drawn, found;
};

enum class MarksVerdict {
  ok,
  odd_mark,     ///< one does not fit the others
  wrong_scale,  ///< of two marks alone: their distance is not as drawn
};

struct MarksFit {
  double scale = 1, turn = 0;  ///< turn rad, counter-clockwise; a scale within its U of 1 is 1
  PlanPoint drawn_middle, found_middle;
  double s = 0, k = 0;  ///< scatter of the marks, mm, and the factor that goes with it
  double spread = 0;    ///< sum of squares of the drawn marks about their middle, mm^2
  std::vector<PlanPoint> residuals;
  std::vector<std::size_t> odd;  ///< indexes; of three marks all three, since none can be told from the others
  MarksVerdict verdict = MarksVerdict::ok;

  /// Where a drawn place lies, and its U in any direction, mm.
  PlanPoint at(PlanPoint drawn) const;
  double U_at(PlanPoint drawn) const;
};

/// `s` > 0, mm: the claim for finding a mark. Errors: `too_few` below two marks, `degenerate` where they are one place,
/// drawn or found.
Result<MarksFit> fit_marks(const std::vector<FoundMark>& marks, double s);

}  // namespace ypsi
