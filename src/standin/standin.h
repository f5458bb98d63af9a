#pragma once
// The stand-in machine: controller, mechanics, a bed, a stock and a person with instruments. The program sees it only
// through MachineLink and Bench, as it would see a real machine and hear from its owner.
#include <map>
#include <memory>

#include "standin/controller.h"

namespace ypsi::standin {

class StandIn final : public Bench {
 public:
  explicit StandIn(Scenario scenario);

  MachineLink& link() { return *controller_; }
  /// Seconds of the machine's time; speed is how often and how much it is called.
  void advance(double seconds) { controller_->advance(seconds); }
  double now_s() const { return controller_->now_s(); }

  void mark(Axis axis) override;
  Result<double> read_distance(Axis axis, std::string_view instrument) override;
  double gap_seen() const override;
  std::optional<Outline> stock_seen() const override;

  /// The controller's own memory of its settings, which outlives a power-down. JSON.
  std::string settings() const;
  /// Settings that are unknown or unusable are left as they are.
  void restore_settings(std::string_view json);

  /// The truth, for tests alone: physical place of a carriage.
  double true_place(Axis axis) const { return controller_->mechanics()[index(axis)].place(); }
  const Scenario& scenario() const { return scenario_; }

 private:
  struct CalibrationError {
    double fixed = 0, relative = 0;
  };
  Scenario scenario_;
  std::unique_ptr<Controller> controller_;
  std::array<std::optional<double>, axis_count> marks_;
  std::map<std::string, CalibrationError, std::less<>> calibration_;
  std::mt19937_64 random_;
};

}  // namespace ypsi::standin
