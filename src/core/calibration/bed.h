#pragma once
// The bed and what stands on it: a map probed on a grid, an edge run with the indicator, a square turned over. Lengths
// mm, angles rad. Source: handbook of the trade, 7 and 12.
#include <vector>

#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi {

struct BedPoint {
  double x = 0, y = 0, z = 0;  ///< machine coordinates of a touch
};

struct BedMap {
  double slope_x = 0, slope_y = 0;      ///< of the best plane, mm/mm
  double u_slope_x = 0, u_slope_y = 0;  ///< by how the points lie about it; 0 where there are only three
  double height = 0;                    ///< of the plane over the points' middle
  double peak_to_valley = 0;            ///< about the plane
  double depth_to_flat = 0;       ///< to cut from the highest point until the lowest is reached, by a level machine
  std::vector<double> residuals;  ///< above the plane
};
/// At least 3 points not on one line. Errors: `too_few`, `degenerate`.
Result<BedMap> map_bed(const std::vector<BedPoint>& points);

struct EdgeReading {
  double position = 0;  ///< along the travel
  double reading = 0;   ///< of the indicator
};
struct EdgeRun {
  double slope = 0;  ///< mm/mm
  double mm_per_m = 0;
  double tap_far_end =
      0;  ///< the reading's change from the nearest to the farthest position: move the far end by its negative
};
/// At least 2 positions. Errors: `too_few`, `degenerate` where all positions are one.
Result<EdgeRun> run_edge(const std::vector<EdgeReading>& readings);

struct Reversal {
  double machine = 0;  ///< rad, out of square of the machine
  double square = 0;   ///< of the carpenter's square
};
/// Both readings of the lean against the square in the machine's frame, the second with the square turned over.
Reversal turn_over(double first, double turned);

struct SquareByReversal {
  double skew = 0, square = 0;  ///< rad; skew > 0: +Y leans towards +X, as fit_square() tells it
  double U = 0;                 ///< of either, for about 95 %
};
/// The same from an indicator carried along Y, `length` mm (> 0) along the blade of a square laid to X: its change
/// towards +X, with the square as it is and turned over. The instrument's calibration counts in both readings alike, so
/// it is not averaged away. Source: handbook of the trade, 4 and 7. Error: `out_of_range`.
Result<SquareByReversal> square_by_reversal(double length, double first, double turned, const Instrument& instrument);

}  // namespace ypsi
