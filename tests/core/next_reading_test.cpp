// Which reading to take next, judged by taking it.
#include "core/calibration/next_reading.h"
#include "core/calibration/scale.h"

#include <gtest/gtest.h>

#include <cmath>

namespace ypsi {
namespace {

ScaleInput with(std::vector<ScaleReading> readings, double tolerance = 0.5) {
  ScaleInput in;
  in.current_steps = 80;
  in.instrument.name = "ruler";
  in.instrument.resolution_mm = 0.5;
  in.instrument.ends = 2;
  in.instrument.s_mm = 0.15;
  in.readings = std::move(readings);
  in.tolerance_per_m = tolerance;
  return in;
}

TEST(NextReading, TheFirstIsAsLongAsTheAxisAllowsFromTheSameSide) {
  const auto next = next_reading(with({}), 700);
  ASSERT_TRUE(next);
  EXPECT_EQ(next->distance, 700);
  EXPECT_FALSE(next->reversed);
  EXPECT_FALSE(next->reaches) << "one reading with a ruler";
  // One reading's own variance, and k for 8 degrees of freedom (handbook, section 4).
  EXPECT_NEAR(next->U_per_m, 2.306 * std::sqrt(2 * 0.25 / 12 + 0.0225) / 0.7, 2e-3);
}

TEST(NextReading, WhereOneEndIsReadALengthThatWasReadIsNotProposedAgain) {
  ScaleInput in = with({{700, 697.5, false}});
  EXPECT_EQ(next_reading(in, 700)->distance, 700) << "a ruler is laid down anew";
  in.instrument.ends = 1;
  const auto next = next_reading(in, 700);
  ASSERT_TRUE(next);
  EXPECT_LT(next->distance, 700) << "its rounding would be the same again";
  EXPECT_GT(next->distance, 690);
}

TEST(NextReading, ARulerReachesHalfAMillimetreAMetreInFewReadings) {
  ScaleInput in = with({});
  int readings = 0;
  for (; readings < 12; ++readings) {
    const auto next = next_reading(in, 780);
    ASSERT_TRUE(next);
    in.readings.push_back({next->distance, 0.998 * next->distance, next->reversed});
    if (next->reaches) break;
  }
  EXPECT_LE(readings + 1, 7) << "it never stalls on a length that tells nothing more";
}

TEST(NextReading, SlackInAllReadingsAsksForOneWithout) {
  const auto next = next_reading(with({{700, 697.5, true}}), 700);
  ASSERT_TRUE(next);
  EXPECT_FALSE(next->reversed);
}

TEST(NextReading, WhatItPromisesIsWhatTheReadingBrings) {
  for (const double longest : {90.0, 300.0, 790.0}) {
    ScaleInput in = with({{longest, longest * 0.997, false}, {longest * 0.7, longest * 0.698, false}});
    const auto next = next_reading(in, longest);
    ASSERT_TRUE(next);
    const double before = fit_scale(in)->fit->U_scale * 1000;
    in.readings.push_back({next->distance, fit_scale(in)->fit->scale * next->distance, next->reversed});
    const double after = fit_scale(in)->fit->U_scale / fit_scale(in)->fit->scale * 1000;
    EXPECT_NEAR(after, next->U_per_m, 1e-6 * after);
    EXPECT_LT(after, before);
    EXPECT_EQ(next->reaches, after <= 0.5);
  }
}

TEST(NextReading, SignsThatDisagreeAreToBeSettledFirst) {
  EXPECT_FALSE(next_reading(with({{100, -99, false}}), 700));
  EXPECT_FALSE(next_reading(with({}), 0));
  EXPECT_FALSE(next_reading(with({}), NAN));
}

// By hand: U = k·u0/(L·sqrt(n)) for n readings of L = 700 with u0² = 2·0.25/12 + 0.0225; k falls from t(8) to t(8 + n).
TEST(NextReading, SaysHowManyMoreTheToleranceTakes) {
  const auto ahead = readings_ahead(with({}), 700);
  ASSERT_TRUE(ahead);
  EXPECT_TRUE(ahead->reaches);
  EXPECT_GE(ahead->readings, 2);
  EXPECT_LE(ahead->readings, 4) << "2.2·0.253/(700·sqrt(3)) is 0.46 mm per m";
  ScaleInput in = with({});
  for (int i = 0; i < ahead->readings; ++i) {
    const auto next = next_reading(in, 700);
    EXPECT_EQ(next->reaches, i + 1 == ahead->readings) << "as they come one after the other";
    in.readings.push_back({next->distance, next->distance, next->reversed});
  }
}

TEST(NextReading, SaysThatAnInstrumentDoesNotReachIt) {
  ScaleInput in = with({}, 0.02);
  in.instrument.u_rel = 1e-4;  // common to all readings: a tape that is 0.1 mm per m long
  const auto ahead = readings_ahead(in, 700);
  ASSERT_TRUE(ahead);
  EXPECT_FALSE(ahead->reaches);
  EXPECT_GT(ahead->U_per_m, 1.96 * 0.1) << "what is common stays";
  in.tolerance_per_m.reset();
  EXPECT_FALSE(readings_ahead(in, 700)) << "nothing is asked for";
}

}  // namespace
}  // namespace ypsi
