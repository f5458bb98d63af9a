#pragma once
// Tram: the spindle's tilt from a sweep of indicator readings. Lengths mm, angles rad. Source: handbook of the
// trade, 12.
#include <vector>

#include "core/result.h"

namespace ypsi {

struct SweepReading {
  double angle = 0;    ///< from +X towards +Y
  double reading = 0;  ///< rising when pushed in
};

struct TramInput {
  double radius = 0;                              ///< of the sweep, > 0
  std::vector<SweepReading> sweep;                ///< at least 3 different angles
  double bolt_spacing_x = 0, bolt_spacing_y = 0;  ///< > 0
  double cutter_diameter = 0, stepover = 0;       ///< > 0, stepover below the cutter
};

struct TramResult {
  double tilt_x = 0, tilt_y = 0;  ///< tilt_x > 0: the spindle's top leans to +X
  double shim_x = 0, shim_y = 0;  ///< mm under one bolt row
  double ridge = 0, hollow = 0;   ///< mm left by the cutter: tilt across the passes, tilt along them
};

/// Errors: `too_few` readings; `degenerate` where the angles do not go round, or the stepover is not below the cutter.
Result<TramResult> evaluate_tram(const TramInput& input);

}  // namespace ypsi
