#pragma once
// Outlines beside an outline, by Clipper.
#include <vector>

#include "core/heads/plan_point.h"
#include "core/result.h"

namespace ypsi {

/// The outlines that keep `distance` mm from a closed one all along: outside of it above zero, inside below. Each ends
/// where it begins; none where there is no room inside. Errors: `out_of_range` where it is too far away.
Result<std::vector<std::vector<PlanPoint>>> beside_outline(const std::vector<PlanPoint>& outline, double distance);

/// Area of a closed outline, mm^2, whichever way it runs.
double area_of(const std::vector<PlanPoint>& outline);
/// Whether a place lies within a closed outline.
bool lies_within(PlanPoint place, const std::vector<PlanPoint>& outline);

}  // namespace ypsi
