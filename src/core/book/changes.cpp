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
  for (auto& frame : book.job.frames) carry_known(frame.zero(a));
  if (auto& spot = book.job.zero_spot) {
    if (a == Axis::z)
      spot->height_mm *= ratio;
    else
      carry(a == Axis::x ? spot->x_mm : spot->y_mm);
  }
  for (auto& clamp : book.job.clamps)
    if (a != Axis::z) carry(a == Axis::x ? clamp.x_mm : clamp.y_mm);
  if (ToolRack& rack = book.rack; rack.slot_count > 0)
    for (double* place : a == Axis::x   ? std::array{&rack.first_x_mm, &rack.last_x_mm}
                         : a == Axis::y ? std::array{&rack.first_y_mm, &rack.last_y_mm}
                                        : std::array{&rack.grip_z_mm, &rack.clear_z_mm})
      carry(*place);
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
