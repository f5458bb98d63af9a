#pragma once
// What follows from the settings of a controller that cannot be asked whether it would take something: its frames, and
// whether a move or a block stays inside its soft limits. Lengths mm, places in the machine frame unless said.
#include <map>
#include <string>
#include <vector>

#include "core/geometry.h"
#include "core/motion/planner.h"
#include "core/program/interpreter.h"
#include "core/result.h"

namespace ypsi::link {

using KnownSettings = std::map<std::string, double>;  ///< by the names of docs/link.md

/// A look at whether the controller's own limit holds asks for no more beyond it, mm.
inline constexpr double safely_beyond_mm = 2.5;

/// 0 where it is not known.
double known_value(const KnownSettings& settings, std::string_view name);
/// Work zeros and tool lengths among the settings, for an interpreter.
Frames frames_of(const KnownSettings& settings, std::vector<OwnBlock> own_blocks);
/// Rates and accelerations among the settings, for the planner; usual ones where they are not known.
Kinematics kinematics_of(const KnownSettings& settings);
/// How far a place lies beyond the soft limits of its axis; negative inside.
double beyond_limits(const KnownSettings& settings, Axis axis, double place);
/// A move of one axis before it starts. `most_beyond`: so far beyond a limit is let pass.
/// Errors: `limit`, `not_homed` where it is too long for a machine that does not know where its ends are.
Result<void> may_jog(const KnownSettings& settings, Axis axis, bool homed, double from, double distance,
                     double most_beyond);
/// What a block moves over, in the frame that `base` is the zero of. Error: `limit`, with the line.
Result<void> stays_inside(const KnownSettings& settings, const Program& moves, const WorkZero& base,
                          std::uint32_t line);
/// Whether a setting decides where places are: then its axis must be homed anew. None for all others.
std::optional<Axis> forgets_place_of(std::string_view name);

}  // namespace ypsi::link
