#include "core/metrology/straight_line.h"

#include <cmath>

#include "core/metrology/coverage.h"
#include "core/metrology/spread.h"

namespace ypsi {

double StraightLine::U_at(double x) const {
  return t95(static_cast<int>(count) - 2) * s *
         std::sqrt(1 / static_cast<double>(count) + (x - x_mean) * (x - x_mean) / across);
}

double StraightLine::U_slope() const {
  return t95(static_cast<int>(count) - 2) * s / std::sqrt(across);
}

double StraightLine::u_next(double x) const {
  return s * std::sqrt(1 + 1 / static_cast<double>(count) + (x - x_mean) * (x - x_mean) / across);
}

std::optional<StraightLine> fit_line(const std::vector<double>& x, const std::vector<double>& y) {
  constexpr std::size_t fewest = 3;
  if (x.size() < fewest) return std::nullopt;
  StraightLine line;
  line.count = x.size();
  line.x_mean = mean(x);
  line.y_mean = mean(y);
  line.across = squares_about_mean(x);
  if (!(line.across > 0)) return std::nullopt;
  double rise = 0, left = 0;
  for (std::size_t i = 0; i < x.size(); ++i) rise += (x[i] - line.x_mean) * (y[i] - line.y_mean);
  line.slope = rise / line.across;
  for (std::size_t i = 0; i < x.size(); ++i) left += (y[i] - line.at(x[i])) * (y[i] - line.at(x[i]));
  line.s = std::sqrt(left / static_cast<double>(x.size() - 2));
  return line;
}

}  // namespace ypsi
