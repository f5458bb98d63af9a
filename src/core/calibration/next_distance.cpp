#include "core/calibration/next_distance.h"

#include <cmath>

namespace ypsi {
namespace {

constexpr double better_by = 0.98;  // the pair that comes first stays, unless another is better by this

/// One more reading of the pair that agrees with what was found so far, between the centres.
MarkDistance agreeing(const SquareInput& in, const SquareFit& fit, std::size_t from, std::size_t to) {
  const Point2 a = in.points[from].commanded, b = in.points[to].commanded;
  const double x = fit.scale_x * (b.x - a.x) + fit.scale_y * (b.y - a.y) * std::sin(fit.skew),
               y = fit.scale_y * (b.y - a.y) * std::cos(fit.skew);
  return {from, to, std::hypot(x, y)};
}

std::optional<SquareFit> told(const SquareInput& in) {
  auto found = fit_square(in);
  return found ? std::move(found->fit) : std::nullopt;
}

}  // namespace

std::optional<NextDistance> next_distance(const SquareInput& so_far) {
  const auto now = told(so_far);
  if (!now) return std::nullopt;
  std::optional<NextDistance> best;
  for (std::size_t from = 0; from < so_far.points.size(); ++from)
    for (std::size_t to = from + 1; to < so_far.points.size(); ++to) {
      SquareInput with = so_far;
      with.distances.push_back(agreeing(so_far, *now, from, to));
      const auto then = told(with);
      if (!then || (best && then->U_skew > best->U_skew * better_by)) continue;
      best = NextDistance{from, to, then->U_skew};
    }
  return best;
}

std::optional<DistancesAhead> distances_ahead(const SquareInput& so_far, double wanted_U) {
  SquareInput in = so_far;
  const auto now = told(in);
  std::optional<DistancesAhead> ahead;
  if (!now) return ahead;
  for (int i = 1; i <= most_distances_ahead; ++i) {
    const auto next = next_distance(in);
    if (!next) return ahead;
    ahead = DistancesAhead{i, next->U_skew, next->U_skew <= wanted_U};
    if (ahead->reaches) return ahead;
    in.distances.push_back(agreeing(in, *now, next->from, next->to));
  }
  return ahead;
}

}  // namespace ypsi
