#pragma once
// Areas filled with straight lines, as an engraver or a pen goes over them. Lengths mm, angles rad.
//
// No line crosses an outline: all keep `inset` from it, which is half of what the tool is wide, and what is nearer to
// each other than that on both sides is left to the outline itself.
#include <vector>

#include "core/outline/outline.h"

namespace ypsi {

struct HatchSetting {
  double spacing = 0;        ///< between lines at most, > 0
  double angle = 0;          ///< of the lines, counter-clockwise from +X
  double inset = 0;          ///< kept from every outline, >= 0
  bool one_way = false;      ///< every line drawn towards the same side, each lifted
  bool with_outline = true;  ///< the inset outline is gone round too, after the lines
};

/// Lines from end to end, those that lie in each other's way joined where the way between them stays inside; then the
/// inset outlines, where wanted. Nothing where there is no room. Errors: `out_of_range` for the setting, or for an
/// outline too far away; `too_large` above a million lines.
/// Example: a square of 10 hatched every 2 at 0 rad, no inset and no outline: five lines, joined into one.
Result<std::vector<Outline>> hatch(const std::vector<Outline>& outlines, const HatchSetting& setting);

}  // namespace ypsi
