#pragma once
// Depth against the ticks of a nose's dial. Source: handbook of the trade, 23.
#include <vector>

#include "core/result.h"

namespace ypsi {

struct Groove {
  double tick = 0;
  double depth = 0;  ///< mm, >= 0
};

struct DepthTicks {
  double mm_per_tick = 0, s = 0;
  double zero_tick = 0, U_zero_tick = 0;  ///< where the tool just touches
  double tick = 0;                        ///< to be set for the wanted depth
  double U_depth = 0;                     ///< of the mean of many grooves at that tick, mm
  double u_next = 0, U_next = 0;          ///< of the next groove alone, and so of a margin: standard, and about 95 %
  int dof = 1;
};

/// At least three grooves at two ticks, always turned one way. `claim`, mm, >= 0: standard uncertainty of one depth by
/// its instrument; grooves never scatter less. Errors: `too_few`; `degenerate` where the ticks are one, or the depth
/// does not change with them.
/// Example: 0.1, 0.2 and 0.3 mm deep at ticks 4, 8 and 12 are 0.025 mm a tick, and tick 10 is 0.25 mm.
Result<DepthTicks> evaluate_ticks(const std::vector<Groove>& grooves, double wanted_depth, double claim = 0);

}  // namespace ypsi
