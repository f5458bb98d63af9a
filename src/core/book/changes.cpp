#include "core/book/changes.h"

#include <cmath>

namespace ypsi {

bool change_steps_per_mm(Book& book, Axis a, double steps) {
  if (!std::isfinite(steps) || !(steps > 0)) return false;
  AxisSetup& axis = book.machine.axis(a);
  const double ratio = axis.steps_per_mm / steps, home = axis.home_coordinate;
  if (ratio == 1) return true;
  const auto carry = [&](double& p) { p = home + (p - home) * ratio; };
  const auto carry_known = [&](std::optional<double>& p) {
    if (p) carry(*p);
  };
  axis.steps_per_mm = steps;
  axis.travel *= ratio;
  carry_known(axis.soft_min);
  carry_known(axis.soft_max);
  for (auto& place : book.places) {
    carry(place.at[a]);
    place.carried_over = true;
  }
  // The same steps were sent for a reading that is not settled yet.
  for (auto& reading : book.scale_worksheets[index(a)].readings) reading.commanded *= ratio;
  if (book.setter) {
    if (a == Axis::x) carry(book.setter->x);
    if (a == Axis::y) carry(book.setter->y);
    if (a == Axis::z)
      for (double& trigger : book.setter->reference) carry(trigger);
  }
  carry_known(book.limits_worksheets[index(a)].far_end_mm);
  for (auto& point : book.bed_worksheet.map) carry(a == Axis::x ? point.x_mm : a == Axis::y ? point.y_mm : point.z_mm);
  if (book.build_worksheet) book.build_worksheet->axis(a).travel *= ratio;
  carry_known(book.job.zero(a));
  if (a == Axis::z) carry(book.machine.safe_height);
  return true;
}

void take_limits(Book& book, Axis a, double low, double high, double steps) {
  AxisSetup& axis = book.machine.axis(a);
  const double ratio = steps / axis.steps_per_mm, home = axis.home_coordinate;
  axis.soft_min = home + (low - home) * ratio;
  axis.soft_max = home + (high - home) * ratio;
}

}  // namespace ypsi
