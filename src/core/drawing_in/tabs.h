#pragma once
// Tabs: short stretches of a closed line over which a piece stays held, and how a cutter comes into the line from the
// waste. Lengths mm. Source: handbook of the trade, 28 and 29.
#include <vector>

#include "core/outline/outline.h"

namespace ypsi {

/// Whether a closed line is long enough for tabs, twice what they take, and there are any.
bool takes_tabs(const Outline& line, int count, double length);

/// Divides a closed line where its tabs begin and end: `count` stretches of `length` each, evenly apart, moved off
/// corners as far as there is a straight place near. Returns for every point whether the way to it is over a tab; empty
/// where it does not take them.
std::vector<bool> with_tabs(Outline& line, int count, double length);

/// What is cut of a line between its tabs, by a head that cannot go over them: lifted there.
std::vector<Outline> between_tabs(const Outline& line, const std::vector<bool>& over_tab);

/// The same closed line begun in the middle of its longest straight part.
void begin_on_longest(Outline& closed);
/// A quarter of a circle that comes to a closed line's first point along it, from outside of it or from inside; of
/// `radius`, or of less where that would meet the line; empty where even an eighth of it would.
Outline lead_in(const Outline& closed, double radius, bool from_outside);

}  // namespace ypsi
