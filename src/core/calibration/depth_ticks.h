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
};

/// At least three grooves at two ticks, always turned one way. Errors: `too_few`; `degenerate` where the ticks are one,
/// or the depth does not change with them.
Result<DepthTicks> evaluate_ticks(const std::vector<Groove>& grooves, double wanted_depth);

}  // namespace ypsi
