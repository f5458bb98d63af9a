#include "core/calibration/contours.h"

#include <array>
#include <cmath>
#include <optional>

namespace ypsi {

std::vector<ContourLine> contour(const HeightGrid& g, double level) {
  std::vector<ContourLine> lines;
  for (std::size_t r = 0; r + 1 < g.ys.size(); ++r)
    for (std::size_t c = 0; c + 1 < g.xs.size(); ++c) {
      const std::array<Point2, 4> corner{
          {{g.xs[c], g.ys[r]}, {g.xs[c + 1], g.ys[r]}, {g.xs[c + 1], g.ys[r + 1]}, {g.xs[c], g.ys[r + 1]}}};
      const std::array<double, 4> z{g.at(c, r), g.at(c + 1, r), g.at(c + 1, r + 1), g.at(c, r + 1)};
      std::vector<Point2> crossings;
      for (std::size_t i = 0; i < 4; ++i) {
        const std::size_t j = (i + 1) % 4;
        if ((z[i] < level) == (z[j] < level)) continue;
        const double t = (level - z[i]) / (z[j] - z[i]);
        crossings.push_back(
            {corner[i].x + t * (corner[j].x - corner[i].x), corner[i].y + t * (corner[j].y - corner[i].y)});
      }
      if (crossings.size() == 2) lines.push_back({crossings[0], crossings[1]});
      if (crossings.size() == 4) {
        // A saddle: the middle says which sides belong together.
        const bool high = (z[0] + z[1] + z[2] + z[3]) / 4 >= level, first_high = z[0] >= level;
        const std::size_t shift = high == first_high ? 0 : 3;
        lines.push_back({crossings[shift % 4], crossings[(shift + 1) % 4]});
        lines.push_back({crossings[(shift + 2) % 4], crossings[(shift + 3) % 4]});
      }
    }
  return lines;
}

double contour_step(double range, int most) {
  const double least = range / most, power = std::pow(10, std::floor(std::log10(least)));
  for (const double step : {1.0, 2.0, 5.0})
    if (step * power >= least * (1 - 1e-12)) return step * power;
  return 10 * power;
}

}  // namespace ypsi
