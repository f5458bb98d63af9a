#pragma once
// Curves as chains of short straight lines that leave them by no more than a tolerance.
#include <cstddef>
#include <vector>

#include "core/drawing_in/affine.h"

namespace ypsi {

inline constexpr std::size_t most_points_of_a_curve = 200'000;

/// centre + a cos t + b sin t, t from t0 to t1: an arc of a circle or an ellipse under any affine map.
struct EllipseArc {
  PlanPoint centre, a, b;
  double t0 = 0, t1 = 0;  ///< rad
  PlanPoint at(double t) const { return centre + a * std::cos(t) + b * std::sin(t); }
};
EllipseArc mapped(const EllipseArc& arc, const Affine& map);
/// The arc from one point to another that bulges by tan(quarter of its angle), to the right of the way where it is
/// above zero: a polyline's bulge (DXF reference, LWPOLYLINE group 42). Precondition: bulge is not 0, the points
/// differ.
EllipseArc bulged(PlanPoint from, PlanPoint to, double bulge);
/// SVG's elliptical arc by its end points (SVG 1.1, F.6.5). Precondition: radii above 0, the points differ.
EllipseArc svg_arc(PlanPoint from, PlanPoint to, double rx, double ry, double turn_rad, bool large, bool sweep);

/// A B-spline, rational where it has weights.
struct Spline {
  int degree = 3;
  std::vector<double> knots;  ///< never falling, control points + degree + 1 of them
  std::vector<PlanPoint> controls;
  std::vector<double> weights;  ///< none: all 1
};
/// Whether it can be told: its numbers of knots, control points and weights belong together.
bool is_sound(const Spline& spline);
/// De Boor's algorithm. Precondition: sound.
PlanPoint spline_at(const Spline& spline, double t);

/// These add all points but the first, which is there already. `tolerance` > 0 in the curve's unit.
void add_arc(std::vector<PlanPoint>& points, const EllipseArc& arc, double tolerance);
void add_bezier(std::vector<PlanPoint>& points, PlanPoint p0, PlanPoint p1, PlanPoint p2, PlanPoint p3,
                double tolerance);
/// Adds its first point as well. Precondition: sound.
void add_spline(std::vector<PlanPoint>& points, const Spline& spline, double tolerance);

}  // namespace ypsi
