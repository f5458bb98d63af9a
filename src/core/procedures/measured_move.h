#pragma once
// A move that will be measured: go where there is room, take up the slack, mark, move the told distance.
#include "core/procedures/bench.h"
#include "core/procedures/legs.h"
#include "core/procedures/procedure.h"

namespace ypsi {

class MeasuredMove : public Procedure {
 public:
  /// `distance` mm, signed, not 0. `bench` marks the start; null: it waits there for somebody to do so. Fast moves run
  /// at `rate`, the measured one at half of it. Errors: `not_homed`, `busy`, `limit` where the axis has no room for the
  /// distance and the take-up.
  Result<void> start(MachineLink& link, Bench* bench, Axis axis, double distance, double rate);
  /// The place is marked. Nothing where no mark is waited for.
  void go_on();
  Axis axis() const { return axis_; }
  double distance() const { return distance_; }
  /// What the controller has counted from the mark to where the move ended: whole steps. Precondition: phase() == done.
  double told() const { return ended_at_ - marked_at_; }

 private:
  void step(const MachineStatus& now) override;
  WaitsFor needs() const override { return at_mark_ ? WaitsFor::act : WaitsFor::machine; }
  Bench* bench_ = nullptr;
  Axis axis_ = Axis::x;
  double distance_ = 0, rate_ = 0, marked_at_ = 0, ended_at_ = 0;
  bool at_mark_ = false, measuring_ = false;
  Legs legs_;
};

/// Way made before the mark in the direction of the measured move, so that its slack is not in the reading, mm.
inline constexpr double take_up_mm = 3;

}  // namespace ypsi
