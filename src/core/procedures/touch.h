#pragma once
// One surface touched with the probe: a fast search, back off, then as many slow touches as are wanted. Nothing is set
// by it; what was touched is told. Source: handbook of the trade, 10.
#include <string>
#include <vector>

#include "core/procedures/run_program.h"

namespace ypsi {

struct TouchWay {
  Axis axis = Axis::z;
  bool towards_plus = false;
  double search = 10;            ///< mm, > 0: where nothing is met on this way it stops
  double fast = 200, slow = 50;  ///< mm/min, > 0
  double back_off = 2;           ///< mm, > 0, between touches and at the end
  int touches = 1;               ///< slow ones, 1 to 50
};

class Touch {
 public:
  enum class Stage { idle, searching, backing_off, touching, leaving, done, failed };

  /// Errors: `out_of_range`; `not_homed`, `busy`; `spindle_on`; `touching` where the probe's input is on already;
  /// `limit` where the way of the search leaves the soft limits.
  Result<void> start(MachineLink& link, const TouchWay& way);
  void tick();
  /// Slows down and stands; stage `failed` once it does.
  void cancel();
  Stage stage() const { return stage_; }
  bool running() const { return stage_ != Stage::idle && stage_ != Stage::done && stage_ != Stage::failed; }
  /// Machine coordinates of the axis at the slow touches.
  const std::vector<double>& triggers() const { return triggers_; }
  double mean_trigger() const;  ///< Precondition: stage() == done
  /// `no_contact`, `probe_stuck`, `stopped` besides those of a move.
  const Error& error() const { return error_; }

 private:
  void search(double distance, double rate, Stage stage);
  void back_off(Stage stage);
  void fail_with(Error error);
  MachineLink* link_ = nullptr;
  TouchWay way_;
  ProgramRun run_;
  std::string block_;
  std::uint32_t probes_before_ = 0;
  double wanted_ = 0;
  std::vector<double> triggers_;
  Stage stage_ = Stage::idle;
  Error error_;
};

/// The circuit seen to work before anything moves: the owner touches plate and tool together, and lets go.
class CircuitCheck {
 public:
  enum class Stage { idle, touch, let_go, works };
  /// Errors: `touching` where the input is on at rest; `offline`.
  Result<void> start(const MachineLink& link);
  void tick(const MachineStatus& now);
  void forget() { stage_ = Stage::idle; }
  Stage stage() const { return stage_; }
  bool waiting() const { return stage_ == Stage::touch || stage_ == Stage::let_go; }

 private:
  Stage stage_ = Stage::idle;
};

/// The sentence for an input that is on when nothing should touch.
Error already_touching();

}  // namespace ypsi
