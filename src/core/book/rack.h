#pragma once
// A tool rack: slots in a straight row between two captured end places, and whether what hangs on the spindle passes.
// Lengths mm, places machine coordinates. Source: handbook of the trade, 17.
#include <string>
#include <vector>

#include "core/book/book.h"
#include "core/calibration/probing.h"

namespace ypsi {

/// Place of the nose over slot `n`, from 1 to `rack.slot_count`; the first place where there is one slot only.
Point2 slot_place(const ToolRack& rack, int n);
/// Between neighbouring slots; 0 for one slot.
double slot_pitch(const ToolRack& rack);

enum class RackProblem {
  heights,        ///< the clear height is not above the gripping height
  outside,        ///< a slot is outside the machine's limits, or one of its heights is
  pitch,          ///< nut or boot would meet the tool in the slot beside
  tool_too_wide,  ///< two tools in neighbouring slots would touch each other
  hangs_too_low,  ///< a tool in the spindle would meet the rack on its way over it
  slot_twice,     ///< two tools are in one slot
  no_such_slot
};
struct RackFinding {
  RackProblem problem{};
  int slot = 0;         ///< 0: the rack as a whole
  int tool = 0;         ///< 0: none
  double short_by = 0;  ///< mm that are missing; 0 where it is no matter of length
};

/// Machine Z of the nose were it to touch the bed, as work zero tells it; none where Z zero, the length of the tool
/// with which it was set, or the stock's thickness is not known.
std::optional<double> nose_at_bed(const Book& book);

/// What stands against using the rack; nothing where it has no slots. `low` and `high`: the machine's limits;
/// `bed_z`: machine Z at which the nose would touch the bed, none where it is not known (then hangs_too_low cannot be
/// told).
std::vector<RackFinding> check_rack(const ToolRack& rack, const std::vector<Tool>& tools, const Spindle& spindle,
                                    const MachinePosition& low, const MachinePosition& high,
                                    std::optional<double> bed_z);

}  // namespace ypsi
