#pragma once
#include <complex>

namespace ypsi {

/// A place on the plan as x + iy, mm: a turn is a factor then. Its frame is that of whoever has it.
using PlanPoint = std::complex<double>;

}  // namespace ypsi
