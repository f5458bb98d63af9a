#pragma once
// What is put right in a drawing before it is cut, and what stays to be looked at: ends that nearly meet are joined,
// what is drawn twice is cut once, open ends are named. Lengths mm. Source: handbook of the trade, 29.
#include "core/drawing_in/drawing.h"

namespace ypsi {

struct MendSetting {
  double join = 0.5;      ///< ends of one layer that are no further apart are one, >= 0
  double doubled = 0.02;  ///< what is nowhere further apart is the same line, >= 0
};

struct OpenEnd {
  PlanPoint at;
  std::size_t layer = 0;
  std::optional<double> gap;   ///< to the nearest other end of the layer; none where none is near
  bool nearly_closed = false;  ///< that is the line's own other end: an outline that was not quite closed
  std::uint32_t source = 0;
};

struct JoinedEnds {
  PlanPoint at;
  double gap = 0;
  std::size_t layer = 0;
};

struct Mended {
  std::size_t doubled = 0;         ///< lines that were there already
  std::vector<JoinedEnds> joined;  ///< over a gap that is more than rounding
  std::vector<OpenEnd> open;       ///< that stay
};

/// Changes the drawing's contours: fewer, longer, in the order in which the first part of each stood. What lies on
/// another layer is never joined with it, nor taken for its double.
Mended mend(Drawing& drawing, const MendSetting& setting = {});

}  // namespace ypsi
