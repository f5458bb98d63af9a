#pragma once
// Surfaces, corners, edges and circles from what a probe touched. Lengths mm, angles rad. Source: handbook of the
// trade, 10.
#include <vector>

#include "core/result.h"

namespace ypsi {

struct Point2 {
  double x = 0, y = 0;
};

struct PlateResult {
  double surface_z = 0;    ///< of what the plate stands on
  double work_zero_z = 0;  ///< of the wanted reference
};
/// `thickness` of the plate > 0; the stock's thickness > 0 carries the zero to the other side of the stock.
PlateResult touch_plate(double trigger_z, double thickness, bool plate_on_stock, bool reference_is_bed,
                        double stock_thickness);

/// Edge from a trigger place: `towards_plus`, the way the tool travelled; `wall` >= 0 of the plate (0: none).
double touched_edge(double trigger, bool towards_plus, double tool_diameter, double wall);

/// Centre between two opposite edges, whichever was touched first.
inline double centre_of_edges(double a, double b) {
  return a + (b - a) / 2;
}

/// One touch of a plate's wall in its frame: which way the tool travelled, where it triggered along its axis, and where
/// it stood along the other.
struct WallTouch {
  double trigger = 0;
  bool towards_plus = true;
  double wall = 0;   ///< >= 0
  double other = 0;  ///< the other coordinate
};
/// Corner of a stock that is known to be turned by `turn` (rad, counter-clockwise), from a touch of its left or right
/// edge (`x`) and one of its front or back edge (`y`).
Point2 turned_corner(const WallTouch& x, const WallTouch& y, double tool_diameter, double turn);

struct EdgeResult {
  double rotation = 0;  ///< rad, counter-clockwise positive seen from +Z, within a quarter turn of the axis
  double mm_per_m = 0;
};
/// Rotation of an edge that should lie along X (or Y), whichever point came first. Error: `degenerate` where the points
/// are one, or the edge stands across the axis.
Result<EdgeResult> edge_rotation(Point2 a, Point2 b, bool along_y);

struct TurnedStock {
  double rotation = 0, U = 0;  ///< rad, counter-clockwise positive seen from +Z; U for about 95 %
};
/// The same from two touches of one edge, each with its own readings across the edge (machine coordinates, at least
/// one); `step` > 0, what one reading can tell at best, mm. U comes from the readings' scatter about each place, with a
/// step's rounding. Errors: `too_few`; `degenerate` as for edge_rotation().
Result<TurnedStock> turned_stock(Point2 a, const std::vector<double>& across_a, Point2 b,
                                 const std::vector<double>& across_b, bool along_y, double step);

struct CircleResult {
  Point2 center;
  double diameter = 0;  ///< of the hole or boss, tip taken into account
  double rms = 0;       ///< root mean square of the points' distances from the fitted circle
  /// Standard uncertainty of one touch times these is that of centre (its larger axis) and diameter.
  double center_factor = 0, diameter_factor = 0;
};
/// Geometric (orthogonal distance) least squares through tip centres. At least 3 points not on one line; `tip` >= 0.
/// Errors: `too_few`; `degenerate` where they lie on a line, or the diameter would be below zero.
Result<CircleResult> fit_circle(const std::vector<Point2>& points, double tip, bool inside);

}  // namespace ypsi
