#pragma once
// Positioning test: accuracy and repeatability of one linear axis. Source: ISO 230-2:2014, clause 3.
#include <vector>

#include "core/result.h"

namespace ypsi {

struct PositioningRun {
  bool plus = true;                ///< approached moving towards +
  std::vector<double> deviations;  ///< actual - target, mm, one per target
};

struct PositioningResult {
  double reversal = 0;                                                        ///< B, 3.10: largest |B_i|
  double mean_reversal = 0;                                                   ///< mean of B_i, signed
  double repeatability_plus = 0, repeatability_minus = 0, repeatability = 0;  ///< R+, R-, R, 3.15 to 3.17
  double systematic = 0;                                                      ///< E, 3.19
  double mean_deviation_range = 0;                                            ///< M, 3.20
  double accuracy_plus = 0, accuracy_minus = 0, accuracy = 0;                 ///< A+, A-, A, 3.21, 3.22
  struct Target {
    double mean_plus = 0, s_plus = 0, mean_minus = 0, s_minus = 0;
  };
  std::vector<Target> targets;  ///< for the deviation graph
};

/// At least 2 targets and 2 runs each way. Errors: `too_few`, `out_of_range` where a run has not one deviation per
/// target.
Result<PositioningResult> evaluate_positioning(const std::vector<double>& targets,
                                               const std::vector<PositioningRun>& runs);

}  // namespace ypsi
