#pragma once
// How well homing finds the same place again: the machine homes several times, and each time the place is read from
// where the switches were met, or from an indicator that the axis is brought to by the same short approach. Source:
// handbook of the trade, 9.
#include <vector>

#include "core/procedures/legs.h"
#include "core/procedures/procedure.h"

namespace ypsi {

struct HomingRepeatWay {
  int trials = 10;                     ///< 5 to 100
  std::optional<Axis> indicator_axis;  ///< none: by the switches themselves, all axes at once
  double indicator_at = 0;             ///< machine coordinate of that axis
  double rate = 1000;                  ///< of the way to the indicator, mm/min; the last of it at a quarter
};

class HomingRepeat : public Procedure {
 public:
  /// Errors: `out_of_range` for the number of trials; `not_homed`, `busy`; `limit` where the indicator's place, or the
  /// approach to it, is outside the soft limits.
  Result<void> start(MachineLink& link, const HomingRepeatWay& way);
  /// The indicator was read; on to the next. Nothing where no reading is waited for.
  void go_on();
  int trial() const { return trial_; }  ///< from 1
  /// Where the switches were met, by trial, against the first: mm in the machine frame as it was then.
  const std::vector<MachinePosition>& met() const { return met_; }

 private:
  enum class Stage { homing, approaching, read };
  void step(const MachineStatus& now) override;
  WaitsFor needs() const override { return stage_ == Stage::read ? WaitsFor::reading : WaitsFor::machine; }
  Result<void> home_again();
  void homed(const MachineStatus& now);
  void next_trial();
  HomingRepeatWay way_;
  Stage stage_ = Stage::homing;
  int trial_ = 0;
  std::uint32_t homings_before_ = 0;
  double before_indicator_ = 0;  ///< where the approach to it begins
  Legs legs_;
  std::vector<MachinePosition> met_;
};

}  // namespace ypsi
