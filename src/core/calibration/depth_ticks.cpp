#include "core/calibration/depth_ticks.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/coverage.h"
#include "core/metrology/straight_line.h"

namespace ypsi {

Result<DepthTicks> evaluate_ticks(const std::vector<Groove>& grooves, double wanted, double claim) {
  constexpr std::size_t fewest = 3;
  if (grooves.size() < fewest) return fail("too_few", "Three grooves at two ticks are the least.", "points");
  std::vector<double> ticks, depths;
  for (const Groove& g : grooves) {
    ticks.push_back(g.tick);
    depths.push_back(g.depth);
  }
  auto line = fit_line(ticks, depths);
  if (!line) return fail("degenerate", "All grooves were made at one tick; make some at another.", "points");
  if (line->slope == 0)
    return fail("degenerate", "The depth does not change with the ticks; does the dial move the nose?", "points");
  line->s = std::max(line->s, claim);
  DepthTicks out;
  out.mm_per_tick = line->slope;
  out.s = line->s;
  out.zero_tick = line->x_mean - line->y_mean / line->slope;
  out.U_zero_tick = line->U_at(out.zero_tick) / std::fabs(line->slope);
  out.tick = line->x_mean + (wanted - line->y_mean) / line->slope;
  out.U_depth = line->U_at(out.tick);
  out.dof = static_cast<int>(line->count) - 2;
  out.u_next = line->u_next(out.tick);
  out.U_next = t95(out.dof) * out.u_next;
  return out;
}

}  // namespace ypsi
