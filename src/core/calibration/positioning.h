#pragma once
// Positioning test: accuracy and repeatability of one linear axis. Source: ISO 230-2:2014, clause 3.
#include <vector>

#include "core/geometry.h"
#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi {

struct PositioningRun {
  bool plus = true;                ///< approached moving towards +
  std::vector<double> deviations;  ///< actual - target, mm, one per target
};

/// What a test has read so far; the last run may be short of targets (a run towards - lacks the lower ones).
struct PositioningReadings {
  std::vector<Coordinate> targets;  ///< rising
  std::vector<PositioningRun> runs;
  /// Runs that have met every target.
  std::vector<PositioningRun> whole_runs() const;
};

struct PositioningResult {
  double reversal = 0;                                                        ///< B, 3.10: largest |B_i|
  double mean_reversal = 0;                                                   ///< mean of B_i, signed
  double repeatability_plus = 0, repeatability_minus = 0, repeatability = 0;  ///< R+, R-, R, 3.15 to 3.17
  double systematic = 0;                                                      ///< E, 3.19
  double systematic_plus = 0, systematic_minus = 0;                           ///< E+, E-, 3.18
  double mean_deviation_range = 0;                                            ///< M, 3.20
  double accuracy_plus = 0, accuracy_minus = 0, accuracy = 0;                 ///< A+, A-, A, 3.21, 3.22
  struct Target {
    double mean_plus = 0, s_plus = 0, mean_minus = 0, s_minus = 0;
  };
  std::vector<Target> targets;  ///< for the deviation graph
};

/// Where to stop for a test between `low` and `high` (mm): `count` >= 2 targets, evenly spaced but for a part of the
/// spacing that differs from one to the next, so that a screw's period cannot hide between them. The same for the same
/// arguments. Source: ISO 230-2:2014, 5.3.2 (P_i = (i - 1)·p + r).
std::vector<double> positioning_targets(double low, double high, int count);

/// At least 2 targets and 2 runs each way. Errors: `too_few`, `out_of_range` where a run has not one deviation per
/// target.
Result<PositioningResult> evaluate_positioning(const std::vector<double>& targets,
                                               const std::vector<PositioningRun>& runs);

struct MeanReversal {
  double lost_motion = 0;  ///< mm, positive for slack: the negative of the mean reversal value
  double U = 0;            ///< about 95 %
};

/// The slack that a test of `runs` >= 2 runs each way tells: scatter from the test itself, averaged over runs and
/// targets; rounding of the instrument's two readings, averaged over the targets, which differ.
MeanReversal mean_reversal(const PositioningResult& result, int runs, const Instrument& instrument);

}  // namespace ypsi
