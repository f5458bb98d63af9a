#pragma once
// The error that a screw, pinion or pulley repeats with every turn, from indicator readings a small part of a turn
// apart. Source: handbook of the trade, 6.
#include <vector>

#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi {

struct PeriodicReading {
  double at = 0;       ///< along the axis, mm
  double reading = 0;  ///< mm
  int stroke = 0;      ///< each has its own zero of the indicator
};

struct PeriodicError {
  double amplitude = 0, U = 0;  ///< mm
  double phase = 0;             ///< rad, of sin(2·pi·x/period + phase)
  double slope = 0;             ///< mm/mm, over all strokes together
  double k = 0;
  int dof = 0;
  std::vector<double> residuals;  ///< mm
};

/// The wave itself at a place on the axis, mm.
double wave_at(const PeriodicError& error, double period, double at);

/// At least six readings, over two turns to be worth much; `period` > 0, the travel per turn, mm. Errors: `too_few`;
/// `degenerate` where places or strokes cannot tell slope, sine and cosine apart.
Result<PeriodicError> evaluate_periodic(const std::vector<PeriodicReading>& readings, double period,
                                        const Instrument& instrument);

}  // namespace ypsi
