#pragma once
// Tabs: short stretches of a closed line over which a piece stays held. Lengths mm. Source: handbook of the trade, 28.
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

}  // namespace ypsi
