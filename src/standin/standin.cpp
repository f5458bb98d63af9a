#include "standin/standin.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace ypsi::standin {

StandIn::StandIn(Scenario scenario)
    : scenario_(std::make_unique<const Scenario>(std::move(scenario))),
      plant_(std::make_unique<Plant>(*scenario_)),
      controller_(std::make_unique<Controller>(*plant_, scenario_->controller)),
      person_(std::make_unique<Person>(*plant_, *controller_)) {}

void StandIn::advance(double seconds) {
  const double end = now_s() + seconds;
  const auto& faults = scenario_->faults;
  while (next_fault_ < faults.size() && faults[next_fault_].at_s <= end) {
    const Fault& fault = faults[next_fault_++];
    controller_->advance(std::max(0.0, fault.at_s - now_s()));
    break_down(fault);
  }
  controller_->advance(end - now_s());
}

void StandIn::break_down(const Fault& fault) {
  switch (fault.kind) {
    case FaultKind::switch_stuck:
      plant_->jam_switch(fault.axis);
      break;
    case FaultKind::probe_stuck:
      plant_->short_probe();
      break;
    case FaultKind::clip_off:
      plant_->set_clip(false);
      break;
    case FaultKind::lost_steps:
      plant_->lose_steps(fault.axis, std::llround(fault.steps));
      break;
    case FaultKind::estop:
      plant_->press_emergency_stop(true);
      break;
    case FaultKind::brownout:
      controller_->restart();
      break;
    default:
      wire_fault_ = fault.kind;
      break;
  }
}

std::string StandIn::settings() const {
  return nlohmann::json(controller_->settings()).dump(1) + "\n";
}

void StandIn::restore_settings(std::string_view text) {
  const auto in = nlohmann::json::parse(text, nullptr, false);
  if (!in.is_object()) return;
  for (const auto& [name, value] : in.items())
    if (value.is_number()) (void)controller_->set_setting(name, value.get<double>());
}

}  // namespace ypsi::standin
