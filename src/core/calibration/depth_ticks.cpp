#include "core/calibration/depth_ticks.h"

#include <cmath>

#include "core/metrology/straight_line.h"

namespace ypsi {

Result<DepthTicks> evaluate_ticks(const std::vector<Groove>& grooves, double wanted) {
  constexpr std::size_t fewest = 3;
  if (grooves.size() < fewest) return fail("too_few", "Three grooves at two ticks are the least.", "points");
  std::vector<double> ticks, depths;
  for (const Groove& g : grooves) {
    ticks.push_back(g.tick);
    depths.push_back(g.depth);
  }
  const auto line = fit_line(ticks, depths);
  if (!line) return fail("degenerate", "All grooves were made at one tick; make some at another.", "points");
  if (line->slope == 0)
    return fail("degenerate", "The depth does not change with the ticks; does the dial move the nose?", "points");
  DepthTicks out;
  out.mm_per_tick = line->slope;
  out.s = line->s;
  out.zero_tick = line->x_mean - line->y_mean / line->slope;
  out.U_zero_tick = line->U_at(out.zero_tick) / std::fabs(line->slope);
  out.tick = line->x_mean + (wanted - line->y_mean) / line->slope;
  out.U_depth = line->U_at(out.tick);
  return out;
}

}  // namespace ypsi
