#pragma once
// What a blade needs more from metre to metre and how far it will go. Source: handbook of the trade, 20.
#include <optional>
#include <vector>

#include "core/result.h"

namespace ypsi {

/// A threshold as it was after so many metres.
struct WearPoint {
  double metres = 0;  ///< cut with this blade since it was new, >= 0
  double level = 0;   ///< that was needed
  double U = 0;       ///< of it, > 0
};

struct Wear {
  double per_metre = 0, U_per_metre = 0;
  double level_new = 0;               ///< at 0 m, by the line
  bool grows = false;                 ///< by more than its U
  std::optional<double> metres_left;  ///< from the last point until the line meets the limit, where it rises
};

/// A straight line, weighted by 1/U^2, about 95 %; `limit` is the level that must not be passed. Errors: `too_few`
/// below two points; `degenerate` where all are at one place.
///   wear_line({{240, 12.2, 0.4}, {610, 13.1, 0.4}}, 17.8) -> 0.0024 a metre, 1932 m left
Result<Wear> wear_line(const std::vector<WearPoint>& points, double limit);

}  // namespace ypsi
