#include "core/calibration/surface_map.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ypsi {
namespace {

constexpr double same_place_mm = 1e-6;
constexpr std::size_t nearest_spots = 4;

std::vector<double> distinct(std::vector<double> all) {
  std::sort(all.begin(), all.end());
  all.erase(std::unique(all.begin(), all.end(), [](double a, double b) { return b - a < same_place_mm; }), all.end());
  return all;
}

std::size_t place_of(const std::vector<double>& places, double at) {
  return static_cast<std::size_t>(std::lower_bound(places.begin(), places.end(), at - same_place_mm) - places.begin());
}

/// What each of the places counts at `at`, which lies between the first and the last.
struct Weights {
  std::size_t first = 0, count = 0;
  std::array<double, nearest_spots> of{};
};
Weights weights(const std::vector<double>& places, double at) {
  Weights w;
  w.count = std::min(nearest_spots, places.size());
  const auto after = static_cast<std::size_t>(std::upper_bound(places.begin(), places.end(), at) - places.begin());
  const std::size_t half = w.count / 2;
  w.first = std::min(after < half ? 0 : after - half, places.size() - w.count);
  for (std::size_t i = 0; i < w.count; ++i) {
    w.of[i] = 1;
    for (std::size_t j = 0; j < w.count; ++j)
      if (i != j) w.of[i] *= (at - places[w.first + j]) / (places[w.first + i] - places[w.first + j]);
  }
  return w;
}

/// Straight on past the ends, for as long as that holds.
Weights straight_on(const std::vector<double>& places, double at) {
  const std::size_t n = places.size();
  if (at >= places.front() && at <= places.back()) return weights(places, at);
  Weights w;
  w.count = 2;
  w.first = at < places.front() ? 0 : n - 2;
  const double a = places[w.first], b = places[w.first + 1], half = (b - a) / 2;
  const double held = std::clamp(at, a - half, b + half);
  w.of[1] = (held - a) / (b - a);
  w.of[0] = 1 - w.of[1];
  return w;
}

}  // namespace

Result<HeightGrid> height_grid(const std::vector<BedPoint>& points) {
  HeightGrid grid;
  for (const BedPoint& p : points) {
    grid.xs.push_back(p.x);
    grid.ys.push_back(p.y);
  }
  grid.xs = distinct(std::move(grid.xs));
  grid.ys = distinct(std::move(grid.ys));
  if (grid.xs.size() < 2 || grid.ys.size() < 2)
    return fail("too_few", "A surface is told by two places at least each way; touch more.", "points");
  std::vector<int> touched(grid.xs.size() * grid.ys.size(), 0);
  grid.heights.assign(touched.size(), 0);
  for (const BedPoint& p : points) {
    const std::size_t at = place_of(grid.ys, p.y) * grid.xs.size() + place_of(grid.xs, p.x);
    ++touched[at];
    grid.heights[at] = p.z;
  }
  if (std::any_of(touched.begin(), touched.end(), [](int n) { return n != 1; }))
    return fail("degenerate", "Not every place of the grid was touched once; touch the grid to its end.", "points");
  return grid;
}

double height_at(const HeightGrid& grid, double x, double y) {
  const Weights across = straight_on(grid.xs, x), along = straight_on(grid.ys, y);
  double height = 0;
  for (std::size_t row = 0; row < along.count; ++row)
    for (std::size_t column = 0; column < across.count; ++column)
      height += along.of[row] * across.of[column] * grid.at(across.first + column, along.first + row);
  return height;
}

double beyond(const std::vector<double>& places, double value) {
  const double before = places.front() - (places[1] - places[0]) / 2,
               behind = places.back() + (places[places.size() - 1] - places[places.size() - 2]) / 2;
  return std::max({0.0, before - value, value - behind});
}

}  // namespace ypsi
