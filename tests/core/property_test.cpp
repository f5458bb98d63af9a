// Properties that hold whatever the numbers: units, order, and more readings. Inputs from a seeded generator.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/calibration/first_cut.h"
#include "core/calibration/homing.h"
#include "core/calibration/positioning.h"
#include "core/calibration/probing.h"
#include "core/calibration/scale.h"
#include "core/calibration/squareness.h"
#include "core/calibration/tool_setter.h"
#include "core/calibration/tram.h"

namespace ypsi {
namespace {

class Property : public ::testing::TestWithParam<int> {
 protected:
  std::mt19937_64 random_{static_cast<std::uint64_t>(GetParam())};
  double noise(double s) { return std::normal_distribution<double>(0, s)(random_); }
  double between(double a, double b) { return std::uniform_real_distribution<double>(a, b)(random_); }
  static Instrument times(Instrument i, double f) {
    i.s_mm = i.scatter_mm() * f;
    i.resolution_mm *= f;
    i.u_cal_mm *= f;
    return i;
  }
  const Instrument tape_{"tape", 0.5, 2, 0.2, 0.1, 0.0001};

  SquareInput network() {
    SquareInput in;
    in.instrument = tape_;
    for (int i = 0; i < 6; ++i) in.points.push_back({std::to_string(i), {between(0, 600), between(0, 400)}});
    const double sx = between(0.99, 1.01), sy = between(0.99, 1.01), lean = between(-0.004, 0.004);
    for (std::size_t a = 0; a < 6; ++a)
      for (std::size_t b = a + 1; b < 6; ++b) {
        const double dx = in.points[b].commanded.x - in.points[a].commanded.x,
                     dy = in.points[b].commanded.y - in.points[a].commanded.y;
        in.distances.push_back({a, b,
                                std::hypot(sx * dx + sy * dy * std::sin(lean), sy * dy * std::cos(lean)) + noise(0.2),
                                HoleEdge::center, 0});
      }
    return in;
  }
  FirstCutInput part() {
    FirstCutInput in;
    in.tool_diameter = 6;
    in.instrument = {"caliper", 0.01, 1, 0.012, 0.015, 0.0001};
    using enum FeatureKind;
    const auto size = [this](double a, double b) { return Property::between(a, b); };
    for (const auto& [kind, axis] : {std::pair{inside, Axis::x},
                                     {inside, Axis::x},
                                     {outside, Axis::x},
                                     {spacing, Axis::x},
                                     {inside, Axis::y},
                                     {outside, Axis::y},
                                     {spacing, Axis::y},
                                     {depth, Axis::z},
                                     {depth, Axis::z}}) {
      const double n = kind == depth ? size(2, 10) : size(20, 150);
      in.features.push_back({kind, axis, n, n + noise(0.1)});
    }
    return in;
  }
};

TEST_P(Property, UnitsOfLengthScaleOut) {
  for (const double f : {1e-3, 25.4, 1e3}) {
    SquareInput marks = network();
    const auto a = fit_square(marks).value();
    for (auto& p : marks.points) p.commanded = {p.commanded.x * f, p.commanded.y * f};
    for (auto& d : marks.distances) d.measured *= f;
    marks.instrument = times(marks.instrument, f);
    const auto b = fit_square(marks).value();
    EXPECT_NEAR(a.fit->skew, b.fit->skew, 1e-10);
    EXPECT_NEAR(a.fit->U_skew / b.fit->U_skew, 1, 1e-8);
    EXPECT_NEAR(a.fit->scale_x, b.fit->scale_x, 1e-10);

    FirstCutInput cut = part();
    const auto c = read_first_cut(cut).value();
    cut.tool_diameter *= f;
    for (auto& q : cut.features) q.nominal *= f, q.measured *= f;
    cut.instrument = times(cut.instrument, f);
    const auto d = read_first_cut(cut).value();
    ASSERT_EQ(c.estimates.size(), d.estimates.size());
    for (std::size_t i = 0; i < c.estimates.size(); ++i) {
      const bool ratio =
          c.estimates[i].quantity <= CutQuantity::scale_y || c.estimates[i].quantity == CutQuantity::scale_z;
      EXPECT_NEAR(d.estimates[i].value, c.estimates[i].value * (ratio ? 1 : f), 1e-8 * (ratio ? 1 : f))
          << name(c.estimates[i].quantity);
      EXPECT_NEAR(d.estimates[i].U / c.estimates[i].U, ratio ? 1 : f, 1e-7 * (ratio ? 1 : f));
    }

    std::vector<Point2> points;
    for (int i = 0; i < 9; ++i)
      points.push_back({50 + 20 * std::cos(i * 0.7) + noise(0.05), 30 + 20 * std::sin(i * 0.7) + noise(0.05)});
    const auto e = fit_circle(points, 3, true).value();
    for (auto& p : points) p = {p.x * f, p.y * f};
    const auto g = fit_circle(points, 3 * f, true).value();
    EXPECT_NEAR(g.diameter / f, e.diameter, 1e-8);
    EXPECT_NEAR(g.center.x / f, e.center.x, 1e-8);
    EXPECT_NEAR(g.rms / f, e.rms, 1e-8);
  }
}

TEST_P(Property, TheOrderOfReadingsDoesNotMatter) {
  SquareInput marks = network();
  const auto a = fit_square(marks).value();
  std::shuffle(marks.distances.begin(), marks.distances.end(), random_);
  for (auto& d : marks.distances)
    if (random_() % 2) std::swap(d.from, d.to);
  EXPECT_NEAR(fit_square(marks)->fit->skew, a.fit->skew, 1e-11);
  EXPECT_NEAR(fit_square(marks)->fit->U_skew, a.fit->U_skew, 1e-11);

  FirstCutInput cut = part();
  const auto c = read_first_cut(cut).value();
  std::shuffle(cut.features.begin(), cut.features.end(), random_);
  const auto d = read_first_cut(cut).value();
  for (std::size_t i = 0; i < c.estimates.size(); ++i) EXPECT_NEAR(c.estimates[i].value, d.estimates[i].value, 1e-9);

  TramInput tram{80, {}, 64, 110, 25, 18, {}, {}};
  for (int i = 0; i < 8; ++i) tram.sweep.push_back({i * 0.8, noise(0.05)});
  const auto t = evaluate_tram(tram).value();
  std::shuffle(tram.sweep.begin(), tram.sweep.end(), random_);
  EXPECT_NEAR(evaluate_tram(tram)->tilt_x, t.tilt_x, 1e-14);

  std::vector<PositioningRun> runs;
  for (int i = 0; i < 6; ++i) runs.push_back({i % 2 == 0, {noise(0.01), noise(0.01), noise(0.01)}});
  const auto p = evaluate_positioning({1, 2, 3}, runs).value();
  std::shuffle(runs.begin(), runs.end(), random_);
  EXPECT_NEAR(evaluate_positioning({1, 2, 3}, runs)->accuracy, p.accuracy, 1e-14);
}

// A further reading that agrees with the others must not raise u; one that does not may, by what its residual explains.
TEST_P(Property, MoreReadingsOfTheSameScatterDoNotRaiseU) {
  ScaleInput in;
  in.current_steps = 80;
  in.instrument = tape_;
  for (int i = 0; i < 4; ++i) {
    const double told = between(100, 700);
    in.readings.push_back({told, 1.003 * told + noise(0.25)});
  }
  double chi2 = fit_scale(in)->fit->chi2, u = fit_scale(in)->fit->u_scale;
  for (int i = 0; i < 20; ++i) {
    const double told = between(100, 700);
    in.readings.push_back({told, 1.003 * told + noise(0.25)});
    const auto r = fit_scale(in).value();
    const double explained = std::sqrt(std::max(1.0, (8 + r.fit->chi2) / (8 + chi2)));
    const bool crossed = r.fit->coverage.scatter_exceeds_claim;
    if (!crossed) {
      EXPECT_LE(r.fit->u_scale, u * explained * (1 + 1e-9)) << i;
    }
    u = r.fit->u_scale;
    chi2 = r.fit->chi2;
  }
}

TEST_P(Property, ThousandsOfReadingsAndIdenticalOnes) {
  std::vector<double> readings;
  for (int i = 0; i < 5000; ++i) readings.push_back(noise(0.003));
  EXPECT_NEAR(evaluate_homing(readings, 0.05, 0.001)->s, 0.003, 0.0003);
  FirstCutInput cut = part();
  const std::size_t few = cut.features.size();
  for (int i = 0; i < 3000; ++i) cut.features.push_back(cut.features[static_cast<std::size_t>(i) % few]);
  const auto r = read_first_cut(cut).value();
  EXPECT_EQ(r.coverage.dof, static_cast<int>(few) + 3000 - 7);
  SquareInput marks = network();
  for (int i = 0; i < 2000; ++i) marks.distances.push_back(marks.distances[static_cast<std::size_t>(i) % 15]);
  EXPECT_EQ(fit_square(marks)->fit->coverage.dof, 2012);
  std::vector<double> same(1000, -41.2);
  const auto setter = evaluate_setter(same, {{2, same}}, std::nullopt, 0).value();
  EXPECT_EQ(setter.tools[0].offset, 0);
  EXPECT_EQ(*setter.s_pooled, 0);
}

INSTANTIATE_TEST_SUITE_P(Calculations, Property, ::testing::Range(1, 9));

}  // namespace
}  // namespace ypsi
