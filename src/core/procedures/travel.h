#pragma once
// The travel of an axis from its switch to its far end, and proof that its soft limits hold. Whatever moves here moves
// slowly; a soft limit that is in the way is lifted for as long as that takes. Source: handbook of the trade, 8.
#include "core/procedures/legs.h"
#include "core/procedures/procedure.h"

namespace ypsi {

inline constexpr double creep_mm_min = 600;

/// The far end of an axis as its travel is believed, and the soft limit that is in the way of it.
struct FarEnd {
  std::string limit;  ///< the setting
  double place = 0;   ///< machine coordinate
  bool in_the_way = false;
  bool towards_plus = true;
};
/// `travel` mm from the switch, > 0. Errors: `out_of_range`; those of a setting.
Result<FarEnd> far_end(const MachineLink& link, Axis axis, double travel);

/// The far soft limit of an axis, lifted as far as the travel may be, while somebody brings the axis to its end by eye.
/// Ends by cancel(), which puts the limit back.
class LiftedLimit : public Procedure {
 public:
  /// `travel` mm from the switch, > 0. Errors: those of a setting; `not_homed`, `busy`.
  Result<void> start(MachineLink& link, Axis axis, double travel);
  double farthest() const { return farthest_; }  ///< machine coordinate

 private:
  void step(const MachineStatus&) override {}
  WaitsFor needs() const override { return WaitsFor::act; }
  double farthest_ = 0;
};

/// Creeps to the switch at the far end. The switch is first pressed by hand, so that a dead one is found before
/// anything moves; and the way ends where the travel that is believed ends, so that the stop is not met.
class FarSwitchSearch : public Procedure {
 public:
  enum class Stage { none, press, let_go, creeping, backing_off, homing };

  /// `travel`: from the home switch to the far stop as far as it is known, mm, > 0. Errors: `not_homed`, `busy`;
  /// `on_at_rest` for a far switch that is on; `unguarded` where the controller does not stop at its switches;
  /// `out_of_range`.
  Result<void> start(MachineLink& link, Axis axis, double travel);
  Stage stage() const { return running() ? stage_ : Stage::none; }
  double far_end() const { return far_end_; }  ///< machine coordinate at which the switch came on, with `done`

 private:
  void step(const MachineStatus& now) override;
  WaitsFor needs() const override {
    return stage_ == Stage::press || stage_ == Stage::let_go ? WaitsFor::act : WaitsFor::machine;
  }
  Result<void> creep(const MachineStatus& now);
  void crept(const MachineStatus& now);
  Axis axis_ = Axis::x;
  double travel_ = 0, far_end_ = 0;
  FarEnd end_;
  Stage stage_ = Stage::none;
};

/// Asks for a move beyond each soft limit of a homed axis, which must be refused; the limits are lent for it. Ends as
/// failed with `not_refused` naming the limit, where the move began and was ended at once.
class LimitProof : public Procedure {
 public:
  /// Machine coordinates, mm. Errors: those of a setting; `not_homed`, `busy`.
  Result<void> start(MachineLink& link, Axis axis, double low, double high);

 private:
  void step(const MachineStatus& now) override;
  void ask(const MachineStatus& now);
  void took(const Result<void>& move);
  Axis axis_ = Axis::x;
  std::array<double, 2> limits_{};
  std::size_t at_ = 0;
  bool asked_ = false;
};

}  // namespace ypsi
