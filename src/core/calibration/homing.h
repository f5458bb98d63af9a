#pragma once
// Repeatability of homing: scatter and drift of the place that it finds. Source: handbook of the trade, 9; JCGM
// 100:2008, H.3 for the straight line.
#include <vector>

#include "core/result.h"

namespace ypsi {

enum class HomingVerdict { repeatable, scattered, drifting };

struct HomingResult {
  double mean = 0, s = 0, range = 0;  ///< mm
  double drift = 0, U_drift = 0;      ///< mm per trial, U for about 95 %
  HomingVerdict verdict = HomingVerdict::repeatable;
};

/// `readings` mm in the order of the trials, at least 5; `tolerance` and `resolution` mm, > 0. Error: `too_few`.
Result<HomingResult> evaluate_homing(const std::vector<double>& readings, double tolerance, double resolution);

const char* name(HomingVerdict verdict);

}  // namespace ypsi
