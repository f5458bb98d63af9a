#pragma once
// Readings taken elsewhere, as tables: one row a reading, a heading or none. Numbers take a dot or a comma (with a
// semicolon or a tab between the fields, or in quotes). A table with a row that cannot be used is refused as a whole:
// the error's sentence names each such line, `where` the first ("line 4").
#include <string>
#include <string_view>
#include <vector>

#include "core/book/book.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/positioning.h"
#include "core/calibration/scale.h"

namespace ypsi {

/// Columns told, measured, approach (same or reversed; may be left out). Lengths mm, or degrees for a rotary axis.
/// Errors: `not_csv`, `no_rows`, `bad_rows`.
Result<std::vector<ScaleReading>> scale_readings_from_csv(std::string_view text);
std::string scale_readings_to_csv(const std::vector<ScaleReading>& readings);

/// Columns place, arriving_plus, arriving_minus, mm. The same errors.
Result<std::vector<TurnAt>> turns_from_csv(std::string_view text);
std::string turns_to_csv(const std::vector<TurnAt>& turns);

/// Columns run, direction (+ or -), target, deviation, mm; every run meets every target once, in any order.
/// The same errors, and `out_of_range` where a run misses a target.
Result<PositioningReadings> positioning_from_csv(std::string_view text);
std::string positioning_to_csv(const PositioningReadings& readings);

/// Columns number, name, kind, diameter, angle, tip, flutes, length_out, slot, offset, U_offset, max_plunge,
/// edge_length; those from angle on may be left out. Lengths mm, the angle in degrees, the plunge mm/min. Offsets are
/// written and not read: they are measured on this machine's setter. The same errors, and for a number that stands
/// twice.
Result<std::vector<Tool>> tools_from_csv(std::string_view text);
std::string tools_to_csv(const std::vector<Tool>& tools);

}  // namespace ypsi
