#include "core/procedures/readiness.h"

#include <fmt/format.h>

#include <cmath>

namespace ypsi {

Result<void> ready_to_move(const MachineStatus& now, std::string_view since, std::optional<Axis> axis) {
  if (now.state == MachineState::offline) return fail("offline", "Connect to the machine first.");
  if (axis ? !now.homed[index(*axis)] : !now.all_homed())
    return fail("not_homed", fmt::format("Home the machine first: {}", since));
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  return {};
}

Result<SoftLimits> soft_limits(const MachineLink& link, Axis axis) {
  const auto low = link.setting(axis_setting(axis, "soft_min_mm")),
             high = link.setting(axis_setting(axis, "soft_max_mm"));
  if (!low || !high) return tl::make_unexpected(low ? high.error() : low.error());
  return SoftLimits{*low, *high};
}

Result<void> inside_travel(const MachineLink& link, Axis axis, double place, std::string_view what,
                           std::string_view mend) {
  const auto limits = soft_limits(link, axis);
  if (!limits) return tl::make_unexpected(limits.error());
  if (std::isfinite(place) && limits->holds(place)) return {};
  return fail("limit", fmt::format("{} needs {} at {:.1f}, beyond its soft limits {:.1f} and {:.1f}. Nothing moved; {}",
                                   what, letter(axis), place, limits->low, limits->high, mend));
}

Error already_touching() {
  return {
      "touching",
      "The probe's input is on though nothing should touch yet: plate and tool touch, the clip lies on the plate, or "
      "the wire is shorted. Nothing moved; see to it first.",
      ""};
}

}  // namespace ypsi
