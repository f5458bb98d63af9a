#pragma once
// A straight line through readings of equal weight, by least squares. Source: JCGM 100:2008, H.3.
#include <cstddef>
#include <optional>
#include <vector>

namespace ypsi {

struct StraightLine {
  double x_mean = 0, y_mean = 0, slope = 0;
  double across = 0;  ///< sum of the squares of x about its mean, > 0
  double s = 0;       ///< of the readings about the line; may be raised to what an instrument claims
  std::size_t count = 0;

  double at(double x) const { return y_mean + slope * (x - x_mean); }
  double U_at(double x) const;  ///< of the line there, about 95 %, t by the degrees of freedom
  double U_slope() const;
  double u_next(double x) const;  ///< standard uncertainty of one more reading there
};

/// None below three points, or where all have one x. Precondition: as many y as x.
std::optional<StraightLine> fit_line(const std::vector<double>& x, const std::vector<double>& y);

}  // namespace ypsi
