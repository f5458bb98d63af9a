// Lost motion by indicator, bed map, edge run, a square turned over, what a program takes for Z zero.
#include "core/calibration/bed.h"
#include "core/calibration/contours.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/calibration/lost_motion.h"
#include "core/calibration/probing.h"
#include "core/calibration/tool_setter.h"
#include "core/program/interpreter.h"
#include "core/program/z_reference.h"

namespace ypsi {
namespace {

const Instrument indicator{"indicator", 0.001, 1, 0.002, 0, 0};

TEST(LostMotion, SlackIsPositiveAndWorkedByHand) {
  // Differences 0.10, 0.12, 0.11: mean 0.11, s 0.01 (three values one hundredth apart).
  const auto r = evaluate_lost_motion({{0.30, 0.20}, {0.52, 0.40}, {0.71, 0.60}}, indicator).value();
  EXPECT_NEAR(r.mean, 0.11, 1e-12);
  EXPECT_NEAR(r.s, 0.01, 1e-12);
  EXPECT_NEAR(r.largest, 0.12, 1e-12);
  // chi2 = 2 * 0.01^2 / V with V = 2 * (0.001^2/12 + 0.002^2) exceeds 5.99: u is the readings' own, s / sqrt 3.
  EXPECT_TRUE(r.coverage.scatter_exceeds_claim);
  EXPECT_NEAR(r.u, 0.01 / std::sqrt(3.0), 1e-9);
  EXPECT_NEAR(r.U / r.u, 2.776445, 1e-5) << "t(0.975; 4)";
}

TEST(LostMotion, OneReadingHasTheIndicatorsUncertainty) {
  const auto r = evaluate_lost_motion({{0.1, 0.0}}, indicator).value();
  EXPECT_NEAR(r.u, 0.002857738, 1e-9) << "two readings, each with its own scatter";
  EXPECT_EQ(r.s, 0);
  EXPECT_EQ(evaluate_lost_motion({}, indicator).error().code, "too_few");
}

TEST(Bed, APlaneWithOneBump) {
  // z = 1 + 0.001 x - 0.002 y on the corners and the middle of a square; the bump of 0.5 in the middle spreads as 4/5
  // and -1/5.
  std::vector<BedPoint> points;
  for (const auto& [x, y] : {std::pair{0., 0.}, {100., 0.}, {0., 100.}, {100., 100.}, {50., 50.}})
    points.push_back({x, y, 1 + 0.001 * x - 0.002 * y});
  points.back().z += 0.5;
  const auto map = map_bed(points).value();
  EXPECT_NEAR(map.slope_x, 0.001, 1e-12);
  EXPECT_NEAR(map.slope_y, -0.002, 1e-12);
  EXPECT_NEAR(map.residuals.back(), 0.4, 1e-12);
  EXPECT_NEAR(map.residuals.front(), -0.1, 1e-12);
  EXPECT_NEAR(map.peak_to_valley, 0.5, 1e-12);
  EXPECT_NEAR(map.depth_to_flat, 1.45 - 0.8, 1e-12);
  // s² = (4·0.1² + 0.4²)/(5 - 3) = 0.1 about the plane, over four times 50² along either side.
  EXPECT_NEAR(map.u_slope_x, std::sqrt(0.1 / 10000), 1e-12);
  EXPECT_NEAR(map.u_slope_y, map.u_slope_x, 1e-12);
  EXPECT_EQ(map_bed({{0, 0, 0}, {1, 0, 0}, {0, 1, 1}}).value().u_slope_x, 0) << "three points lie on their plane";
  EXPECT_EQ(map_bed({{0, 0, 0}, {1, 1, 0}, {2, 2, 1}}).error().code, "degenerate");
  EXPECT_EQ(map_bed({{0, 0, 0}, {1, 1, 0}}).error().code, "too_few");
}

TEST(Bed, AnEdgeRunSaysWhatToTap) {
  const auto run = run_edge({{400, 0.08}, {0, 0.00}, {200, 0.04}}).value();
  EXPECT_NEAR(run.mm_per_m, 0.2, 1e-12);
  EXPECT_NEAR(run.tap_far_end, 0.08, 1e-12);
  EXPECT_EQ(run_edge({{5, 0}, {5, 1}}).error().code, "degenerate");
}

TEST(Bed, TurningTheSquareOverTellsItFromTheMachine) {
  // A machine that leans 1.2 mrad and a square that lacks 0.4: 0.8 is read, and 1.6 with the square turned over.
  const auto r = turn_over(0.0008, 0.0016);
  EXPECT_NEAR(r.machine, 0.0012, 1e-15);
  EXPECT_NEAR(r.square, -0.0004, 1e-15);
}

TEST(References, CentreAndConstant) {
  EXPECT_DOUBLE_EQ(centre_of_edges(10, 40), 25);
  EXPECT_DOUBLE_EQ(centre_of_edges(40, 10), 25);
  EXPECT_DOUBLE_EQ(setter_to_work(-41, -63), 22) << "the setter stands 22 above work zero";
}

TEST(ZReference, IsReadFromWhereTheProgramCuts) {
  const auto of = [](const std::string& text) {
    const Program program = read_program("F500\n" + text).value();
    return expected_z_reference(program, TipDrop(program, Book{}, 0), 18, 0.3);
  };
  EXPECT_EQ(of("G1 Z-2\nG1 X100\nG1 Z-6\nX0\n"), ZReference::stock_top);
  EXPECT_EQ(of("G0 Z25\nG1 Z16\nG1 X100\nG1 Z0\nX0\n"), ZReference::bed);
  EXPECT_EQ(of("G0 Z25\nG1 Z14\nG1 X100\nG1 Z-0.2\nX0\nZ10\nX200\n"), ZReference::bed) << "a skin of 0.2 is cut off";
  EXPECT_EQ(of("G1 Z-30\nG1 X100\n"), ZReference::unclear) << "deeper than stock and skin";
  EXPECT_EQ(of("G0 X10\n"), ZReference::unclear);
}

TEST(SquareByReversal, HalfTheSumIsTheMachinesAndHalfTheDifferenceTheSquares) {
  const auto found = square_by_reversal(300, 0.6, 0.3, indicator);
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->skew, 0.0015, 1e-8);
  EXPECT_NEAR(found->square, 0.0005, 1e-8);
  // By a pocket calculator: two readings of 0.00202073 each, t(0.975; 8) = 2.306004, over 300 mm.
  EXPECT_NEAR(found->U, 1.09833e-5, 1e-9);
  EXPECT_EQ(square_by_reversal(0, 0.1, 0.1, indicator).error().code, "out_of_range");
  EXPECT_EQ(square_by_reversal(300, std::nan(""), 0.1, indicator).error().code, "out_of_range");
  EXPECT_EQ(square_by_reversal(300, 400, 0.1, indicator).error().code, "out_of_range");
}

TEST(Contours, CrossTheCellsWhereTheHeightIs) {
  // A plane rising with x: level 0.25 stands at x = 2.5 in every row.
  const HeightGrid plane{{0, 10, 20}, {0, 5}, {0, 1, 2, 0, 1, 2}};
  const auto lines = contour(plane, 0.25);
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_NEAR(lines[0].from.x, 2.5, 1e-12);
  EXPECT_NEAR(lines[0].to.x, 2.5, 1e-12);
  EXPECT_TRUE(contour(plane, 5).empty());
  const HeightGrid saddle{{0, 1}, {0, 1}, {1, 0, 0, 1}};
  EXPECT_EQ(contour(saddle, 0.4).size(), 2u);
  EXPECT_EQ(contour(saddle, 0.6).size(), 2u);
  // The middle is 0.5: above level 0.4 the high corners hang together, so each line cuts a low corner off.
  for (const auto& l : contour(saddle, 0.4))
    EXPECT_NEAR(std::fabs(l.from.x - l.to.x) + std::fabs(l.from.y - l.to.y), 0.8, 1e-12);
  EXPECT_NEAR(contour_step(0.54, 6), 0.1, 1e-12);
  EXPECT_NEAR(contour_step(1.2, 6), 0.2, 1e-12);
  EXPECT_NEAR(contour_step(25, 6), 5, 1e-12);
}

}  // namespace
}  // namespace ypsi
