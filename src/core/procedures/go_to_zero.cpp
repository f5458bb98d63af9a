#include "core/procedures/go_to_zero.h"

#include <fmt/format.h>

#include <algorithm>

namespace ypsi {

Result<ZeroWay> plan_way_to_zero(const MachineLink& link, double safe_height, double stand_off) {
  const MachineStatus now = link.status();
  if (!now.all_homed()) return fail("not_homed", "The machine does not know where it is; home it first.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  ZeroWay way;
  way.stand_off = stand_off;
  for (const Axis a : all_axes) {
    const auto low = link.setting(axis_setting(a, "soft_min_mm")), high = link.setting(axis_setting(a, "soft_max_mm"));
    if (!low || !high) return tl::make_unexpected(low ? high.error() : low.error());
    if (a == Axis::z) safe_height = std::clamp(safe_height, *low, *high);
    const double target = now.work_zero[a] + (a == Axis::z ? stand_off : 0);
    if (target < *low || target > *high)
      return fail("limit",
                  fmt::format("{} of work zero is outside the machine's limits; set work zero again.", letter(a)));
  }
  // Never down on the way across: a tool that already stands higher stays there.
  way.safe_z = std::max(safe_height, now.position.z);
  if (way.safe_z < now.work_zero.z + stand_off)
    return fail("limit", "The safe height is below work zero; raise the safe height on the sheet Build.");
  way.blocks = {fmt::format("G90 G21 G0 Z{:.4f}", way.safe_z - now.work_zero.z), "G0 X0 Y0",
                fmt::format("G0 Z{:.4f}", stand_off)};
  return way;
}

}  // namespace ypsi
