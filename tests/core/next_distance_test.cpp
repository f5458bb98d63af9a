// Which distance to read next between marks. The U of a lean by two diagonals of a square of side a, each read n times
// with a rule of u a reading: sin g = (AC2 - BD2)/4a2, so u(g) = diagonal * sqrt(2/n) * u / 2a2 = u / (a * sqrt(n)).
#include <gtest/gtest.h>

#include <cmath>

#include "core/calibration/next_distance.h"
#include "core/half_mm_ruler.h"

namespace ypsi {
namespace {

/// A square whose Y leans by 2 mrad towards X, its diagonals as they are.
SquareInput diagonals(double side, const Instrument& with) {
  SquareInput in;
  in.points = {{"A", {0, 0}}, {"B", {side, 0}}, {"C", {side, side}}, {"D", {0, side}}};
  const double s = std::sin(2e-3), c = std::cos(2e-3);
  in.distances = {{0, 2, side * std::hypot(1 + s, c)}, {1, 3, side * std::hypot(1 - s, c)}};
  in.instrument = with;
  return in;
}

TEST(NextDistance, IsADiagonalAgainAndNeverASide) {
  const SquareInput in = diagonals(500, half_mm_ruler());
  const auto next = next_distance(in);
  ASSERT_TRUE(next);
  EXPECT_TRUE((next->from == 0 && next->to == 2) || (next->from == 1 && next->to == 3)) << next->from << next->to;
  EXPECT_LT(next->U_skew, fit_square(in)->fit->U_skew);
}

TEST(NextDistance, LeadsWhereRepeatedDiagonalsLead) {
  SquareInput in = diagonals(500, half_mm_ruler());
  const double u = std::sqrt(2 * 0.25 / 12 + 0.15 * 0.15);  // of a reading: two ends, and the hand
  const auto ahead = distances_ahead(in, 2.2 * u / (500 * std::sqrt(3)));
  ASSERT_TRUE(ahead);
  EXPECT_TRUE(ahead->reaches);
  EXPECT_EQ(ahead->readings, 4) << "three of each: k(8 + 4) is 2.18, and 2.2 was asked for";
  for (int i = 0; i < 2; ++i) {
    in.distances.push_back(in.distances[0]);
    in.distances.push_back(in.distances[1]);
  }
  const auto fit = fit_square(in);
  ASSERT_TRUE(fit && fit->fit);
  EXPECT_NEAR(fit->fit->u_skew, u / (500 * std::sqrt(3)), 0.01 * u / 500);
  const auto never = distances_ahead(diagonals(100, half_mm_ruler()), 1e-5);
  ASSERT_TRUE(never);
  EXPECT_FALSE(never->reaches) << "a rule over 141 mm does not tell a hundredth of a milliradian";
  EXPECT_EQ(never->readings, most_distances_ahead);
}

TEST(NextDistance, IsNoneWhereWhatIsReadDoesNotTellTheLean) {
  SquareInput in = diagonals(500, half_mm_ruler());
  in.distances = {{0, 1, 500}, {1, 2, 500}};
  EXPECT_FALSE(next_distance(in)) << "sides alone: what is missing says it";
  in.distances.clear();
  EXPECT_FALSE(next_distance(in));
  EXPECT_FALSE(distances_ahead(in, 1e-3));
}

}  // namespace
}  // namespace ypsi
