#pragma once
// Closed outlines on the plan: beside one, what several have in common. By Clipper, to 0.00001 mm.
#include <vector>

#include "core/heads/plan_point.h"
#include "core/result.h"

namespace ypsi {

/// Places in mm, the last being the first; whichever way it runs. One that crosses itself is what it encloses.
using Outline = std::vector<PlanPoint>;

/// The outlines that keep `distance` mm from a closed one all along: outside of it above zero, inside below. Each ends
/// where it begins; none where there is no room inside. Errors: `out_of_range` where it is too far away.
Result<std::vector<Outline>> beside_outline(const Outline& outline, double distance);

/// What closed outlines enclose, those that cross being one and one within another a hole in it, shrunk by `distance`
/// >= 0: outer outlines and holes. Errors: `out_of_range` where one lies too far away.
Result<std::vector<Outline>> shrunk(const std::vector<Outline>& outlines, double distance);

/// What is left of an area.
struct NotReached {
  std::vector<Outline> outlines;  ///< outer ones, and holes
  double area = 0;                ///< mm^2
};
/// What of an area (closed outlines, as shrunk() takes them) a round tool `width` mm wide (> 0) leaves,
/// carried along `lines`; what is `least` mm (>= 0) across or less is no matter. Error: `out_of_range`.
/// Example: along the middle of a strip 10 x 1 a tool of 1 leaves its corners, 1 - pi/4 mm^2, where the line ends half
/// a tool from the ends.
Result<NotReached> not_reached(const std::vector<Outline>& area, const std::vector<Outline>& lines, double width,
                               double least);

/// What lies within `of` and not within its `holes`, and within any of `others`, mm^2. Places farther away than a
/// kilometre count as being there. Example: a square of 10 with a hole of 2, and another square over its right
/// half: 48.
double common_area(const Outline& of, const std::vector<Outline>& holes, const std::vector<Outline>& others);
/// What lies within `of` and not within its `holes`, mm^2.
double area_without(const Outline& of, const std::vector<Outline>& holes);

/// Area of a closed outline, mm^2, whichever way it runs.
double area_of(const Outline& outline);
/// Whether a line turns by more than `rad` at a place.
bool turns_by_more(PlanPoint before, PlanPoint at, PlanPoint after, double rad);
/// Its length, mm.
double length_along(const Outline& line);
/// Whether a place lies within a closed outline.
bool lies_within(PlanPoint place, const Outline& outline);

/// A rectangle from its lower left corner, turned about `about` by `turn` rad counter-clockwise.
Outline rectangle(PlanPoint corner, PlanPoint size, double turn = 0, PlanPoint about = 0);

}  // namespace ypsi
