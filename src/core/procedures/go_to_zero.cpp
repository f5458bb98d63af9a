#include "core/procedures/go_to_zero.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/procedures/readiness.h"

namespace ypsi {

namespace {

/// The lift, checked: nothing below the machine's limits or beyond, and never down on the way across.
Result<ZeroWay> plan_lift(const MachineLink& link, double safe_height, const MachinePosition& place,
                          const std::vector<Axis>& checked, const char* what) {
  const MachineStatus now = link.status();
  if (auto ok = ready_to_move(now, "it does not know where it is."); !ok) return tl::make_unexpected(ok.error());
  for (const Axis a : all_axes) {
    const auto limits = soft_limits(link, a);
    if (!limits) return tl::make_unexpected(limits.error());
    if (a == Axis::z) safe_height = std::clamp(safe_height, limits->low, limits->high);
    if (std::find(checked.begin(), checked.end(), a) != checked.end() && !limits->holds(place[a]))
      return fail("limit", fmt::format("{} of {} is outside the machine's limits; set it again.", letter(a), what));
  }
  ZeroWay way;
  way.safe_z = std::max(safe_height, now.position.z);
  way.blocks = {fmt::format("G90 G21 G0 Z{:.4f}", way.safe_z - now.work_zero.z)};
  return way;
}

}  // namespace

Result<ZeroWay> plan_way_to_zero(const MachineLink& link, double safe_height, double stand_off) {
  MachinePosition target = link.status().work_zero;
  target.z += stand_off;
  auto way = plan_lift(link, safe_height, target, {Axis::x, Axis::y, Axis::z}, "work zero");
  if (!way) return way;
  if (way->safe_z < target.z)
    return fail("limit", "The safe height is below work zero; raise the safe height on the sheet Build.");
  way->stand_off = stand_off;
  way->blocks.emplace_back("G0 X0 Y0");
  way->blocks.push_back(fmt::format("G0 Z{:.4f}", stand_off));
  return way;
}

Result<ZeroWay> plan_way_over(const MachineLink& link, double safe_height, const MachinePosition& place) {
  auto way = plan_lift(link, safe_height, place, {Axis::x, Axis::y}, "that place");
  if (!way) return way;
  const WorkPosition at = to_work(place, link.status().work_zero);
  way->blocks.push_back(fmt::format("G0 X{:.4f} Y{:.4f}", at.x, at.y));
  return way;
}

}  // namespace ypsi
