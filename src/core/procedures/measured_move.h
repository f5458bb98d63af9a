#pragma once
// A move that will be measured: go where there is room, take up the slack, mark, move the told distance.
#include "core/procedures/bench.h"
#include "core/procedures/machine_link.h"

namespace ypsi {

enum class MeasuredMoveState { idle, running, done, failed };

class MeasuredMove {
 public:
  /// `distance` mm, signed, not 0. `bench` marks the start. Fast moves run at `rate`, the measured one at half of it.
  /// Errors: `not_homed`, `busy`, `limit` where the axis has no room for the distance and the take-up.
  Result<void> start(MachineLink& link, Bench& bench, Axis axis, double distance, double rate);
  void tick();
  void cancel() { state_ = MeasuredMoveState::idle; }
  MeasuredMoveState state() const { return state_; }
  const Error& error() const { return error_; }
  Axis axis() const { return axis_; }
  double distance() const { return distance_; }
  /// What the controller has counted from the mark to where the move ended: whole steps. Precondition: state() == done.
  double told() const { return ended_at_ - marked_at_; }

 private:
  enum class Stage { place, take_up, measure };
  void next();
  void go(double distance, double rate);
  MachineLink* link_ = nullptr;
  Bench* bench_ = nullptr;
  Axis axis_ = Axis::x;
  double distance_ = 0, start_at_ = 0, rate_ = 0, marked_at_ = 0, ended_at_ = 0;
  Stage stage_ = Stage::place;
  MeasuredMoveState state_ = MeasuredMoveState::idle;
  Error error_;
};

/// Way made before the mark in the direction of the measured move, so that its slack is not in the reading, mm.
inline constexpr double take_up_mm = 3;

}  // namespace ypsi
