#pragma once
// A router of 800 by 800 by 130 for tests of programs: its limits, and cutters for it.
#include "core/book/book.h"

namespace ypsi {

/// Soft limits `inside` mm within the travel.
inline Book router_book(double inside) {
  Book book;
  for (const Axis a : all_axes) {
    AxisSetup& axis = book.machine.axis(a);
    axis.travel = a == Axis::z ? 130 : 800;
    axis.soft_min = (a == Axis::z ? -130 : 0) + inside;
    axis.soft_max = (a == Axis::z ? 0 : 800) - inside;
    axis.max_rate = a == Axis::z ? 1500 : 5000;
  }
  return book;
}

inline Tool cutter(int number, const char* kind, double diameter, double length_out) {
  Tool t;
  t.number = number;
  t.kind = kind;
  t.diameter = diameter;
  t.length_out = length_out;
  return t;
}

}  // namespace ypsi
