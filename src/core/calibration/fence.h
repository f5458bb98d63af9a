#pragma once
// A fence or stop corrected from what was cut along it. Source: handbook of the trade, 22.
#include <vector>

#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi {

struct FenceTest {
  double expected = 0;           ///< mm, what the pieces should measure
  double offset = 0;             ///< mm, of the fence as it is
  bool adds = true;              ///< a larger offset makes a larger piece
  int test = 1;                  ///< the how manieth, >= 1: the correction is an ever smaller part of what is off
  std::vector<double> measured;  ///< mm, at least one
  double tolerance = 0;          ///< mm, > 0
};

struct FenceResult {
  double mean = 0, U = 0, k = 0;
  double correction = 0;  ///< what is added to the offset; 0 when done
  double new_offset = 0;
  bool done = false;  ///< within U, and U is at most half the tolerance
};

/// Errors: `too_few`; those of fit_readings().
Result<FenceResult> evaluate_fence(const FenceTest& test, const Instrument& instrument);

}  // namespace ypsi
