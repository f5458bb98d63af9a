#include "core/calibration/engraving_depth.h"

#include "core/metrology/coverage.h"

namespace ypsi {

DepthMargins depth_margins(const PlateLayers& plate, double depth, double U) {
  DepthMargins m;
  m.below_cap = depth - plate.cap;
  m.left = plate.total - depth;
  m.least = plate.cap + U;
  m.most = plate.total - plate.core_left - U;
  if (plate.cap > 0 && m.below_cap <= 0)
    m.verdict = DepthVerdict::misses_cap;
  else if (plate.total > 0 && m.left < plate.core_left)
    m.verdict = DepthVerdict::too_deep;
  else if (plate.cap > 0 && m.below_cap < U)
    m.verdict = DepthVerdict::unsure_cap;
  else if (plate.total > 0 && m.left - plate.core_left < U)
    m.verdict = DepthVerdict::unsure_core;
  return m;
}

double chance_above(double depth, double level, double u, int dof) {
  if (!(u > 0)) return depth > level ? 0 : 1;
  return student_t_below((level - depth) / u, dof);
}

}  // namespace ypsi
