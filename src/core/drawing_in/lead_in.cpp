#include "core/drawing_in/lead_in.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace ypsi {
namespace {

/// The same closed line begun in the middle of the part that ends at point `side`.
Outline begun_at(Outline closed, std::size_t side) {
  const PlanPoint middle = (closed[side] + closed[side - 1]) / 2.0;
  closed.pop_back();
  std::rotate(closed.begin(), closed.begin() + static_cast<std::ptrdiff_t>(side % closed.size()), closed.end());
  closed.insert(closed.begin(), middle);
  closed.push_back(middle);
  return closed;
}

/// The ends of its straight parts, the longest first.
std::vector<std::size_t> longest_sides(const Outline& closed) {
  std::vector<std::size_t> sides(closed.size() - 1);
  std::iota(sides.begin(), sides.end(), std::size_t{1});
  std::stable_sort(sides.begin(), sides.end(), [&](std::size_t a, std::size_t b) {
    return std::abs(closed[a] - closed[a - 1]) > std::abs(closed[b] - closed[b - 1]);
  });
  return sides;
}

}  // namespace

Outline lead_in(const Outline& closed, double radius, bool from_outside, const OutlinesAround& around) {
  if (closed.size() < 3 || !(radius > 0)) return {};
  const PlanPoint at = closed[0], along = (closed[1] - closed[0]) / std::abs(closed[1] - closed[0]);
  constexpr double aside_mm = 1e-4;
  constexpr int chords = 12;
  PlanPoint to_waste = along * PlanPoint(0, 1);
  const PlanPoint probe = (closed[0] + closed[1]) / 2.0;
  if (lies_within(probe + to_waste * aside_mm, closed) == from_outside) to_waste = -to_waste;
  std::vector<bool> starts_within;
  starts_within.reserve(around.size());
  for (const Outline* other : around) starts_within.push_back(lies_within(at, *other));
  // What lies within other lines than the start does belongs to another piece, or to this one's waste.
  const auto free = [&](PlanPoint p) {
    if (lies_within(p, closed) == from_outside) return false;
    for (std::size_t i = 0; i < around.size(); ++i)
      if (lies_within(p, *around[i]) != starts_within[i]) return false;
    return true;
  };
  for (int halved = 0; halved <= 3; ++halved, radius /= 2) {
    const PlanPoint centre = at + to_waste * radius;
    Outline arc;
    for (int i = 0; i < chords; ++i) {
      const double angle = std::numbers::pi / 2 * i / chords;
      arc.push_back(centre - radius * (along * std::cos(angle) + to_waste * std::sin(angle)));
    }
    if (std::all_of(arc.begin(), arc.end(), free)) return arc;
  }
  return {};
}

Outline begin_with_lead_in(Outline& closed, double radius, bool from_outside, const OutlinesAround& around) {
  if (closed.size() < 3) return {};
  constexpr std::size_t most_sides = 12;
  std::vector<std::size_t> sides = longest_sides(closed);
  sides.resize(std::min(sides.size(), most_sides));
  Outline best = begun_at(closed, sides.front()), best_way;
  double most = 0;
  for (const std::size_t side : sides) {
    Outline begun = begun_at(closed, side);
    Outline way = lead_in(begun, radius, from_outside, around);
    if (way.empty()) continue;
    const double reach = std::abs(way.front() - begun.front());
    if (reach <= most * (1 + 1e-9)) continue;
    most = reach;
    best = std::move(begun);
    best_way = std::move(way);
    if (most > 0.99 * radius * std::numbers::sqrt2) break;  // all of it
  }
  closed = std::move(best);
  return best_way;
}

}  // namespace ypsi
