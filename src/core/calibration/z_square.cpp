#include "core/calibration/z_square.h"

#include <cmath>

#include "core/calibration/bed.h"
#include "core/metrology/coverage.h"

namespace ypsi {

ZSquare evaluate_z_square(const ZSquareReadings& in, const Instrument& instrument) {
  const double s = instrument.least_scatter_mm(), r = instrument.resolution_mm;
  // Each of the two is a difference of two readings of the indicator, which round and scatter by themselves.
  const double u = std::sqrt((2 * s * s + r * r / 6) / 2) / in.height;
  ZSquare out;
  out.k = t95(claim_degrees_of_freedom);
  const Reversal reversal = turn_over(in.first / in.height, in.turned / in.height);
  out.lean = reversal.machine - in.bed_slope;
  out.U_lean = out.k * std::hypot(u, in.u_slope);
  out.square = -reversal.square;  // the travel is read against the blade, not the blade against the travel
  out.U_square = out.k * u;
  return out;
}

}  // namespace ypsi
