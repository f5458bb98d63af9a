#pragma once
// A spindle's speed dial: what to set it to for a speed. Source: handbook of the trade, 17.
#include <vector>

#include "core/result.h"

namespace ypsi {

struct DialPoint {
  double position = 0;  ///< as printed on the dial
  double rpm = 0;       ///< > 0
  bool operator==(const DialPoint&) const = default;
};

/// Dial position for `rpm`, straight lines between the points. Errors: `too_few` below 2 points; `degenerate` where two
/// points share a position or the speeds do not rise with the positions; `out_of_range` beyond the dial's ends.
Result<double> dial_position(std::vector<DialPoint> points, double rpm);
/// Speed at a dial position; the same errors.
Result<double> dial_rpm(std::vector<DialPoint> points, double position);

}  // namespace ypsi
