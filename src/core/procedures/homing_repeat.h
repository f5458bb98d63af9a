#pragma once
// How well homing finds the same place again: the machine homes several times, and each time the place is read from
// where the switches were met, or from an indicator that the axis is brought to by the same short approach. Source:
// handbook of the trade, 9.
#include <vector>

#include "core/procedures/machine_link.h"

namespace ypsi {

struct HomingRepeatWay {
  int trials = 10;                     ///< 5 to 100
  std::optional<Axis> indicator_axis;  ///< none: by the switches themselves, all axes at once
  double indicator_at = 0;             ///< machine coordinate of that axis
  double rate = 1000;                  ///< of the way to the indicator, mm/min; the last of it at a quarter
};

class HomingRepeat {
 public:
  enum class Stage { idle, homing, approaching, read, done, failed };

  /// Errors: `out_of_range` for the number of trials; `not_homed`, `busy`; `limit` where the indicator's place, or the
  /// approach to it, is outside the soft limits.
  Result<void> start(MachineLink& link, const HomingRepeatWay& way);
  void tick();
  /// The indicator was read; on to the next. Precondition: stage() == read.
  void go_on();
  void cancel();
  Stage stage() const { return stage_; }
  bool running() const { return stage_ == Stage::homing || stage_ == Stage::approaching || stage_ == Stage::read; }
  int trial() const { return trial_; }  ///< from 1
  /// Where the switches were met, by trial, against the first: mm in the machine frame as it was then.
  const std::vector<MachinePosition>& met() const { return met_; }
  const Error& error() const { return error_; }

 private:
  void home_again();
  void approach();
  void fail_with(Error error);
  MachineLink* link_ = nullptr;
  HomingRepeatWay way_;
  Stage stage_ = Stage::idle;
  int trial_ = 0;
  std::uint32_t homings_before_ = 0;
  std::vector<double> legs_;  ///< places of the indicator's axis still to go to, the last first
  double wanted_ = 0;
  std::vector<MachinePosition> met_;
  Error error_;
};

}  // namespace ypsi
