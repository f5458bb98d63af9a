#pragma once
// Which distance to measure next for the squareness of an axis to the other: the one after which the lean is known
// best.
#include <optional>

#include "core/calibration/squareness.h"

namespace ypsi {

struct NextDistance {
  std::size_t from = 0, to = 0;  ///< indices of points, from < to
  double U_skew = 0;             ///< rad, of the lean with it, about 95 %
};

/// Of one more reading between any two of the marks, one that was read before or not; sides of a rectangle say nothing
/// of the lean, so it is its diagonals again and again (handbook of the trade, 7). None where the distances so far do
/// not tell the lean: SquareResult::missing then says what would.
std::optional<NextDistance> next_distance(const SquareInput& so_far);

struct DistancesAhead {
  int readings = 0;      ///< more than there are now
  double U_skew = 0;     ///< rad, of the lean with them
  bool reaches = false;  ///< what is wanted; else that is about what this instrument gets to between these marks
};
inline constexpr int most_distances_ahead = 6;  ///< a diagonal has room for four on the drawing

/// Where readings like those that next_distance() proposes lead, one after the other, until U of the lean is `wanted_U`
/// (rad, > 0) or more of them are not worth it, `most_distances_ahead` at most. None where next_distance() has none.
std::optional<DistancesAhead> distances_ahead(const SquareInput& so_far, double wanted_U);

}  // namespace ypsi
