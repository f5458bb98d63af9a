#pragma once
// How a cutter comes into a closed line from the waste. Lengths mm. Source: handbook of the trade, 29.
#include <vector>

#include "core/outline/outline.h"

namespace ypsi {

using OutlinesAround = std::vector<const Outline*>;  ///< what else is cut near a line, closed, as the tool goes

/// A quarter of a circle that comes to a closed line's first point along it, from outside of it or from inside; of
/// `radius`, or of less where that would meet the line or run into or out of one of `around`; empty where even an
/// eighth of it would.
Outline lead_in(const Outline& closed, double radius, bool from_outside, const OutlinesAround& around = {});

/// Begins a closed line in the middle of the longest of its straight parts at which lead_in() has room for all of
/// `radius`, else where it has most, and returns it. Example: of two squares side by side the one is entered on a side
/// that does not face the other.
Outline begin_with_lead_in(Outline& closed, double radius, bool from_outside, const OutlinesAround& around);

}  // namespace ypsi
