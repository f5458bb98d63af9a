#pragma once
// The travel of an axis from its switch to its far end, and proof that its soft limits hold. Whatever moves here moves
// slowly; a soft limit that is in the way is lifted for as long as that takes. Source: handbook of the trade, 8.
#include "core/procedures/machine_link.h"

namespace ypsi {

inline constexpr double creep_mm_min = 600;

/// The far soft limit of an axis, lifted as far as the travel may be, and put back.
class LiftedLimit {
 public:
  /// `travel` mm from the switch, > 0. Errors: those of a setting; `not_homed`, `busy`.
  Result<void> lift(MachineLink& link, Axis axis, double travel);
  /// Puts the limit back as it was found; no error where nothing is lifted.
  Result<void> put_back();
  bool lifted() const { return link_ != nullptr; }
  double farthest() const { return farthest_; }  ///< machine coordinate
  bool towards_plus() const { return towards_plus_; }

 private:
  MachineLink* link_ = nullptr;
  std::string name_;
  double found_ = 0, farthest_ = 0;
  bool towards_plus_ = true;
};

/// Creeps to the switch at the far end. The switch is first pressed by hand, so that a dead one is found before
/// anything moves; and the way ends where the travel that is believed ends, so that the stop is not met.
class FarSwitchSearch {
 public:
  enum class Stage { idle, press, let_go, creeping, backing_off, homing, done, failed };

  /// `travel`: from the home switch to the far stop as far as it is known, mm, > 0. Errors: `not_homed`, `busy`;
  /// `on_at_rest` for a far switch that is on; `unguarded` where the controller does not stop at its switches;
  /// `out_of_range`.
  Result<void> start(MachineLink& link, Axis axis, double travel);
  void tick();
  /// Gives up: slows down, and once it stands the limit is put back (stage `failed`).
  void cancel();
  Stage stage() const { return stage_; }
  bool running() const { return stage_ != Stage::idle && stage_ != Stage::done && stage_ != Stage::failed; }
  double far_end() const { return far_end_; }  ///< machine coordinate at which the switch came on, with `done`
  const Error& error() const { return error_; }

 private:
  void fail_with(Error error);
  MachineLink* link_ = nullptr;
  Axis axis_ = Axis::x;
  double travel_ = 0, far_end_ = 0;
  LiftedLimit limit_;
  Stage stage_ = Stage::idle;
  Error error_;
};

/// Asks for a move beyond each soft limit of a homed axis, which must be refused. Errors: `not_refused` naming the
/// limit, where the move began and was ended at once; `not_homed`, `busy`.
Result<void> prove_limits(MachineLink& link, Axis axis);

}  // namespace ypsi
