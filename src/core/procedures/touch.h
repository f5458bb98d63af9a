#pragma once
// One surface touched with the probe: a fast search, back off, then as many slow touches as are wanted. Nothing is set
// by it; what was touched is told. Source: handbook of the trade, 10.
#include <string>
#include <vector>

#include "core/procedures/legs.h"
#include "core/procedures/procedure.h"
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

class Touch : public Procedure {
 public:
  /// Errors: `out_of_range`; `not_homed`, `busy`; `spindle_on`; `touching` where the probe's input is on already;
  /// `limit` where the way of the search leaves the soft limits. Later also `no_contact`, `probe_stuck`, `stopped`.
  Result<void> start(MachineLink& link, const TouchWay& way);
  /// Machine coordinates of the axis at the slow touches.
  const std::vector<double>& triggers() const { return triggers_; }
  double mean_trigger() const;  ///< Precondition: phase() == done

 private:
  enum class Stage { searching, backing_off, touching };
  void step(const MachineStatus& now) override;
  void searched(const MachineStatus& now);
  void search(double distance, double rate, Stage stage);
  TouchWay way_;
  ProgramRun run_;
  std::string block_;
  std::uint32_t probes_before_ = 0;
  Legs back_;
  std::vector<double> triggers_;
  Stage stage_ = Stage::searching;
};

}  // namespace ypsi
