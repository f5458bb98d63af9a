// What a tool's way leaves in the stock: few sweeps, and none further from the way than was allowed.
#include "standin/cut_stock.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ypsi::standin {
namespace {

constexpr double ring_radius_mm = 10, tolerance_mm = 0.01, cutter_radius_mm = 1.5;

std::vector<Point3> ring(int steps) {
  std::vector<Point3> way;
  for (int i = 0; i <= steps; ++i) {
    const double angle = 2 * std::numbers::pi * i / steps;
    way.push_back({ring_radius_mm * std::cos(angle), ring_radius_mm * std::sin(angle), -1});
  }
  return way;
}

double distance(const Point3& p, const Sweep& s) {
  const double dx = s.to[0] - s.from[0], dy = s.to[1] - s.from[1], rx = p[0] - s.from[0], ry = p[1] - s.from[1];
  const double t = std::clamp((rx * dx + ry * dy) / (dx * dx + dy * dy), 0.0, 1.0);
  return std::hypot(rx - t * dx, ry - t * dy);
}

TEST(CutStockSweeps, OfARingAreChordsWithinTheTolerance) {
  const auto way = ring(2000);
  CutStock cut(tolerance_mm);
  for (const Point3& p : way) cut.cut_to(p, cutter_radius_mm);
  const auto sweeps = cut.sweeps();
  // A chord that leaves the ring by e is 2·√(2·r·e) long at most.
  const double longest = 2 * std::sqrt(2 * ring_radius_mm * tolerance_mm);
  const double fewest = 2 * std::numbers::pi * ring_radius_mm / longest;
  EXPECT_GE(static_cast<double>(sweeps.size()), fewest);
  EXPECT_LE(static_cast<double>(sweeps.size()), 1.1 * fewest);
  for (const Point3& p : way) {
    double nearest = 1e9;
    for (const Sweep& s : sweeps) nearest = std::min(nearest, distance(p, s));
    ASSERT_LE(nearest, tolerance_mm * 1.000001) << p[0] << " " << p[1];
  }
}

TEST(CutStockSweeps, OfAStraightCutAreAsLongAsIsLookedBack) {
  CutStock cut(tolerance_mm);
  for (int i = 0; i <= 310; ++i) cut.cut_to({0.1 * i, 0.05 * i, -1}, cutter_radius_mm);
  ASSERT_EQ(cut.sweeps().size(), 10u);  // 31 steps each
  EXPECT_DOUBLE_EQ(cut.sweeps().back().to[0], 31);
}

TEST(CutStockSweeps, BeginAnewWhereTheToolTurnsBack) {
  CutStock cut(tolerance_mm);
  for (const double x : {0.0, 1.0, 2.0, 1.0, 0.0, -1.0}) cut.cut_to({x, 0, -1}, cutter_radius_mm);
  // What it turned back from at 2 mm is not lost: both ends of the slot are where the tool was.
  const auto slot = gaps_along(cut.sweeps(), {0, 0}, {1, 0}, 0);
  ASSERT_EQ(slot.size(), 1u);
  EXPECT_DOUBLE_EQ(slot[0].low, -1 - cutter_radius_mm);
  EXPECT_DOUBLE_EQ(slot[0].high, 2 + cutter_radius_mm);
}

TEST(CutStockSweeps, AreNotJoinedAcrossALift) {
  CutStock cut(tolerance_mm);
  cut.cut_to({0, 0, -1}, cutter_radius_mm);
  cut.cut_to({1, 0, -1}, cutter_radius_mm);
  cut.lift();
  cut.cut_to({20, 0, -1}, cutter_radius_mm);
  cut.cut_to({21, 0, -1}, cutter_radius_mm);
  EXPECT_EQ(gaps_along(cut.sweeps(), {0, 0}, {1, 0}, 0).size(), 2u);
}

}  // namespace
}  // namespace ypsi::standin
