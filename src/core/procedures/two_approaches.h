#pragma once
// One place arrived at from both sides, with a stop at each arrival to read an indicator: what differs is lost motion.
// Source: handbook of the trade, 6.
#include "core/procedures/legs.h"
#include "core/procedures/procedure.h"

namespace ypsi {

inline constexpr double run_up_mm = 5;  ///< way of each arrival; more than any slack

class TwoApproaches : public Procedure {
 public:
  enum class Stage { none, arriving_plus, read_plus, arriving_minus, read_minus };

  /// `place` in the machine frame, mm; `rate` mm/min. Errors: `not_homed`, `busy`, `limit` where the run-up on one of
  /// the sides has no room within the soft limits.
  Result<void> start(MachineLink& link, Axis axis, double place, double rate);
  /// The indicator was read; on to the other side, or to the end. Nothing where no reading is waited for.
  void go_on();
  Stage stage() const { return running() ? stage_ : Stage::none; }
  double place() const { return place_; }

 private:
  void step(const MachineStatus& now) override;
  WaitsFor needs() const override {
    return stage_ == Stage::read_plus || stage_ == Stage::read_minus ? WaitsFor::reading : WaitsFor::machine;
  }
  /// The way of an arrival, from below or from above.
  std::vector<Leg> way(bool plus) const;
  Axis axis_ = Axis::x;
  double place_ = 0, rate_ = 0;
  Stage stage_ = Stage::none;
  Legs legs_;
};

}  // namespace ypsi
