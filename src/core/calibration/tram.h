#pragma once
// Tram: the spindle's tilt from a sweep of indicator readings. Lengths mm, angles rad. Source: handbook of the
// trade, 12.
#include <array>
#include <optional>
#include <vector>

#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi {

struct SweepReading {
  double angle = 0;    ///< from +X towards +Y
  double reading = 0;  ///< rising when pushed in
};

struct TramInput {
  double radius = 0;                               ///< of the sweep, > 0
  std::vector<SweepReading> sweep;                 ///< at least 3 different angles
  double bolt_spacing_x = 0, bolt_spacing_y = 0;   ///< > 0
  double cutter_diameter = 0, stepover = 0;        ///< > 0, stepover below the cutter
  std::optional<Instrument> indicator;             ///< describes one reading; without it no U
  std::optional<std::array<double, 2>> bed_slope;  ///< along X and Y, > 0 where the bed rises towards +
  std::array<double, 2> u_bed_slope{};             ///< its standard uncertainties
};

struct TramResult {
  /// tilt_x > 0: the spindle's top leans to +X; against the travel where the bed's slope is known, else against the
  /// bed.
  double tilt_x = 0, tilt_y = 0;
  std::optional<std::array<double, 2>> U_tilt;
  std::optional<double> k;
  double shim_x = 0, shim_y = 0;  ///< mm under one bolt row
  double ridge = 0, hollow = 0;   ///< mm left by the cutter: tilt across the passes, tilt along them
};

/// Errors: `too_few` readings; `degenerate` where the angles do not go round, or the stepover is not below the cutter.
Result<TramResult> evaluate_tram(const TramInput& input);

}  // namespace ypsi
