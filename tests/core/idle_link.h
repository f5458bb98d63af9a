#pragma once
// A controller that stands, takes everything and does nothing; a test makes of it what it needs.
#include "core/procedures/machine_link.h"

namespace ypsi {

class IdleLink : public MachineLink {
 public:
  MachineStatus now;
  IdleLink() {
    now.state = MachineState::ready;
    now.homed = {true, true, true};
  }
  MachineStatus status() const override { return now; }
  Result<double> setting(std::string_view) const override {
    return fail("unknown_setting", "There is no such setting.");
  }
  Result<void> set_setting(std::string_view, double) override { return {}; }
  Result<void> home() override { return {}; }
  Result<void> jog(Axis, double, double) override { return {}; }
  void end_jog() override {}
  Result<void> begin_program() override { return {}; }
  Result<void> send(std::string_view, std::uint32_t) override { return {}; }
  void end_program() override {}
  void stop() override {}
  void hold() override {}
  void go_on() override {}
  void abandon() override {}
  void tool_changed(int) override {}
  void set_feed_override(double) override {}
};

}  // namespace ypsi
