#include "core/calibration/wear.h"

#include <algorithm>
#include <cmath>

namespace ypsi {

Result<Wear> wear_line(const std::vector<WearPoint>& points, double limit) {
  if (points.size() < 2)
    return fail("too_few", "Wear needs the same trial at two places of the way at least; make it again later.",
                "points");
  double weights = 0, m_mean = 0, level_mean = 0;
  for (const WearPoint& p : points) {
    if (!(p.U > 0)) return fail("out_of_range", "U of a level must be above zero.", "points");
    const double w = 1 / (p.U * p.U);
    weights += w;
    m_mean += w * p.metres;
    level_mean += w * p.level;
  }
  m_mean /= weights;
  level_mean /= weights;
  double across = 0, rise = 0;
  for (const WearPoint& p : points) {
    const double w = 1 / (p.U * p.U), d = p.metres - m_mean;
    across += w * d * d;
    rise += w * d * (p.level - level_mean);
  }
  if (!(across > 1e-12))
    return fail("degenerate", "Both trials were made after the same way; cut something in between.", "points");
  Wear wear;
  wear.per_metre = rise / across;
  wear.U_per_metre = 1 / std::sqrt(across);  // the U are already those of about 95 %
  wear.level_new = level_mean - wear.per_metre * m_mean;
  wear.grows = wear.per_metre > wear.U_per_metre;
  const double last = std::max_element(points.begin(), points.end(), [](const WearPoint& a, const WearPoint& b) {
                        return a.metres < b.metres;
                      })->metres;
  if (wear.per_metre > 0)
    wear.metres_left = std::max(0.0, (limit - wear.level_new - wear.per_metre * last) / wear.per_metre);
  return wear;
}

}  // namespace ypsi
