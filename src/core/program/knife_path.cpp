#include "core/program/knife_path.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {

constexpr double same_point_mm = 1e-6, lead_in_ratio = 3;

PlanPoint unit(PlanPoint way) {
  return way / std::abs(way);
}

}  // namespace

Result<KnifePath> knife_path(const std::vector<PlanPoint>& points, const KnifeSetting& s) {
  if (!(s.trailing >= 0) || !(s.least_turn > 0) || !std::isfinite(s.trailing) || !(s.lead_in >= 0) || !(s.overcut >= 0))
    return fail("out_of_range", "The trailing offset must not be below zero, and the least turn above it.", "trailing");
  std::vector<PlanPoint> line;
  for (const PlanPoint& p : points) {
    if (!std::isfinite(p.real()) || !std::isfinite(p.imag()))
      return fail("not_finite", "A point of the line is not a number.", "points");
    if (line.empty() || std::abs(p - line.back()) > same_point_mm) line.push_back(p);
  }
  if (line.size() < 2) return fail("too_few", "A line needs two points that differ.", "points");
  const bool closed = line.size() > 3 && std::abs(line.front() - line.back()) <= same_point_mm;
  const double a = s.trailing, lead_in = std::max(s.lead_in, lead_in_ratio * a), overcut = std::max(s.overcut, a);

  KnifePath path;
  PlanPoint along = unit(line[1] - line[0]);
  path.start = line[0] + along * (a - lead_in);
  const auto straight = [&](PlanPoint to) {
    const PlanPoint from = path.moves.empty() ? path.start : path.moves.back().to;
    if (std::abs(to - from) > same_point_mm) path.moves.push_back({to});
  };
  const auto turn_about = [&](PlanPoint corner, PlanPoint next) {
    const double turn = std::arg(next / along);
    if (std::fabs(turn) < s.least_turn || a == 0)
      straight(corner + next * a);
    else
      path.moves.push_back({corner + next * a, true, turn > 0, corner});
    along = next;
  };
  for (std::size_t i = 1; i < line.size(); ++i) {
    straight(line[i] + along * a);
    if (i + 1 < line.size()) turn_about(line[i], unit(line[i + 1] - line[i]));
  }
  if (closed) {
    turn_about(line.front(), unit(line[1] - line[0]));
    straight(line.front() + along * (a + std::min(overcut, std::abs(line[1] - line[0]))));
  }
  return path;
}

}  // namespace ypsi
