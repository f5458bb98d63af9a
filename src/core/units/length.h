#pragma once
// Lengths as people type and read them. Inside, a length is always a double in mm.
#include <string>
#include <string_view>

#include "core/result.h"

namespace ypsi {

/// What a field shows. A rotary axis is told in degrees where a linear one is told in mm, and some fields hold a plain
/// number, so these stand here too.
enum class LengthUnit { millimetre, inch, degree, none };

inline constexpr double mm_per_inch = 25.4;  // exact: international inch, 1959

/// Reads a length or a simple sum of numbers and returns mm.
/// Numbers take a dot or a comma as decimal sign; + - * / and brackets are understood, and "1 1/2" is one and a half.
/// A suffix after the whole ("mm", "cm", "m", "in", `"`) sets the unit; without one `unit` holds. Where `unit` is
/// degree only "°" and "deg" may follow, and degrees come back. Errors: `empty`, `not_a_number` (with the character
/// that stopped it), `not_finite`.
Result<double> parse_length(std::string_view text, LengthUnit unit = LengthUnit::millimetre);

/// The same without a unit suffix: a plain number or sum ("360/2").
Result<double> parse_number(std::string_view text);

/// Decimals for a length in mm whose standard or expanded uncertainty is `uncertainty_mm`: two significant digits of
/// the uncertainty, at least `least`, at most 6 (JCGM 100:2008, 7.2.6). Without an uncertainty (0 or less) gives
/// `least`.
int decimals_for(double uncertainty, int least = 2);

/// "159.36": fixed decimals, a true minus sign, never "-0.00".
std::string format_number(double value, int decimals);
/// As format_number, with a sign always: "+0.05".
std::string format_signed(double value, int decimals);
/// A length given in mm, in the unit of the screen, without the unit's name. Inches get one decimal more than mm, since
/// an inch is 25.4 mm: 0.1 mm and 0.01 in are steps of like size.
std::string format_length(double mm, LengthUnit unit, int decimals_mm);
/// "mm", "in", "°" or nothing.
std::string unit_name(LengthUnit unit);
/// Value in the screen's unit.
double in_unit(double mm, LengthUnit unit);
/// "12 min 40 s", "1 h 05 min", "8 s".
std::string format_duration(double seconds);

}  // namespace ypsi
