#include "core/book/changes.h"

#include <algorithm>
#include <cmath>

#include "core/book/book_description.h"
#include "core/book/carry_over.h"

namespace ypsi {

bool change_steps_per_mm(Book& book, Axis a, double steps) {
  if (!std::isfinite(steps) || !(steps > 0)) return false;
  AxisSetup& axis = book.machine.axis(a);
  const double ratio = axis.steps_per_mm / steps, home = axis.home_coordinate;
  if (ratio == 1) return true;
  axis.steps_per_mm = steps;
  const Coordinate safe = book.machine.safe_height;
  CarryOver carry(a, ratio, home);
  describe(carry, book);
  // A height to lift to was said in millimetres, not found by going there: a lead that was another altogether would
  // bring it down among the clamps. The higher of both clears whatever either did.
  if (a == Axis::z) {
    Coordinate& lift = book.machine.safe_height;
    lift = std::max<double>(lift, safe);
    if (axis.soft_max) lift = std::min<double>(lift, *axis.soft_max);
  }
  return true;
}

void take_limits(Book& book, Axis a, double low, double high, double steps) {
  AxisSetup& axis = book.machine.axis(a);
  const double ratio = steps / axis.steps_per_mm, home = axis.home_coordinate;
  axis.soft_min = home + (low - home) * ratio;
  axis.soft_max = home + (high - home) * ratio;
}

}  // namespace ypsi
