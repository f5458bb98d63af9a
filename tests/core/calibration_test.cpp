// Published and closed-form cases, properties and edges of the calculations. Expected values are worked by hand or come
// from the source named; the independent examples are compared in tests/cli.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "core/calibration/first_cut.h"
#include "core/calibration/homing.h"
#include "core/calibration/limits.h"
#include "core/calibration/positioning.h"
#include "core/calibration/probing.h"
#include "core/calibration/squareness.h"
#include "core/calibration/tool_setter.h"
#include "core/calibration/tram.h"

namespace ypsi {
namespace {

using std::numbers::pi;

Instrument caliper() {
  return {"caliper", 0.01, 1, 0.012, 0.015, 0};
}

// ISO 230-2:2014, clause 3, on two targets small enough for paper.
// Target 1: up 0, 2 um (mean 1, s sqrt 2); down 5, 7 (mean 6, s sqrt 2). Target 2: up 3, 3 (s 0); down 4, 6 (mean 5, s
// sqrt 2).
TEST(Positioning, WorkedByHandAfterTheStandard) {
  const auto r =
      evaluate_positioning({100, 200}, {{true, {0, 3}}, {true, {2, 3}}, {false, {5, 4}}, {false, {7, 6}}}).value();
  const double s = std::sqrt(2.0);
  EXPECT_NEAR(r.reversal, 5, 1e-12);
  EXPECT_NEAR(r.mean_reversal, -3.5, 1e-12);
  EXPECT_NEAR(r.repeatability_plus, 4 * s, 1e-12);
  EXPECT_NEAR(r.repeatability_minus, 4 * s, 1e-12);
  EXPECT_NEAR(r.repeatability, 4 * s + 5, 1e-12);
  EXPECT_NEAR(r.systematic, 6 - 1, 1e-12);
  EXPECT_NEAR(r.mean_deviation_range, 4 - 3.5, 1e-12);
  EXPECT_NEAR(r.accuracy_plus, std::max(1 + 2 * s, 3.0) - (1 - 2 * s), 1e-12);
  EXPECT_NEAR(r.accuracy_minus, (6 + 2 * s) - (5 - 2 * s), 1e-12);
  EXPECT_NEAR(r.accuracy, (6 + 2 * s) - (1 - 2 * s), 1e-12);
}

TEST(Positioning, MeanReversalHasTheTestsOwnScatterInItsU) {
  // Two targets, two runs: s = 0.01·√2 each way at the first, 0 at the second.
  const auto result = evaluate_positioning(
      {0, 100}, {{true, {0.01, 0.02}}, {false, {0.11, 0.12}}, {true, {0.03, 0.02}}, {false, {0.13, 0.12}}});
  ASSERT_TRUE(result);
  Instrument exact;
  exact.resolution_mm = 1e-9;
  const MeanReversal slack = mean_reversal(*result, 2, exact);
  EXPECT_NEAR(slack.lost_motion, 0.1, 1e-12);
  EXPECT_NEAR(slack.U, 2.7764451 * std::sqrt(2 * 2e-4 / 2 / 4), 1e-8) << "t for 4 degrees of freedom";
}

TEST(Positioning, NeedsTwoRunsEachWayAndOneDeviationPerTarget) {
  EXPECT_EQ(evaluate_positioning({1, 2}, {{true, {0, 0}}, {true, {0, 0}}, {false, {0, 0}}}).error().code, "too_few");
  EXPECT_EQ(evaluate_positioning({1, 2}, {{true, {0}}, {true, {0, 0}}, {false, {0, 0}}, {false, {0, 0}}}).error().where,
            "runs[0].deviation_mm");
  EXPECT_EQ(evaluate_positioning({1}, {}).error().code, "too_few");
}

SquareInput rectangle_read(double w, double h, double sx, double sy, double skew,
                           const std::vector<std::array<std::size_t, 2>>& pairs) {
  SquareInput in;
  in.instrument = caliper();
  in.points = {{"A", {0, 0}}, {"B", {w, 0}}, {"C", {w, h}}, {"D", {0, h}}};
  const auto place = [&](const Point2& p) {
    return Point2{sx * p.x + sy * p.y * std::sin(skew), sy * p.y * std::cos(skew)};
  };
  for (const auto& [a, b] : pairs) {
    const Point2 p = place(in.points[a].commanded), q = place(in.points[b].commanded);
    in.distances.push_back({a, b, std::hypot(q.x - p.x, q.y - p.y), HoleEdge::center, 0});
  }
  return in;
}

enum { A, B, C, D };

TEST(Square, ExactDiagonalsOfARectangle) {
  // sin(skew) = (AC^2 - BD^2) / (4 AB AD), exact for a parallelogram.
  const auto in = rectangle_read(600, 400, 1, 1, 0.0017, {{A, C}, {B, D}, {A, B}});
  const double ac = in.distances[0].measured, bd = in.distances[1].measured;
  const auto r = fit_square(in).value();
  EXPECT_NEAR(r.fit->skew, 0.0017, 1e-12);
  EXPECT_NEAR(std::sin(r.fit->skew), (ac * ac - bd * bd) / (4 * 600 * 400), 1e-12);
  EXPECT_NEAR(r.fit->scale_x, 1, 1e-12);
}

TEST(Square, TheTruthComesBackForEverySetThatCanTellIt) {
  std::mt19937 random(3);
  std::uniform_real_distribution<double> scale(0.98, 1.02), lean(-0.004, 0.004);
  const std::vector<std::vector<std::array<std::size_t, 2>>> sets{{{A, B}, {A, D}, {A, C}},
                                                                  {{A, C}, {B, D}, {A, B}},
                                                                  {{A, B}, {B, C}, {C, D}, {D, A}, {A, C}, {B, D}},
                                                                  {{A, D}, {B, D}, {A, C}}};
  for (int i = 0; i < 100; ++i)
    for (const auto& set : sets) {
      const double sx = scale(random), sy = scale(random), skew = lean(random);
      const auto r = fit_square(rectangle_read(500 + i, 300, sx, sy, skew, set)).value();
      ASSERT_TRUE(r.fit);
      EXPECT_NEAR(r.fit->scale_x, sx, 1e-9);
      EXPECT_NEAR(r.fit->scale_y, sy, 1e-9);
      EXPECT_NEAR(r.fit->skew, skew, 1e-9);
    }
}

/// Marks stand on whole steps: two diagonals tell the lean all the same, and nothing of the scales.
TEST(Square, StepsOfTheMarksDoNotHideTheLean) {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> scale(0.98, 1.02), lean(-0.004, 0.004), off(-0.0125, 0.0125);
  for (int i = 0; i < 200; ++i) {
    const double sx = scale(random), sy = scale(random), skew = lean(random);
    auto in = rectangle_read(796.6, 582.7, sx, sy, skew, {{A, C}, {B, D}});
    for (auto& point : in.points) {  // where it says that it stands, and truly does
      point.commanded.x = point.commanded.x + off(random);
      point.commanded.y = point.commanded.y + off(random);
    }
    for (auto& d : in.distances) {
      const Point2 p = in.points[d.from].commanded, q = in.points[d.to].commanded;
      const double y = sy * (q.y - p.y);
      d.measured = std::hypot(sx * (q.x - p.x) + y * std::sin(skew), y * std::cos(skew));
    }
    const auto r = fit_square(in).value();
    ASSERT_TRUE(r.fit) << i;
    EXPECT_EQ(r.fit->model, SquareModel::common_scale);
    EXPECT_NEAR(r.fit->skew, skew, std::max(r.fit->U_skew, 1e-4)) << i;
    EXPECT_FALSE(r.missing.empty()) << "which would tell the scales";
  }
}

TEST(Square, WhatCannotBeToldIsSaidWithTheDistanceThatWould) {
  const auto common = fit_square(rectangle_read(600, 400, 1.001, 1.001, 0.002, {{A, C}, {B, D}})).value();
  EXPECT_EQ(common.fit->model, SquareModel::common_scale);
  EXPECT_NEAR(common.fit->skew, 0.002, 1e-9);
  EXPECT_FALSE(common.fit->new_steps);
  ASSERT_FALSE(common.missing.empty());
  for (const auto& set : std::vector<std::vector<std::array<std::size_t, 2>>>{
           {{A, B}}, {{A, C}, {A, B}}, {{A, B}, {C, D}}, {{A, B}, {A, D}}, {{A, C}}}) {
    auto in = rectangle_read(600, 400, 1, 1, 0.002, set);
    const auto r = fit_square(in).value();
    EXPECT_EQ(r.verdict, SquareVerdict::cannot_tell);
    EXPECT_FALSE(r.fit);
    ASSERT_FALSE(r.missing.empty());
    auto more = set;
    more.insert(more.end(), r.missing.begin(), r.missing.end());
    EXPECT_NE(fit_square(rectangle_read(600, 400, 1, 1, 0.002, more))->verdict, SquareVerdict::cannot_tell)
        << "what is named must settle it";
  }
}

TEST(Square, EdgesOfHolesAndTheBeam) {
  auto in = rectangle_read(600, 400, 1, 1, 0.002, {{A, C}, {B, D}, {A, B}});
  for (auto& d : in.distances) d.edge = HoleEdge::outer, d.hole_diameter = 3, d.measured += 3;
  in.distances[2].edge = HoleEdge::inner;
  in.distances[2].measured -= 6;
  in.rail_spacing = 860;
  in.steps_per_mm = {{80, 80}};
  const auto r = fit_square(in).value();
  EXPECT_NEAR(r.fit->skew, 0.002, 1e-12);
  ASSERT_TRUE(r.fit->gantry);
  EXPECT_TRUE(r.fit->gantry->right);
  EXPECT_FALSE(r.fit->gantry->towards_plus) << "Y leans to +X: the right end goes towards -Y";
  EXPECT_NEAR(r.fit->gantry->distance, 860 * std::tan(0.002), 1e-9);
  EXPECT_EQ(*r.fit->gantry->steps, 138);
  in.hold_right = true;
  EXPECT_TRUE(fit_square(in)->fit->gantry->towards_plus);
  in.distances[0].from = in.distances[0].to;
  EXPECT_EQ(fit_square(in).error().code, "degenerate");
}

TEST(Square, ALargerRectangleTellsMore) {
  double last = 1;
  for (const double size : {100.0, 200.0, 400.0, 800.0}) {
    const double u = fit_square(rectangle_read(size, size * 0.7, 1, 1, 0.001, {{A, C}, {B, D}, {A, B}}))->fit->u_skew;
    EXPECT_NEAR(u / last, last == 1 ? u : 0.5, last == 1 ? 1 : 1e-3) << "u falls with size";
    last = u;
  }
}

TEST(Limits, ClosedFormsOfStoppingAndSeeking) {
  LimitsInput in{false, 0, 815, 2, 4, 3, 1800, 6000, 1800, 400, 0.01, 4.0, 0.6};
  const auto r = evaluate_limits(in);
  EXPECT_DOUBLE_EQ(r.soft_min, 2);
  EXPECT_DOUBLE_EQ(r.soft_max, 811);
  EXPECT_DOUBLE_EQ(r.stop_distance_seek, 30 * 0.01 + 900.0 / 800);
  EXPECT_TRUE(r.problems.empty());
  // At the fastest safe approach the stopping distance is the overtravel.
  EXPECT_NEAR(stopping_distance(r.max_safe_seek, 400, 0.01), 3, 1e-12);
  in.home_at_max = true;
  const auto other = evaluate_limits(in);
  EXPECT_DOUBLE_EQ(other.soft_min, -811);
  EXPECT_DOUBLE_EQ(other.soft_max, -2);
}

TEST(Limits, EachProblemIsNamed) {
  const auto problems = [](auto change) {
    LimitsInput in{false, 0, 815, 2, 4, 3, 1800, 6000, 1800, 400, 0, 4.0, 0.6};
    change(in);
    return evaluate_limits(in).problems;
  };
  using enum LimitsProblem;
  EXPECT_EQ(problems([](auto& in) { in.travel = 5; }), std::vector{no_usable_travel});
  EXPECT_EQ(problems([](auto& in) { in.overtravel_home = 0.5; }), std::vector{seek_too_fast});
  EXPECT_EQ(problems([](auto& in) { in.clearance_far = 1; }), std::vector{far_clearance_shorter_than_stop});
  EXPECT_EQ(problems([](auto& in) { in.release = 4; }), std::vector{pull_off_shorter_than_release});
  EXPECT_EQ(problems([](auto& in) { in.clearance_home = 4.5; }), std::vector{limit_beyond_pull_off});
}

TEST(Homing, DriftScatterAndRest) {
  // A pure drift of 2 um a trial, read to 1 um: slope exact, U from the resolution alone.
  const auto drift = evaluate_homing({0, 0.002, 0.004, 0.006, 0.008}, 0.05, 0.001).value();
  EXPECT_NEAR(drift.drift, 0.002, 1e-15);
  EXPECT_NEAR(drift.U_drift, 3.18244630528 * 0.001 / std::sqrt(12.0) / std::sqrt(10.0), 1e-9)
      << "t(0.975; 3) = 3.182446";
  EXPECT_EQ(drift.verdict, HomingVerdict::repeatable) << "8 um in all, where 50 are good enough";
  EXPECT_EQ(evaluate_homing({0, 0.002, 0.004, 0.006, 0.008}, 0.007, 0.001)->verdict, HomingVerdict::drifting);
  EXPECT_EQ(evaluate_homing({0.01, -0.01, 0.01, -0.01, 0.01, -0.01}, 0.01, 0.001)->verdict, HomingVerdict::scattered);
  const auto same = evaluate_homing(std::vector<double>(7, 1234.5678), 0.01, 0.001).value();
  EXPECT_EQ(same.s, 0);
  EXPECT_EQ(same.drift, 0);
  EXPECT_EQ(same.verdict, HomingVerdict::repeatable);
  EXPECT_EQ(evaluate_homing({1, 2, 3, 4}, 1, 1).error().code, "too_few");
}

TEST(Probing, PlateCarriesTheZeroToTheOtherSide) {
  EXPECT_DOUBLE_EQ(touch_plate(-30, 12, true, false, 18).work_zero_z, -42);
  EXPECT_DOUBLE_EQ(touch_plate(-30, 12, true, true, 18).work_zero_z, -60);
  EXPECT_DOUBLE_EQ(touch_plate(-30, 12, false, false, 18).work_zero_z, -24);
  EXPECT_DOUBLE_EQ(touch_plate(-30, 12, false, true, 18).work_zero_z, -42);
  EXPECT_DOUBLE_EQ(touched_edge(50, true, 6, 10), 63);
  EXPECT_DOUBLE_EQ(touched_edge(50, false, 6, 0), 47);
}

TEST(Probing, RotationWhicheverPointCameFirst) {
  const double turn = 0.02;
  const Point2 a{10, 20}, along_x{10 + 100 * std::cos(turn), 20 + 100 * std::sin(turn)},
      along_y{10 - 100 * std::sin(turn), 20 + 100 * std::cos(turn)};
  for (const bool swap : {false, true}) {
    EXPECT_NEAR(edge_rotation(swap ? along_x : a, swap ? a : along_x, false)->rotation, turn, 1e-12);
    EXPECT_NEAR(edge_rotation(swap ? along_y : a, swap ? a : along_y, true)->rotation, turn, 1e-12);
  }
  EXPECT_NEAR(edge_rotation(a, along_x, false)->mm_per_m, 1000 * std::tan(turn), 1e-9);
  EXPECT_EQ(edge_rotation(a, a, false).error().code, "degenerate");
  EXPECT_EQ(edge_rotation({0, 0}, {0, 5}, false).error().code, "degenerate");
}

TEST(Probing, CircleThroughThreePoints) {
  // The circle through (0,0), (4,0), (0,3) has the middle of the hypotenuse for its centre (Thales).
  const auto c = fit_circle({{0, 0}, {4, 0}, {0, 3}}, 1, true).value();
  EXPECT_NEAR(c.center.x, 2, 1e-9);
  EXPECT_NEAR(c.center.y, 1.5, 1e-9);
  EXPECT_NEAR(c.diameter, 6, 1e-9);
  EXPECT_NEAR(fit_circle({{0, 0}, {4, 0}, {0, 3}}, 1, false)->diameter, 4, 1e-9);
}

TEST(Probing, CirclesFarAwaySmallAndByAShortArc) {
  for (const auto& [x, y, r, arc] :
       {std::array{1e6, -1e6, 5.0, 2 * pi}, {0.0, 0.0, 1e-6, 2 * pi}, {3.0, 4.0, 100.0, 0.5}, {1e9, 0.0, 1e8, 3.0}}) {
    std::vector<Point2> points;
    for (int i = 0; i < 12; ++i) points.push_back({x + r * std::cos(arc * i / 12), y + r * std::sin(arc * i / 12)});
    const auto c = fit_circle(points, 0, true).value();
    EXPECT_NEAR(c.diameter / (2 * r), 1, 1e-6) << r;
  }
  // Geometric distance, not algebraic: a stationary sum of squares against any small move of the centre or radius.
  std::mt19937 random(2);
  std::normal_distribution<double> noise(0, 0.2);
  std::vector<Point2> points;
  for (int i = 0; i < 7; ++i)
    points.push_back({10 * std::cos(i * 0.3) + noise(random), 10 * std::sin(i * 0.3) + noise(random)});
  const auto c = fit_circle(points, 0, true).value();
  const auto cost = [&](double dx, double dy, double dr) {
    double sum = 0;
    for (const auto& p : points)
      sum += std::pow(std::hypot(p.x - c.center.x - dx, p.y - c.center.y - dy) - c.diameter / 2 - dr, 2);
    return sum;
  };
  for (const double e : {-1e-4, 1e-4}) {
    EXPECT_GE(cost(e, 0, 0), cost(0, 0, 0));
    EXPECT_GE(cost(0, e, 0), cost(0, 0, 0));
    EXPECT_GE(cost(0, 0, e), cost(0, 0, 0));
  }
  EXPECT_NEAR(c.rms, std::sqrt(cost(0, 0, 0) / 7), 1e-12);
}

TEST(Probing, PointsOnALineAreNoCircle) {
  EXPECT_EQ(fit_circle({{0, 0}, {1, 1}, {2, 2}, {5, 5}}, 0, true).error().code, "degenerate");
  EXPECT_EQ(fit_circle({{1, 1}, {1, 1}, {1, 1}}, 0, true).error().code, "degenerate");
  EXPECT_EQ(fit_circle({{0, 0}, {1, 0}, {0, 0}}, 0, true).error().code, "degenerate");
  EXPECT_EQ(fit_circle({{0, 0}, {4, 0}, {0, 3}}, 6, false).error().code, "degenerate")
      << "a tip larger than the boss's path";
}

TEST(Setter, PooledScatterWorkedByHand) {
  // Reference 0, 2 um (squares 2); tool 10, 12, 14 (squares 8): pooled s = sqrt(10 / 3) with 3 degrees of freedom.
  const auto r = evaluate_setter({0, 0.002}, {{4, {0.010, 0.012, 0.014}}, {5, {0.02}}}, -50.0, 0).value();
  const double s = std::sqrt(10.0 / 3) * 1e-3;
  EXPECT_NEAR(*r.s_pooled, s, 1e-15);
  EXPECT_NEAR(r.tools[0].offset, 0.011, 1e-15);
  EXPECT_NEAR(*r.tools[0].u, s * std::sqrt(1 / 3.0 + 1 / 2.0), 1e-15);
  EXPECT_NEAR(*r.tools[0].U / *r.tools[0].u, 3.182446, 1e-6);
  EXPECT_NEAR(*r.tools[0].work_zero_z, -49.989, 1e-12);
  EXPECT_FALSE(r.tools[1].s);
  // Each trigger is known to a step of 6 um: 1 um^2 for each of the two, with a scatter of nothing.
  const auto stepped = evaluate_setter({0, 0}, {{4, {0.01, 0.01}}}, std::nullopt, 0.006).value();
  EXPECT_NEAR(*stepped.tools[0].u, std::sqrt(6.0) * 1e-3, 1e-15) << "never nothing";
  const auto single = evaluate_setter({-40}, {{2, {-38}}}, std::nullopt, 0.01).value();
  EXPECT_FALSE(single.s_pooled);
  EXPECT_FALSE(single.tools[0].u);
  EXPECT_FALSE(single.tools[0].work_zero_z);
}

TEST(Tram, TiltComesBackFromAnySweep) {
  TramInput in{80, {}, 64, 110, 25, 18, {}, {}};
  const double tx = 0.0013, ty = -0.0004;
  for (const double degrees : {10.0, 95.0, 200.0, 300.0, 350.0}) {
    const double a = degrees * pi / 180;
    in.sweep.push_back({a, 0.5 + tx * 80 * std::cos(a) + ty * 80 * std::sin(a)});
  }
  const auto r = evaluate_tram(in).value();
  EXPECT_NEAR(r.tilt_x, tx, 1e-12);
  EXPECT_NEAR(r.tilt_y, ty, 1e-12);
  EXPECT_NEAR(r.shim_x, tx * 64, 1e-12);
  EXPECT_NEAR(r.ridge, 18 * std::hypot(tx, ty), 1e-12);
  EXPECT_NEAR(r.hollow, (12.5 - std::sqrt(12.5 * 12.5 - 81)) * std::hypot(tx, ty), 1e-12);
  in.sweep = {{0, 1}, {2 * pi, 1}, {1, 2}};
  EXPECT_EQ(evaluate_tram(in).error().code, "degenerate") << "a full turn is the same angle";
  in.stepover = 25;
  EXPECT_EQ(evaluate_tram(in).error().code, "degenerate");
}

/// Features of a part cut with known errors, without noise.
struct TrueCut {
  double ex = 0, ey = 0, dD = 0, bx = 0, by = 0, ez = 0, z0 = 0, D = 6;
  Feature size(FeatureKind kind, Axis axis, double n) const {
    const double e = axis == Axis::x ? ex : ey, b = axis == Axis::x ? bx : by;
    double m = n;
    switch (kind) {
      case FeatureKind::inside:
        m += e * (n - D) + dD - b;
        break;
      case FeatureKind::outside:
        m += e * (n + D) - dD - b;
        break;
      case FeatureKind::spacing:
        m += e * n;
        break;
      case FeatureKind::depth:
        m += ez * n + z0;
        break;
      default:
        break;
    }
    return {kind, axis, n, m};
  }
};

using Wanted = std::tuple<FeatureKind, Axis, double>;
FirstCutInput part(const TrueCut& truth, const std::vector<Wanted>& features) {
  FirstCutInput in;
  in.tool_diameter = truth.D;
  in.instrument = caliper();
  for (const auto& [kind, axis, n] : features) in.features.push_back(truth.size(kind, axis, n));
  return in;
}

const std::vector<Wanted> whole_part{{FeatureKind::inside, Axis::x, 30},   {FeatureKind::outside, Axis::x, 150},
                                     {FeatureKind::spacing, Axis::x, 100}, {FeatureKind::inside, Axis::y, 30},
                                     {FeatureKind::outside, Axis::y, 150}, {FeatureKind::spacing, Axis::y, 110},
                                     {FeatureKind::depth, Axis::z, 2},     {FeatureKind::depth, Axis::z, 6}};

TEST(FirstCut, TheTruthComesBackFromAWholePart) {
  const TrueCut truth{0.004, -0.003, -0.21, 0.12, 0.05, 0.01, 0.08, 6};
  const auto r = read_first_cut(part(truth, whole_part)).value();
  EXPECT_TRUE(r.undetermined.empty());
  const double want[] = {truth.ex, truth.ey, truth.dD, truth.bx, truth.by, truth.ez, truth.z0};
  ASSERT_EQ(r.estimates.size(), 7u);
  for (const auto& e : r.estimates)
    EXPECT_NEAR(e.value, want[static_cast<std::size_t>(e.quantity)], 1e-9) << name(e.quantity);
}

TEST(FirstCut, APocketOneMillimetreSmallIsNoMatterOfSteps) {
  const auto r = read_first_cut(part({0, 0, -1, 0, 0, 0, 0, 6}, {{FeatureKind::inside, Axis::x, 40}})).value();
  EXPECT_TRUE(r.estimates.empty()) << "one size cannot tell a cutter from a scale";
  EXPECT_EQ(r.undetermined.size(), 3u);
  ASSERT_FALSE(r.missing.empty());
}

TEST(FirstCut, WhatIsNamedMissingSettlesIt) {
  const Wanted inside_x{FeatureKind::inside, Axis::x, 40}, inside_y{FeatureKind::inside, Axis::y, 40};
  const Wanted apart{FeatureKind::spacing, Axis::x, 100}, wide{FeatureKind::outside, Axis::y, 60};
  const Wanted deep{FeatureKind::depth, Axis::z, 3};
  for (const auto& start : std::vector<std::vector<Wanted>>{{inside_x}, {inside_x, inside_y}, {deep}, {apart, wide}}) {
    auto features = start;
    const auto first = read_first_cut(part({}, start)).value();
    for (const auto& m : first.missing)
      features.emplace_back(m.kind, m.axis, 300 + 40 * static_cast<double>(features.size()));
    EXPECT_TRUE(read_first_cut(part({}, features))->undetermined.empty());
  }
}

// What is called undetermined is what can change without any size noticing.
TEST(FirstCut, UndeterminedIsTheNullSpace) {
  std::mt19937 random(9);
  for (int trial = 0; trial < 60; ++trial) {
    std::vector<Wanted> features;
    for (int n = 1 + static_cast<int>(random() % 5); n > 0; --n)
      features.push_back(whole_part[random() % whole_part.size()]);
    const auto r = read_first_cut(part({}, features)).value();
    // Each quantity's own direction: if it is determined, moving it alone must move some size or be held by others.
    for (const auto& e : r.estimates) {
      TrueCut moved;
      double* const slots[] = {&moved.ex, &moved.ey, &moved.dD, &moved.bx, &moved.by, &moved.ez, &moved.z0};
      *slots[static_cast<std::size_t>(e.quantity)] = 0.01;
      const auto again = read_first_cut(part(moved, features)).value();
      for (const auto& f : again.estimates)
        EXPECT_NEAR(f.value, f.quantity == e.quantity ? 0.01 : 0, 1e-9) << name(f.quantity);
    }
    // And an undetermined one, moved, must leave every determined estimate where it was.
    for (const auto q : r.undetermined) {
      TrueCut moved;
      double* const slots[] = {&moved.ex, &moved.ey, &moved.dD, &moved.bx, &moved.by, &moved.ez, &moved.z0};
      *slots[static_cast<std::size_t>(q)] = 0.01;
      const auto again = read_first_cut(part(moved, features)).value();
      for (const auto& f : again.estimates)
        EXPECT_NEAR(f.value, 0, 1e-9) << name(f.quantity) << " moved with " << name(q);
    }
  }
}

// Three depths of 1, 2, 3 mm, each 0.3 too deep but for a ruler's whim: by themselves they show a scale 20 % off.
TEST(FirstCut, AScaleOfZThatIsKnownKeepsTheDepthsFromMakingOneUp) {
  FirstCutInput in;
  in.tool_diameter = 6;
  in.instrument.resolution_mm = 0.5;
  in.instrument.ends = 2;
  in.instrument.s_mm = 0.15;
  for (const auto& [depth, measured] : {std::pair{1.0, 1.5}, {2.0, 2.3}, {3.0, 3.1}})
    in.features.push_back({FeatureKind::depth, Axis::z, depth, measured});
  const auto of = [](const FirstCutResult& r, CutQuantity q) {
    for (const CutEstimate& e : r.estimates)
      if (e.quantity == q) return e;
    return CutEstimate{};
  };
  const auto free = read_first_cut(in);
  ASSERT_TRUE(free);
  EXPECT_NEAR(of(*free, CutQuantity::scale_z).value, -0.2, 1e-9);
  EXPECT_NEAR(of(*free, CutQuantity::z_zero).value, 0.7, 1e-9);
  in.scale_z = Known{0, 1e-4};
  const auto known = read_first_cut(in);
  ASSERT_TRUE(known);
  EXPECT_NEAR(of(*known, CutQuantity::scale_z).value, 0, 1e-4);
  EXPECT_NEAR(of(*known, CutQuantity::z_zero).value, 0.3, 1e-3) << "what they are too deep in the mean";
  EXPECT_LT(of(*known, CutQuantity::z_zero).U, of(*free, CutQuantity::z_zero).U);
  // A lead that is another: a caliper's depths say so, whatever the book says.
  in.instrument = {};
  in.instrument.resolution_mm = 0.01;
  for (Feature& f : in.features) f.measured = f.nominal * 1.5;
  EXPECT_NEAR(of(*read_first_cut(in), CutQuantity::scale_z).value, 0.5, 1e-9);
}

TEST(FirstCut, AKnownSettlesWhatItTouches) {
  auto in = part({0.002, 0, -0.1, 0.15, 0, 0, 0, 6},
                 {{FeatureKind::spacing, Axis::x, 100}, {FeatureKind::inside, Axis::x, 25}});
  EXPECT_EQ(read_first_cut(in)->undetermined.size(), 2u);
  in.lost_motion[0] = Known{0.15, 0.01};
  in.lost_motion[1] = Known{0.5, 0.01};  // no feature touches Y: it says nothing
  const auto r = read_first_cut(in).value();
  EXPECT_TRUE(r.undetermined.empty());
  EXPECT_EQ(r.estimates.size(), 3u);
  for (const auto& e : r.estimates)
    if (e.quantity == CutQuantity::tool_diameter) {
      EXPECT_NEAR(e.value, -0.1, 1e-9);
    }
  in.features[0].axis = Axis::z;
  EXPECT_EQ(read_first_cut(in).error().where, "features[0].axis");
}

// A level cut at -1, -2, -3 and 0.05 too deep, in a top that stands at 0.3, -0.2 and -1.2: beside the last step the
// depth from the top is 1.85. Z's scale is right.
TEST(FirstCut, ADepthIsToldFromTheTopBesideIt) {
  FirstCutInput in;
  in.tool_diameter = 6;
  in.instrument.resolution_mm = 0.01;
  in.features = {{FeatureKind::depth, Axis::z, 1, 1.35, 0.3},
                 {FeatureKind::depth, Axis::z, 2, 1.85, -0.2},
                 {FeatureKind::depth, Axis::z, 3, 1.85, -1.2}};
  const auto r = read_first_cut(in).value();
  ASSERT_EQ(r.estimates.size(), 2u);
  for (const CutEstimate& e : r.estimates)
    EXPECT_NEAR(e.value, e.quantity == CutQuantity::z_zero ? 0.05 : 0, 1e-9) << name(e.quantity);
  in.features[2] = {FeatureKind::depth, Axis::z, 3, 0, -3.05};  // where it is that low the cutter did not reach
  EXPECT_TRUE(read_first_cut(in));
}

}  // namespace
}  // namespace ypsi
