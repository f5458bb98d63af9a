#include "core/metrology/spread.h"

#include <cmath>

namespace ypsi {

double mean(const std::vector<double>& values) {
  // About the first value, so that a large common part costs no digits.
  double sum = 0;
  for (const double v : values) sum += v - values.front();
  return values.front() + sum / static_cast<double>(values.size());
}

double squares_about_mean(const std::vector<double>& values) {
  const double m = mean(values);
  double sum = 0;
  for (const double v : values) sum += (v - m) * (v - m);
  return sum;
}

std::optional<double> sample_deviation(const std::vector<double>& values) {
  if (values.size() < 2) return std::nullopt;
  return std::sqrt(squares_about_mean(values) / static_cast<double>(values.size() - 1));
}

}  // namespace ypsi
