#pragma once
// What every procedure asks before it moves: is the machine ready, and does the way stay inside the travel.
#include <string>
#include <string_view>

#include "core/procedures/machine_link.h"

namespace ypsi {

/// Standing ready, with `axis` homed (all of them: none given). Errors: `not_homed`, whose sentence ends with `since`
/// ("places on the travel mean nothing before."); `busy`.
Result<void> ready_to_move(const MachineStatus& now, std::string_view since, std::optional<Axis> axis = {});

/// Where an axis may go by the controller's soft limits, machine coordinates, mm.
struct SoftLimits {
  double low = 0, high = 0;
  double room() const { return high - low; }
  bool holds(double place) const { return place >= low && place <= high; }
};
/// Errors: those of a setting.
Result<SoftLimits> soft_limits(const MachineLink& link, Axis axis);

/// Whether an axis may go to `place`. Error `limit`: "`what` needs X at 812.0, beyond the limits 0.0 and 800.0.
/// `mend`"; those of a setting.
Result<void> inside_travel(const MachineLink& link, Axis axis, double place, std::string_view what,
                           std::string_view mend);

/// The sentence for an input that is on when nothing should touch.
Error already_touching();

}  // namespace ypsi
