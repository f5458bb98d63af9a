#pragma once
// How wide a tool is at a height above its tip, by the shape that the book has of it: a point of a full angle with the
// width of its tip (V, bevel, engraver, taper), a ball, a nose rounded from its tip's width to its diameter, a drill's
// point, else a flat end. Lengths mm. Source: handbook of the trade, 14 and 23.
#include <vector>

#include "core/book/book.h"

namespace ypsi {

inline constexpr double usual_cutter_mm = 3;        ///< taken where a tool's diameter is not known
inline constexpr double drill_point_degrees = 118;  ///< where a drill's is not known

/// Whether it is as wide at its tip as above.
bool is_flat(const Tool& tool);

/// Radius `above_tip` (>= 0) of it; at most half of its diameter.
double radius_at(const Tool& tool, double above_tip);

/// How high above the tip it is as wide as `radius` (0 to half of its diameter).
double height_at(const Tool& tool, double radius);

/// A ring of the tool seen from below: out to `radius` nothing of it is lower than `low`, and at its rim it is at
/// `high`, both above the tip.
struct ToolRing {
  double radius = 0, low = 0, high = 0;
};
/// From the middle outwards: one of a flat tool, else enough to follow its shape. A null tool is a usual cutter.
std::vector<ToolRing> rings(const Tool* tool);

}  // namespace ypsi
