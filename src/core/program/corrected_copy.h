#pragma once
// A copy of a program with a machine's own errors taken out of it, for a machine on which nothing can be adjusted: cut
// there, it leaves what the first program means. Source: handbook of the trade, 7: a command (X, Y) lands at
// (sx·X + sy·Y·sin γ, sy·Y·cos γ).
#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/calibration/error_table.h"
#include "core/program/program.h"
#include "core/result.h"

namespace ypsi {

/// Scales of X and Y (1: true) and lean of +Y towards +X, rad, as fit_square() finds them.
struct PlaneErrors {
  double scale_x = 1, scale_y = 1;  ///< 0.5 to 2
  double skew = 0;                  ///< within ±0.1
};

/// Where a command lands, and the command that lands at a place; both relative to the same origin, mm.
WorkPosition landed(const WorkPosition& commanded, const PlaneErrors& errors);
WorkPosition command_for(const WorkPosition& wanted, const PlaneErrors& errors);

struct CorrectedCopy {
  std::string text;           ///< G-code in the units and words of the program; comments kept
  Program program;            ///< the same, read back
  std::size_t arcs = 0;       ///< that were broken into chords
  double largest_change = 0;  ///< of a place, mm
};

/// Arcs turn into ellipses, so they are broken into chords that stay within `arc_tolerance` mm (> 0) of the arc.
/// Errors: those of the interpreter; `out_of_range` for errors or a tolerance that cannot be; `no_start` where it cuts
/// or moves by increments before X and Y were both given; `frames` where it uses more than one work frame.
Result<CorrectedCopy> corrected_copy(std::string_view text, const PlaneErrors& errors, double arc_tolerance);

/// The same with tables of positional errors taken out, of X and Y (none: that axis is left alone): whichever way it
/// comes, it arrives where the program means, by E↑ moving towards + and E↓ towards -; straight moves are broken at the
/// targets, and a place where an axis turns round is told anew. Targets are of the machine's frame: the copy holds for
/// this work zero alone. Beyond its targets a table goes on as at its end. Source: handbook of the trade, 25. Errors:
/// the same; `out_of_range` without a table, or for one that has fewer than two targets or a period too short for them.
Result<CorrectedCopy> tabled_copy(std::string_view text, const std::array<std::optional<ErrorTable>, 2>& tables,
                                  const WorkZero& zero, double arc_tolerance);

/// The same turned about work zero by `rotation` rad, counter-clockwise seen from +Z, within half a turn: for stock
/// that lies turned on the bed. Source: handbook of the trade, 10. The same errors.
Result<CorrectedCopy> turned_copy(std::string_view text, double rotation, double arc_tolerance);

}  // namespace ypsi
