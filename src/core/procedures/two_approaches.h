#pragma once
// One place arrived at from both sides, with a stop at each arrival to read an indicator: what differs is lost motion.
// Source: handbook of the trade, 6.
#include "core/procedures/machine_link.h"

namespace ypsi {

inline constexpr double run_up_mm = 5;  ///< way of each arrival; more than any slack

class TwoApproaches {
 public:
  enum class Stage { idle, placing, arriving_plus, read_plus, overrunning, arriving_minus, read_minus, failed };

  /// `place` in the machine frame, mm; `rate` mm/min. Errors: `not_homed`, `busy`, `limit` where the run-up on one of
  /// the sides has no room within the soft limits.
  Result<void> start(MachineLink& link, Axis axis, double place, double rate);
  void tick();
  /// The indicator was read after arriving towards +; on to the other side. Precondition: stage() == read_plus.
  void go_on();
  void cancel() { stage_ = Stage::idle; }
  Stage stage() const { return stage_; }
  bool moving() const;
  double place() const { return place_; }
  const Error& error() const { return error_; }

 private:
  void go(double distance, Stage next);
  double expected() const;
  MachineLink* link_ = nullptr;
  Axis axis_ = Axis::x;
  double place_ = 0, rate_ = 0;
  Stage stage_ = Stage::idle;
  Error error_;
};

}  // namespace ypsi
