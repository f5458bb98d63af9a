#pragma once
// Lost motion by indicator: what is lost when an axis turns round. Lengths mm. Source: handbook of the trade, 6; the
// negative of the B_i of ISO 230-2:2014, 3.9.
#include <vector>

#include "core/metrology/coverage.h"
#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi {

/// One place on the travel, arrived at from both sides; the indicator's reading rises towards +.
struct TurnRound {
  double arriving_minus = 0;  ///< reading after a move towards -
  double arriving_plus = 0;   ///< reading after a move towards +
};

struct LostMotionResult {
  double mean = 0;      ///< positive for slack
  double s = 0;         ///< sample standard deviation over the places; 0 for one
  double u = 0, U = 0;  ///< of the mean
  double largest = 0;   ///< the place with the largest size, signed
  std::vector<double> each;
  Coverage coverage;
};

/// The instrument is the indicator: a difference of two of its readings has two ends, whatever `ends` says.
/// Error: `too_few` without a place.
Result<LostMotionResult> evaluate_lost_motion(const std::vector<TurnRound>& places, Instrument indicator);

}  // namespace ypsi
