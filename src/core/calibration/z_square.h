#pragma once
// How Z's travel leans against the bed, by an indicator up a square's blade and the square turned over. Source:
// handbook of the trade, 26.
#include "core/metrology/instrument.h"

namespace ypsi {

struct ZSquareReadings {
  double height = 0;                  ///< of the blade that was travelled, > 0, mm
  double first = 0, turned = 0;       ///< how far the travel has gone towards + against the blade, mm
  double bed_slope = 0, u_slope = 0;  ///< of the bed there, mm/mm, > 0 where it rises towards +
};

struct ZSquare {
  double lean = 0, U_lean = 0;      ///< of the travel against the bed, rad, towards +
  double square = 0, U_square = 0;  ///< the square's own error, > 0: its blade leaned to + in the first position
  double k = 0;
};

ZSquare evaluate_z_square(const ZSquareReadings& readings, const Instrument& instrument);

}  // namespace ypsi
