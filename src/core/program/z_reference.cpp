#include "core/program/z_reference.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {
constexpr double mostly = 0.8, rounding_mm = 1e-6;
}

ZReference expected_z_reference(const Program& program, double thickness, double skin) {
  double all = 0, at_or_below_zero = 0, within_stock = 0;
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const Motion& m = program.motions[i];
    if (!is_cut(m)) continue;
    const WorkPosition from = program.begin_of(i);
    const double way =
        std::max(std::hypot(m.end.x - from.x, m.end.y - from.y, m.end.z - from.z), is_arc(m) ? 1.0 : 0.0);
    all += way;
    if (m.end.z <= rounding_mm) at_or_below_zero += way;
    if (m.end.z >= -skin - rounding_mm && m.end.z <= thickness + rounding_mm) within_stock += way;
  }
  if (all == 0) return ZReference::unclear;
  const double deepest = program.cut.low.z;
  const bool top =
      at_or_below_zero >= mostly * all && deepest < -skin - rounding_mm && deepest >= -(thickness + skin) - rounding_mm;
  const bool bed = within_stock >= mostly * all && at_or_below_zero < mostly * all && deepest >= -skin - rounding_mm;
  return top == bed ? ZReference::unclear : top ? ZReference::stock_top : ZReference::bed;
}

}  // namespace ypsi
