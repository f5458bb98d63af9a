#pragma once
// The level from which trials say yes: the least pressure that cuts through, the least power that shows. Source:
// handbook of the trade, 21; Finney, Probit Analysis (maximum likelihood).
#include <optional>
#include <vector>

#include "core/result.h"

namespace ypsi {

struct LevelTrial {
  double level = 0;
  int yes = 0, no = 0;  ///< >= 0
};

enum class ThresholdMethod { none, probit, bracket };
enum class ThresholdVerdict {
  ok,
  open,  ///< an end of the bracket was not tried
  only_yes,
  only_no,
};

struct Threshold {
  ThresholdMethod method = ThresholdMethod::none;
  std::optional<double> threshold, U_threshold;  ///< the level at which half say yes
  std::optional<double> sigma;                   ///< of the probit
  std::optional<double> setting, U_setting;      ///< at which the wanted fraction says yes, with a probit
  std::optional<double> low, high;               ///< of the bracket
  struct Proven {
    double level = 0;
    double failures_below = 0;  ///< of all, at 95 %
  };
  std::vector<Proven> proven;  ///< levels that never said no, rising
  ThresholdVerdict verdict = ThresholdVerdict::ok;
};

/// 0 < `fraction` < 1. Error: `too_few` where nothing was tried.
Result<Threshold> find_threshold(std::vector<LevelTrial> trials, double fraction);

}  // namespace ypsi
