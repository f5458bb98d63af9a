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

/// What closed outlines enclose, one within another being a hole in it, shrunk by `distance` >= 0: outer outlines and
/// holes. Errors: `out_of_range` where one lies too far away.
Result<std::vector<Outline>> shrunk(const std::vector<Outline>& outlines, double distance);

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
