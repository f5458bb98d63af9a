#include "core/calibration/scale.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/half_mm_ruler.h"

namespace ypsi {
namespace {

Instrument own_caliper() {
  return {"caliper", 0.01, 1, 0.01, 0.015, 0};
}

ScaleInput input(double current, std::vector<ScaleReading> readings) {
  ScaleInput in;
  in.current_steps = current;
  in.instrument = half_mm_ruler();
  in.readings = std::move(readings);
  return in;
}

TEST(Scale, OneReadingIsTheArithmeticOnPaper) {
  const auto r = fit_scale(input(160, {{700, 703}})).value();
  EXPECT_NEAR(r.fit->new_steps, 160.0 * 700 / 703, 1e-9);
  EXPECT_NEAR(r.fit->u_scale, half_mm_ruler().u_mm(700) / 700, 1e-12);
  EXPECT_FALSE(r.fit->coverage.birge);
}

TEST(Scale, TheTruthComesBackWithoutNoise) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> k(0.9, 1.1), b(0, 0.5), L(50, 700);
  for (int i = 0; i < 200; ++i) {
    const double scale = k(random), lost = b(random);
    std::vector<ScaleReading> readings;
    for (int j = 0; j < 6; ++j) {
      const double told = L(random) * (j % 2 ? 1 : -1);
      const bool reversed = j % 3 == 0;
      readings.push_back({told, std::copysign(scale * std::abs(told) - (reversed ? lost : 0), told), reversed});
    }
    const auto r = fit_scale(input(80, readings)).value();
    ASSERT_TRUE(r.fit);
    EXPECT_NEAR(r.fit->scale, scale, 1e-9);
    EXPECT_NEAR(*r.fit->lost_motion, lost, 1e-7);
    EXPECT_NEAR(r.fit->chi2, 0, 1e-12);
  }
}

TEST(Scale, OrderDoesNotMatterAndLengthsScaleOut) {
  std::vector<ScaleReading> readings{{100, 100.5}, {300, 301}, {-500, -502.5}, {500, 502, true}, {700, 703}};
  const auto a = fit_scale(input(80, readings)).value();
  std::rotate(readings.begin(), readings.begin() + 2, readings.end());
  const auto b = fit_scale(input(80, readings)).value();
  EXPECT_NEAR(a.fit->scale, b.fit->scale, 1e-12);
  EXPECT_NEAR(a.fit->U_scale, b.fit->U_scale, 1e-12);
  ScaleInput inches = input(80, readings);
  for (auto& r : inches.readings) r.commanded.mm *= 25.4, r.measured *= 25.4;
  inches.instrument.resolution_mm *= 25.4;
  inches.instrument.s_mm = *inches.instrument.s_mm * 25.4;
  const auto c = fit_scale(inches).value();
  EXPECT_NEAR(c.fit->scale, b.fit->scale, 1e-12);
  EXPECT_NEAR(*c.fit->lost_motion, *b.fit->lost_motion * 25.4, 1e-9);
}

TEST(Scale, WhereOneEndIsReadTheSameReadingAgainDoesNotAverageTheRoundingAway) {
  const std::vector<ScaleReading> again(500, {300, 301});
  ScaleInput in = input(80, again);
  const double one = fit_scale(input(80, {{300, 301}}))->fit->u_scale;
  EXPECT_NEAR(fit_scale(in)->fit->u_scale, one / std::sqrt(500), 1e-9) << "a ruler is laid down anew each time";
  EXPECT_EQ(fit_scale(in)->fit->coverage.dof, 499);
  in.instrument.ends = 1;
  in.instrument.s_mm = 0.05;
  EXPECT_GT(fit_scale(in)->fit->u_scale, std::sqrt(in.instrument.repeating_part_mm2()) / 300);
  EXPECT_LT(fit_scale(in)->fit->u_scale, std::sqrt(in.instrument.variance_mm2()) / 300);
}

TEST(Scale, WrongDirectionAndMixedSignsComeBeforeAnyFit) {
  EXPECT_EQ(fit_scale(input(80, {{100, -99}, {-200, 198}}))->verdict, ScaleVerdict::wrong_direction);
  const auto mixed = fit_scale(input(80, {{100, 99}, {200, -198}, {300, 297}})).value();
  EXPECT_EQ(mixed.verdict, ScaleVerdict::mixed_signs);
  EXPECT_EQ(mixed.odd_signs, std::vector<std::size_t>{1});
  EXPECT_FALSE(mixed.fit);
}

TEST(Scale, ReversedOverOneDistanceCannotTell) {
  const auto r = fit_scale(input(80, {{300, 299, true}, {-300, -298.5, true}})).value();
  EXPECT_EQ(r.verdict, ScaleVerdict::cannot_tell);
  EXPECT_FALSE(r.fit);
  EXPECT_FALSE(r.advice.empty());
  EXPECT_TRUE(fit_scale(input(80, {{300, 299, true}, {600, 598.5, true}}))->fit) << "a second distance tells";
  EXPECT_TRUE(fit_scale(input(80, {{300, 299, true}, {300, 299.5, false}}))->fit) << "one from the same side tells";
}

TEST(Scale, GrossErrorsNameWhatTheyLookLike) {
  ScaleInput in = input(400, {{-60, -96}, {-80, -128}});
  in.instrument = own_caliper();
  in.transmission = Screw{5};
  const auto r = fit_scale(in).value();
  EXPECT_EQ(r.verdict, ScaleVerdict::gross_error);
  ASSERT_FALSE(r.suspects.empty());
  EXPECT_EQ(r.suspects.front(), (Suspect{"screw_lead", 1.6})) << "an 8 mm lead taken for 5";
  in.readings = {{100, 200}, {300, 600}};
  EXPECT_EQ(fit_scale(in)->suspects.front().cause, "microsteps");
  in.readings = {{10, 254}, {20, 508}};
  EXPECT_EQ(fit_scale(in)->suspects.front().cause, "inch_mm");
}

TEST(Scale, RecommendedDistanceReachesTheTolerance) {
  for (const double tolerance : {0.1, 0.5, 2.0}) {
    const double L = recommended_distance(half_mm_ruler(), tolerance).value();
    ScaleInput in = input(80, {{L, L}});
    in.tolerance_per_m = tolerance;
    const auto r = fit_scale(in).value();
    EXPECT_NEAR(r.fit->U_scale * 1000, tolerance, 1e-9);
  }
  Instrument tape = half_mm_ruler();
  tape.u_rel = 0.001;
  EXPECT_FALSE(recommended_distance(tape, 0.5)) << "no length mends a tape that is wrong by a part in a thousand";
}

TEST(Scale, ExtremesNeverMakeNonsense) {
  for (const double size : {1e-9, 1e-3, 1e9}) {
    const auto r = fit_scale(input(80, {{size, size * 1.01}, {2 * size, 2.02 * size}}));
    if (r && r->fit) {
      EXPECT_TRUE(std::isfinite(r->fit->U_scale)) << size;
      EXPECT_TRUE(std::isfinite(r->fit->new_steps)) << size;
    }
  }
  std::vector<ScaleReading> many;
  for (int i = 0; i < 5000; ++i) many.push_back({100.0 + i % 700, 100.5 + i % 700});
  EXPECT_TRUE(fit_scale(input(80, many))->fit);
  EXPECT_EQ(fit_scale(input(80, {{300, 20, false}, {600, 10, false}, {900, 0.5, false}}))->verdict,
            ScaleVerdict::gross_error);
  EXPECT_EQ(fit_scale(input(0, {{1, 1}})).error().code, "out_of_range");
  EXPECT_EQ(fit_scale(input(80, {})).error().code, "too_few");
  EXPECT_EQ(fit_scale(input(80, {{0, 1}})).error().where, "readings[0].commanded_mm");
  EXPECT_EQ(fit_scale(input(80, {{1, 1}, {1, 0}})).error().where, "readings[1].measured_mm");
}

// What U promises: about 95 % of the time it holds the truth, with the instrument's claims true.
TEST(Scale, UHoldsTheTruthAboutAsOftenAsItSays) {
  std::mt19937_64 random(20261123);
  std::normal_distribution<double> normal;
  std::uniform_real_distribution<double> uniform(0, 1);
  int held = 0;
  double sum_U = 0;
  std::vector<double> errors;
  constexpr int trials = 2000;
  for (int t = 0; t < trials; ++t) {
    const Instrument i = half_mm_ruler();
    const double k = 1 + 0.02 * (uniform(random) - 0.5);
    std::vector<ScaleReading> readings;
    for (const double told : {250.0, 400.0, 600.0, 600.0}) {
      const double start = uniform(random), seen = k * told + *i.s_mm * normal(random);
      const auto rounded = [&](double v) { return std::round(v / i.resolution_mm) * i.resolution_mm; };
      readings.push_back({told, rounded(start + seen) - rounded(start)});
    }
    const auto r = fit_scale(input(80, readings)).value();
    const double error = std::abs(r.fit->scale - k);
    held += error <= r.fit->U_scale;
    sum_U += r.fit->U_scale;
    errors.push_back(error);
  }
  std::sort(errors.begin(), errors.end());
  const double ratio = sum_U / trials / errors[trials * 95 / 100];
  std::printf("    scale: U holds the truth in %.1f %%, mean U is %.2f of the error that 95 %% stay below\n",
              100.0 * held / trials, ratio);
  EXPECT_GE(held, trials * 93 / 100);
  EXPECT_LE(ratio, 2);
}

TEST(Drive, PartsGiveStepsPerUnit) {
  const auto belt = steps_per_unit({200, 16, 1, Belt{2, 20}}).value();
  EXPECT_DOUBLE_EQ(belt.steps_per_unit, 80);
  EXPECT_EQ(belt.unit, "mm");
  EXPECT_DOUBLE_EQ(steps_per_unit({200, 8, 1, Screw{4}})->steps_per_unit, 400);
  EXPECT_NEAR(steps_per_unit({200, 10, 5, Rack{1.25, 25}})->steps_per_unit, 10000 / (3.14159265358979 * 31.25), 1e-9);
  const auto rotary = steps_per_unit({200, 16, 72, Rotary{}}).value();
  EXPECT_DOUBLE_EQ(rotary.steps_per_unit, 640);
  EXPECT_EQ(rotary.unit, "deg");
  EXPECT_FALSE(steps_per_unit({200, 16, 1, Screw{0}}));
  EXPECT_DOUBLE_EQ(speed_from_pulse_rate(8000, 80), 6000);
}

}  // namespace
}  // namespace ypsi
