#pragma once
// The stand-in machine: plant, controller, the person at it, and what breaks when. A program sees it only through
// MachineLink and Bench, as it would see a real machine and hear from its owner.
#include <memory>

#include "standin/controller.h"
#include "standin/person.h"

namespace ypsi::standin {

class StandIn final {
 public:
  explicit StandIn(Scenario scenario);

  Controller& controller() { return *controller_; }
  MachineLink& link() { return *controller_; }
  Person& bench() { return *person_; }
  /// Seconds of the machine's time; speed is how often and how much it is called. Faults come at their times.
  void advance(double seconds);
  double now_s() const { return controller_->now_s(); }
  /// A fault comes now.
  void break_down(const Fault& fault);
  /// A fault of the wire or of a face, which are not in here, that has come since the last call.
  std::optional<FaultKind> take_wire_fault() { return std::exchange(wire_fault_, std::nullopt); }

  /// The controller's own memory of its settings, which outlives a power-down. JSON.
  std::string settings() const;
  /// Settings that are unknown or unusable are left as they are.
  void restore_settings(std::string_view json);

  // The truth, for tests alone.
  Plant& plant() { return *plant_; }
  const Plant& plant() const { return *plant_; }
  double true_place(Axis axis) const { return plant_->place(axis); }
  const Scenario& scenario() const { return *scenario_; }

 private:
  std::unique_ptr<const Scenario> scenario_;  // the parts point into it
  std::unique_ptr<Plant> plant_;
  std::unique_ptr<Controller> controller_;
  std::unique_ptr<Person> person_;
  std::size_t next_fault_ = 0;
  std::optional<FaultKind> wire_fault_;
};

}  // namespace ypsi::standin
