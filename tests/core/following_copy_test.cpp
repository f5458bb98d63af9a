// A program that follows a surface, against surfaces of closed form.
#include "core/program/following_copy.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/calibration/surface_map.h"
#include "core/program/arc.h"

namespace ypsi {
namespace following_copy_test {

constexpr double length = 100, breadth = 57, deep = 0.2;

/// A plate that is bent by 0.15 mm over its length, and leans.
double bent(double x, double y) {
  const double u = 2 * x / length - 1, v = 2 * y / breadth - 1;
  return 0.15 * (1 - u * u) - 0.05 * (1 - v * v) + 0.001 * x;
}

std::vector<BedPoint> touched(int columns, int rows, double scatter = 0) {
  std::mt19937 random(7);
  std::normal_distribution<double> normal(0, 1);
  std::vector<BedPoint> all;
  for (int row = 0; row < rows; ++row)
    for (int column = 0; column < columns; ++column) {
      const double x = length * column / (columns - 1), y = breadth * row / (rows - 1);
      all.push_back({x, y, bent(x, y) + scatter * normal(random)});
    }
  return all;
}

/// The least and the largest depth below the surface along all that is cut at full depth.
std::pair<double, double> depths(const Program& program) {
  double least = 1e9, most = -1e9;
  WorkPosition from;
  bool first = true;
  for (const Motion& m : program.motions) {
    EXPECT_FALSE(is_arc(m));
    if (!first && is_cut(m) && (from.x != m.end.x || from.y != m.end.y))
      for (int i = 0; i <= 20; ++i) {
        const double part = i / 20.0;
        const double x = from.x + part * (m.end.x - from.x), y = from.y + part * (m.end.y - from.y),
                     z = from.z + part * (m.end.z - from.z);
        least = std::min(least, bent(x, y) - z);
        most = std::max(most, bent(x, y) - z);
      }
    from = m.end;
    first = false;
  }
  return {least, most};
}

const char* const ring =
    "G21 G90\nG0 Z5\nG0 X20 Y28.5\nS9000 M3\nG1 Z-0.2 F300\nG3 X20 Y28.5 I25 J0 F900\nG1 X5 Y5\nG1 X95 Y50\nG0 "
    "Z5\nM5\nM2\n";

TEST(SurfaceMap, IsExactAtTheTouchesAndOnASheetsBend) {
  const auto grid = height_grid(touched(5, 4));
  ASSERT_TRUE(grid) << grid.error().message;
  EXPECT_EQ(grid->xs.size(), 5u);
  EXPECT_EQ(grid->ys.size(), 4u);
  for (double x = 0; x <= length; x += 3.7)
    for (double y = 0; y <= breadth; y += 3.1) EXPECT_NEAR(height_at(*grid, x, y), bent(x, y), 1e-12);
  // Straight on for half a gap from the last two touches, then level.
  const double slope = (bent(100, 0) - bent(75, 0)) / 25;
  EXPECT_NEAR(height_at(*grid, 110, 0), bent(100, 0) + 10 * slope, 1e-12);
  EXPECT_NEAR(height_at(*grid, 400, 0), bent(100, 0) + 12.5 * slope, 1e-12);
  EXPECT_EQ(beyond(grid->xs, 112), 0);
  EXPECT_NEAR(beyond(grid->xs, 115), 2.5, 1e-12);
  EXPECT_NEAR(beyond(grid->xs, -13), 0.5, 1e-12);
}

TEST(SurfaceMap, FewPlacesAreAPlaneAndGapsAreRefused) {
  const auto plane = height_grid({{0, 0, 0}, {10, 0, 1}, {0, 20, 2}, {10, 20, 3}});
  ASSERT_TRUE(plane);
  EXPECT_NEAR(height_at(*plane, 5, 10), 1.5, 1e-12);
  EXPECT_EQ(height_grid({{0, 0, 0}, {10, 0, 1}}).error().code, "too_few");
  auto all = touched(3, 3);
  all.pop_back();
  EXPECT_EQ(height_grid(all).error().code, "degenerate");
  all.push_back(all.front());
  EXPECT_EQ(height_grid(all).error().code, "degenerate") << "one place twice, one never";
}

TEST(FollowingCopy, IsAsDeepEverywhereOnABentPlate) {
  const auto grid = height_grid(touched(5, 4, 0.003));
  const auto copy = following_copy(ring, *grid, 0.005);
  ASSERT_TRUE(copy) << copy.error().message;
  EXPECT_EQ(copy->arcs, 1u);
  const auto [least, most] = depths(copy->program);
  EXPECT_NEAR(least, deep, 0.02);
  EXPECT_NEAR(most, deep, 0.02);
  EXPECT_LT(least, most) << "what was touched scatters";
  EXPECT_NEAR(copy->largest_change, bent(70, 28.5), 0.1);
}

TEST(FollowingCopy, InchesAndIncrementsComeOutTheSame) {
  const auto grid = height_grid(touched(6, 5));
  const char* const inches =
      "G20 G90\nG0 Z0.2\nG0 X0.8 Y1.1\nG1 Z-0.00787402 F12\nG1 X3.6 Y0.3 F36\nG91\nG1 X-2 Y1.5\nG1 X-1\nG90\nG0 "
      "Z0.2\nM2\n";
  const auto copy = following_copy(inches, *grid, 0.002);
  ASSERT_TRUE(copy) << copy.error().message;
  const auto [least, most] = depths(copy->program);
  EXPECT_NEAR(least, deep, 0.004);
  EXPECT_NEAR(most, deep, 0.004);
  const WorkPosition meant{0.6 * 25.4, 1.8 * 25.4, 0};
  const Motion& last_cut = *std::find_if(copy->program.motions.rbegin(), copy->program.motions.rend(), is_cut);
  EXPECT_NEAR(last_cut.end.x, meant.x, 1e-4);
  EXPECT_NEAR(last_cut.end.y, meant.y, 1e-4);
}

TEST(FollowingCopy, LiftsBeforeAPlaceIsKnownAreLeftAsTheyAre) {
  const auto grid = height_grid(touched(5, 4));
  const auto copy = following_copy("G21 G90\nG0 Z5\nG0 X50 Y28.5\nG1 Z-1 F100\nM2\n", *grid, 0.005);
  ASSERT_TRUE(copy) << copy.error().message;
  EXPECT_DOUBLE_EQ(copy->program.motions.front().end.z, 5);
  EXPECT_NEAR(copy->program.motions.back().end.z, -1 + bent(50, 28.5), 1e-4);
}

TEST(FollowingCopy, RefusesWhatWasNotTouchedOrLiesElsewhere) {
  const auto grid = height_grid(touched(5, 4));
  const auto beside = following_copy("G21 G90\nG0 X10 Y10 Z5\nG1 Z-1 F100\nG1 X130\nM2\n", *grid, 0.005);
  ASSERT_FALSE(beside);
  EXPECT_EQ(beside.error().code, "beyond_map");
  EXPECT_NE(beside.error().message.find("17.5 mm beside"), std::string::npos) << beside.error().message;
  const auto bulge = following_copy("G21 G90\nG0 X85 Y-1.5 Z5\nG1 Z-1 F100\nG3 X85 Y58.5 I0 J30\nM2\n", *grid, 0.005);
  ASSERT_FALSE(bulge) << "an arc whose ends lie inside";
  EXPECT_EQ(bulge.error().code, "beyond_map");
  auto high = *grid;
  for (double& z : high.heights) z += 4;
  EXPECT_EQ(following_copy(ring, high, 0.005).error().code, "far_off");
  EXPECT_EQ(following_copy(ring, *grid, 0).error().code, "out_of_range");
  EXPECT_FALSE(following_copy("G1 X", *grid, 0.005));
  EXPECT_TRUE(following_copy("G21 G90\nG0 X900 Y900 Z5\nG0 X10 Y10\nG1 Z-1 F100\nM2\n", *grid, 0.005))
      << "a rapid may come from anywhere";
}

}  // namespace following_copy_test
}  // namespace ypsi
