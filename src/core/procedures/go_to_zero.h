#pragma once
// Lift, then go to zero: Z up to the safe height, X and Y across, then down to a stand-off above work zero.
#include <vector>

#include "core/procedures/machine_link.h"

namespace ypsi {

/// What will happen, said before it does.
struct ZeroWay {
  std::vector<std::string> blocks;  ///< G-code in the work frame, in order
  double safe_z = 0;                ///< machine Z of the way across
  double stand_off = 0;             ///< mm above work zero at the end
};

/// `safe_height`: machine Z to lift to; `stand_off` > 0 mm above work zero.
/// Errors: `not_homed`; `busy`; `limit` where work zero is outside the machine's limits or above the safe height.
Result<ZeroWay> plan_way_to_zero(const MachineLink& link, double safe_height, double stand_off);

/// Lift, then over a place of the machine (its X and Y), and no lower. Errors: as above.
Result<ZeroWay> plan_way_over(const MachineLink& link, double safe_height, const MachinePosition& place);

}  // namespace ypsi
