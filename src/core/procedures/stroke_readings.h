#pragma once
// Places close together, each arrived at from below, with a stop at each to read an indicator: what a screw repeats
// with every turn. Where the indicator's way is shorter than all of it, it goes in overlapping strokes, the indicator
// set anew at the start of each. Source: handbook of the trade, 6.
#include <vector>

#include "core/procedures/legs.h"
#include "core/procedures/procedure.h"

namespace ypsi {

struct StrokeStop {
  double place = 0;  ///< machine frame, mm
  int stroke = 0;
};

inline constexpr double turns_read = 2.2;

/// Places over `turns` of `turn` mm from `from` on, unevenly spaced, about `per_turn` a turn and at least 8 a stroke,
/// in strokes of `reach` mm at most that overlap by a quarter. All above zero.
std::vector<StrokeStop> stroke_stops(double from, double turn, double reach, double turns = turns_read,
                                     int per_turn = 12);

class StrokeReadings : public Procedure {
 public:
  /// Errors: `too_few` for no stop; `not_homed`, `busy`; `limit` where they, or the run-up before a stroke, lie beyond
  /// the soft limits. `rate` mm/min.
  Result<void> start(MachineLink& link, Axis axis, std::vector<StrokeStop> stops, double rate);
  /// The indicator was read; on to the next place, or to the end. Nothing where no reading is waited for.
  void go_on();
  Axis axis() const { return axis_; }
  std::size_t done() const { return at_; }
  std::size_t total() const { return stops_.size(); }
  StrokeStop stop() const { return stops_[at_]; }  ///< where it stands or goes
  /// The indicator has to be set anew before it is read here.
  bool begins_a_stroke() const { return at_ == 0 || stops_[at_].stroke != stops_[at_ - 1].stroke; }

 private:
  void step(const MachineStatus& now) override;
  WaitsFor needs() const override { return reading_ ? WaitsFor::reading : WaitsFor::machine; }
  std::vector<Leg> way() const;
  Axis axis_ = Axis::x;
  double rate_ = 0;
  std::vector<StrokeStop> stops_;
  std::size_t at_ = 0;
  bool reading_ = false;
  Legs legs_;
};

}  // namespace ypsi
