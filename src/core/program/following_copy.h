#pragma once
// A copy of a program whose depths are counted from a surface as it was touched, not from one height. Source: handbook
// of the trade, 23.
#include "core/calibration/contours.h"
#include "core/program/corrected_copy.h"

namespace ypsi {

/// Beyond it, work zero and what was touched do not belong together.
inline constexpr double most_followed_mm = 3;

/// `top`: heights above work zero, over places of the work frame, mm. Straight moves and arcs are broken so that Z
/// stays within `tolerance` mm (> 0) of the surface's form. Errors: those of corrected_copy(); `beyond_map` where it
/// cuts more than half a gap beside the touches; `far_off` where the surface is more than most_followed_mm from work
/// zero.
Result<CorrectedCopy> following_copy(std::string_view text, const HeightGrid& top, double tolerance);

}  // namespace ypsi
