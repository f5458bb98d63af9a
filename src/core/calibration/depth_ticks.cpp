#include "core/calibration/depth_ticks.h"

#include <cmath>

#include "core/metrology/coverage.h"

namespace ypsi {

Result<DepthTicks> evaluate_ticks(const std::vector<Groove>& grooves, double wanted) {
  constexpr std::size_t fewest = 3;
  if (grooves.size() < fewest) return fail("too_few", "Three grooves at two ticks are the least.", "points");
  const auto n = static_cast<double>(grooves.size());
  double tick = 0, depth = 0, S_tt = 0, S_td = 0;
  for (const Groove& g : grooves) {
    tick += g.tick / n;
    depth += g.depth / n;
  }
  for (const Groove& g : grooves) {
    S_tt += (g.tick - tick) * (g.tick - tick);
    S_td += (g.tick - tick) * (g.depth - depth);
  }
  if (!(S_tt > 0)) return fail("degenerate", "All grooves were made at one tick; make some at another.", "points");
  DepthTicks out;
  out.mm_per_tick = S_td / S_tt;
  if (out.mm_per_tick == 0)
    return fail("degenerate", "The depth does not change with the ticks; does the dial move the nose?", "points");
  double squares = 0;
  for (const Groove& g : grooves) {
    const double left = g.depth - depth - out.mm_per_tick * (g.tick - tick);
    squares += left * left;
  }
  const int dof = static_cast<int>(grooves.size()) - 2;
  out.s = std::sqrt(squares / dof);
  const auto U_at = [&](double t) { return t95(dof) * out.s * std::sqrt(1 / n + (t - tick) * (t - tick) / S_tt); };
  out.zero_tick = tick - depth / out.mm_per_tick;
  out.U_zero_tick = U_at(out.zero_tick) / std::fabs(out.mm_per_tick);
  out.tick = tick + (wanted - depth) / out.mm_per_tick;
  out.U_depth = U_at(out.tick);
  return out;
}

}  // namespace ypsi
