#pragma once
#include <complex>

namespace ypsi {

/// A place on the plan as x + iy, mm: a turn is a factor then. Its frame is that of whoever has it.
using PlanPoint = std::complex<double>;

inline double dot(PlanPoint a, PlanPoint b) {
  return a.real() * b.real() + a.imag() * b.imag();
}

}  // namespace ypsi
