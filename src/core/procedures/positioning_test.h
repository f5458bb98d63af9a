#pragma once
// The positioning test: every target reached from below and from above, run after run, with a stop at each for a
// reading. Source: ISO 230-2:2014, 5.3.
#include <string>
#include <vector>

#include "core/calibration/positioning.h"
#include "core/procedures/legs.h"
#include "core/procedures/procedure.h"

namespace ypsi {

/// Way beyond the outer targets before turning round; more than any slack.
inline constexpr double overrun_mm = 5;

class PositioningTest : public Procedure {
 public:
  /// `targets` in the machine frame, mm, rising, two at least; `runs` >= 2 in each direction; `rate` mm/min.
  /// Errors: `too_few`; `not_homed`; `busy`; `limit` where the overrun has no room within the soft limits.
  Result<void> start(MachineLink& link, Axis axis, std::vector<double> targets, int runs, double rate);
  /// The deviation (actual - target) at the target where it stands, mm; on to the next. Nothing where no reading is
  /// waited for.
  void read(double deviation);

  Axis axis() const { return axis_; }
  double target() const { return targets_[at_]; }
  bool plus() const { return leg_ % 2 == 0; }
  int run() const { return leg_ / 2 + 1; }  ///< from 1
  int run_count() const { return runs_; }
  std::size_t done() const;
  std::size_t total() const { return targets_.size() * 2 * static_cast<std::size_t>(runs_); }
  const std::vector<double>& targets() const { return targets_; }
  /// What was read so far, one per leg; the last may be short of targets.
  const std::vector<PositioningRun>& readings() const { return readings_; }

 private:
  void step(const MachineStatus& now) override;
  WaitsFor needs() const override { return reading_ ? WaitsFor::reading : WaitsFor::machine; }
  void go_to_target();
  void turn_round();
  Axis axis_ = Axis::x;
  std::vector<double> targets_;
  int runs_ = 0, leg_ = 0;
  double rate_ = 0;
  std::size_t at_ = 0;
  bool reading_ = false;
  Legs legs_;
  std::vector<PositioningRun> readings_;
};

/// The same way as G-code (ISO 6983-1), for any controller: distances from the first target, which is where the axis
/// stands at the start, and a dwell at each target. `rate` mm/min, `dwell_s` >= 0.
std::string positioning_program(Axis axis, const std::vector<double>& targets, int runs, double rate, double dwell_s);

}  // namespace ypsi
