#include "core/metrology/instrument.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ypsi {

double Instrument::repeating_part_mm2() const {
  if (ends >= 2) return 0;
  constexpr int terms = 200;
  const double r = resolution_mm, stirred = least_scatter_mm() / r;
  double sum = 0;
  for (int j = 1; j <= terms; ++j)
    sum += std::exp(-4 * std::numbers::pi * std::numbers::pi * j * j * stirred * stirred) / (j * j);
  return r * r / (2 * std::numbers::pi * std::numbers::pi) * sum;
}

double Instrument::own_part_mm2() const {
  return variance_mm2() - repeating_part_mm2();
}

double Instrument::least_scatter_mm() const {
  return std::max(scatter_mm(), resolution_mm / 100);
}

double Instrument::u_mm(double told_mm) const {
  return std::sqrt(variance_mm2() + u_cal_mm * u_cal_mm + u_rel * u_rel * told_mm * told_mm);
}

}  // namespace ypsi
