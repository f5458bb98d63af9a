#include "link/lines/can_do.h"

#include <algorithm>

namespace ypsi::link {

std::vector<std::pair<CanDo, bool>> what_it_can_do(const ControllerDescription& d) {
  const bool sets_steps = std::all_of(all_axes.begin(), all_axes.end(), [&](Axis axis) {
    const auto found = d.settings.find(axis_setting(axis, "steps_per_mm"));
    return found != d.settings.end() && !found->second.set.empty();
  });
  return {{CanDo::stops_by_line, d.acts.stop.said()},
          {CanDo::holds_on_path, d.acts.hold.said() && d.trust.keeps_place_on_hold},
          {CanDo::has_limits, d.trust.has_limits},
          {CanDo::tells_place, d.reports()},
          {CanDo::ends_jogs, d.acts.end_jog.said()},
          {CanDo::keeps_place, d.acts.stop.said() && d.trust.keeps_place_on_stop},
          {CanDo::homes_by_line, d.acts.home.said()},
          {CanDo::probes, !d.probe.block.empty()},
          {CanDo::takes_settings, sets_steps},
          {CanDo::resumes_after_loss, d.reports() && d.acts.abandon.said()}};
}

}  // namespace ypsi::link
