#include "core/program/z_reference.h"

#include <algorithm>
#include <cmath>

#include "core/program/arc.h"

namespace ypsi {
namespace {
constexpr double mostly = 0.8, hardly_mm = 1e-6;
}

ZReference expected_z_reference(const Program& program, const TipDrop& drop, double thickness, double skin,
                                const std::vector<bool>& left_out) {
  const auto counts = [&](std::size_t i) {
    return is_cut(program.motions[i]) && !(i < left_out.size() && left_out[i]);
  };
  double highest = -1e300, deepest = 1e300;  // of every move; of the cuts
  bool across_at_all = false;
  const auto across = [&](std::size_t i) {
    const Motion& m = program.motions[i];
    const WorkPosition from = program.begin_of(i);
    const double dx = m.end.x - from.x, dy = m.end.y - from.y, way = std::sqrt(dx * dx + dy * dy);
    return is_arc(m) ? std::max(way, 1.0) : way;
  };
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const double z = program.motions[i].end.z - drop.of(program, i);
    highest = std::max(highest, z);
    if (!counts(i)) continue;
    deepest = std::min(deepest, z);
    across_at_all = across_at_all || across(i) > hardly_mm;
  }
  double all = 0, at_or_below_zero = 0, within_stock = 0;
  bool lifted = false;  // by feed, straight up: what follows at that height is no cut
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const Motion& m = program.motions[i];
    const double begins = program.begin_of(i).z, rise = m.end.z - begins;
    if (!counts(i) || rise < -hardly_mm) lifted = false;
    if (!counts(i)) continue;
    if (rise > hardly_mm && across(i) <= hardly_mm) lifted = true;
    if (lifted) continue;
    const double drops = drop.of(program, i);
    const double way = across_at_all ? across(i) : std::max(0.0, -rise);
    const double z = (across_at_all ? std::max(begins, m.end.z) : m.end.z) - drops;
    all += way;
    if (z <= hardly_mm) at_or_below_zero += way;
    if (z >= -skin - hardly_mm && z <= thickness + hardly_mm) within_stock += way;
  }
  if (all == 0) return ZReference::unclear;
  const bool top =
      at_or_below_zero >= mostly * all && deepest < -skin - hardly_mm && deepest >= -(thickness + skin) - hardly_mm;
  // From the bed it must lift above the stock somewhere.
  const bool bed = highest >= thickness - hardly_mm && within_stock >= mostly * all &&
                   at_or_below_zero < mostly * all && deepest >= -skin - hardly_mm;
  return top == bed ? ZReference::unclear : top ? ZReference::stock_top : ZReference::bed;
}

}  // namespace ypsi
