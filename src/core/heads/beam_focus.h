#pragma once
// The height at which a beam is narrowest, from the widths of lines burnt at several heights. Source: handbook of the
// trade, 19; ISO 11146-1, 9 (the hyperbola of a beam's width).
#include <optional>
#include <vector>

#include "core/result.h"

namespace ypsi {

struct BurntLine {
  double z = 0;      ///< height of the head, mm
  double width = 0;  ///< > 0, mm
};

enum class FocusVerdict {
  ok,
  recentre,    ///< it lies beside the middle of the heights: repeat around it
  no_minimum,  ///< the widths do not turn: spread the heights
};

struct BeamFocus {
  std::optional<double> z, U;  ///< mm; none without a minimum
  double k = 0, birge = 0;
  FocusVerdict verdict = FocusVerdict::ok;
};

/// At least four lines at three heights; `u_width` > 0, mm, of each width. Errors: `too_few`, `degenerate`.
Result<BeamFocus> beam_focus(const std::vector<BurntLine>& lines, double u_width);

}  // namespace ypsi
