// Fences and rows of blanks: tests on the worksheet, what is added, a drift told in time.
#include "core/book/worksheets/fences.h"
#include "core/calibration/blanks.h"
#include "core/tasks/fences.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/book/record.h"
#include "core/tasks/standing.h"
#include "core/trials_book.h"

namespace ypsi {
namespace trials_test {

// ----------------------------------------------------------------------------------------------------------- fences

TEST(Fences, TheFirstTestCorrectsTheWholeAndLaterOnesLess) {
  Book b = table();
  b.fences = {{"left stop", FenceKind::along_y, 20.0, 0.0, 0.5, {}}};
  b.worksheets[fences_worksheet].expected_mm = 200;
  b.worksheets[fences_worksheet].tolerance_mm = 0.2;
  begin_fence_test(b);
  b.worksheets[fences_worksheet].tests.back().measured_mm = {200.6};
  keep_fence(b, *evaluate_fences(b), today);
  EXPECT_NEAR(b.fences[0].offset_mm, -0.1, 1e-9);
  ASSERT_EQ(b.worksheets[fences_worksheet].tests.size(), 2u) << "another piece is asked for";
  b.worksheets[fences_worksheet].tests.back().measured_mm = {199.8};
  const auto second = evaluate_fences(b);
  ASSERT_TRUE(second);
  EXPECT_FALSE(second->done);
  EXPECT_NEAR(second->correction, 0.1, 1e-9) << "half of it";
  keep_fence(b, *second, today);
  b.worksheets[fences_worksheet].tests.back().measured_mm = {200.0, 200.01, 199.99, 200.0, 200.01};
  const auto third = evaluate_fences(b);
  ASSERT_TRUE(third);
  EXPECT_TRUE(third->done);
  keep_fence(b, *third, today);
  EXPECT_TRUE(b.worksheets[fences_worksheet].tests.empty());
  EXPECT_EQ(b.history.size(), 3u) << "every test is kept";
  EXPECT_EQ(standing_of(b, fences_id).standing, Standing::current);
}

TEST(Fences, TestsOfAFenceThatIsTakenOutAreNotAnothers) {
  Book b = table();
  b.fences = {{"left", FenceKind::along_y, 20.0, 0.0, 0, {}}, {"front", FenceKind::along_x, 0.0, 10.0, 0, {}}};
  choose_fence(b, "left");
  b.worksheets[fences_worksheet].tests = {{0, {200.4}}};
  b.fences.erase(b.fences.begin());
  choose_fence(b, "front");
  EXPECT_TRUE(b.worksheets[fences_worksheet].tests.empty());
  EXPECT_EQ(b.worksheets[fences_worksheet].fence, "front");
}

TEST(Fences, WorkZeroIsSetAcrossThemWithWhatIsAdded) {
  Fence f;
  f.x_mm = 12;
  f.y_mm = 34;
  f.offset_mm = 0.25;
  using Places = std::vector<std::pair<Axis, double>>;
  f.kind = FenceKind::along_x;
  EXPECT_EQ(zero_by(f), (Places{{Axis::y, 34.25}}));
  f.kind = FenceKind::along_y;
  EXPECT_EQ(zero_by(f), (Places{{Axis::x, 12.25}}));
  f.kind = FenceKind::point;
  EXPECT_EQ(zero_by(f), (Places{{Axis::x, 12.25}, {Axis::y, 34.25}}));
}

TEST(Blanks, ADriftIsToldWithWhereItLeavesTheTolerance) {
  const auto row = [](double drift, int count) {
    std::vector<BlankSize> sizes;
    for (int i = 1; i <= count; ++i) sizes.push_back({i * 10, 80 + drift * i * 10});
    return sizes;
  };
  const auto rising = evaluate_blanks(row(0.002, 4), 80, 0.1, 10, 0.001);
  ASSERT_TRUE(rising);
  EXPECT_NEAR(rising->drift, 0.002, 1e-12);
  EXPECT_NEAR(rising->now, 80.08, 1e-9);
  EXPECT_EQ(rising->leaves_at, 51) << "80.1 is reached at the 50th";
  EXPECT_EQ(rising->verdict, BlanksVerdict::soon);
  EXPECT_EQ(evaluate_blanks(row(-0.002, 4), 80, 0.1, 10, 0.001)->leaves_at, 51) << "and downwards alike";
  EXPECT_EQ(evaluate_blanks(row(0.002, 4), 80, 1, 10, 0.001)->verdict, BlanksVerdict::drifts);
  EXPECT_EQ(evaluate_blanks(row(0.002, 6), 80, 0.1, 10, 0.001)->verdict, BlanksVerdict::out);
  // By hand: sizes 0, 1, 0, 1 hundredths over 1..4: drift 0.2, residuals -0.2, 0.6, -0.6, 0.2, s^2 = 0.8 / 2.
  const auto scattered = evaluate_blanks({{1, 80}, {2, 80.01}, {3, 80}, {4, 80.01}}, 80, 0.1, 1, 0);
  ASSERT_TRUE(scattered);
  EXPECT_NEAR(scattered->s, 0.01 * std::sqrt(0.4), 1e-9);
  EXPECT_NEAR(scattered->U_drift, 4.302653 * scattered->s / std::sqrt(5.0), 1e-6);
  EXPECT_EQ(scattered->verdict, BlanksVerdict::steady);
  EXPECT_FALSE(scattered->leaves_at);
  EXPECT_EQ(evaluate_blanks(row(0.002, 3), 80, 0.1, 10, 0).error().code, "too_few");
  EXPECT_EQ(evaluate_blanks({{1, 80}, {1, 80}, {1, 80}, {1, 80}}, 80, 0.1, 1, 0).error().code, "degenerate");
  EXPECT_EQ(evaluate_blanks({{1, 80}, {2, NAN}, {3, 80}, {4, 80}}, 80, 0.1, 1, 0).error().code, "out_of_range");
  EXPECT_EQ(evaluate_blanks(row(0.002, 4), 80, 0, 1, 0).error().code, "out_of_range");
}

/// Rows that drift and scatter by chance: how often U of the drift holds, and that a warning comes before a blank
/// leaves.
TEST(Blanks, ADriftsUHoldsAndTheWarningComesInTime) {
  std::mt19937_64 random(8);
  int held = 0, warned = 0, left = 0;
  constexpr int rows = 4000;
  for (int n = 0; n < rows; ++n) {
    const double drift = std::uniform_real_distribution<double>(-0.0018, 0.0018)(random);
    std::normal_distribution<double> scatter(0, std::uniform_real_distribution<double>(0.005, 0.02)(random));
    std::vector<BlankSize> sizes;
    bool told = false;
    for (int i = 1; i <= 12; ++i) {
      const double is = 80 + drift * i * 10;
      if (std::fabs(is - 80) > 0.1) {
        ++left;
        warned += told ? 1 : 0;
        break;
      }
      sizes.push_back({i * 10, is + scatter(random)});
      if (const auto found = evaluate_blanks(sizes, 80, 0.1, 10, 0.01))
        told = told || found->verdict == BlanksVerdict::soon || found->verdict == BlanksVerdict::out;
    }
    if (const auto found = evaluate_blanks(sizes, 80, 0.1, 10, 0.01); found)
      held += std::fabs(found->drift - drift) <= found->U_drift ? 1 : 0;
    else
      ++held;
  }
  EXPECT_GE(held, rows * 0.93);
  EXPECT_GE(warned, left * 0.93) << left;
  EXPECT_GT(left, 1000);
  std::printf("    blanks: U of the drift held %.1f %%, warned in time %.1f %%\n", 100.0 * held / rows,
              100.0 * warned / left);
}

TEST(Blanks, ARowIsKeptAndTheCountBeginsAnew) {
  Book b = table();
  Fence f;
  f.name = "left";
  b.fences = {f};
  FencesWorksheet& s = b.worksheets[fences_worksheet];
  s.expected_mm = 80;
  s.blanks = 43;
  s.sizes = {{10, 80.01}, {20, 80.0}, {30, 80.01}, {40, 80.0}};
  const auto found = evaluate_blanks_of(b);
  ASSERT_TRUE(found) << found.error().message;
  keep_blanks(b, *found, today);
  EXPECT_EQ(b.worksheets[fences_worksheet].blanks, 0);
  EXPECT_TRUE(b.worksheets[fences_worksheet].sizes.empty());
  EXPECT_EQ(b.history.back().subject, "left, blanks");
  EXPECT_EQ(b.fences[0].offset_mm, 0) << "the fence itself stays as it is";
  EXPECT_FALSE(fences_task().summary(b.history.back()).empty());
}

TEST(Fences, WhatIsMissingIsAskedFor) {
  Book b = table();
  EXPECT_EQ(evaluate_fences(b).error().code, "no_fence");
  b.fences = {{"left stop", FenceKind::along_y, 20.0, 0.0, 0.5, {}}};
  EXPECT_EQ(evaluate_fences(b).error().code, "missing");
  b.worksheets[fences_worksheet].expected_mm = 200;
  EXPECT_EQ(evaluate_fences(b).error().code, "too_few");
  b.worksheets[fences_worksheet].instrument = "ell";
  EXPECT_EQ(evaluate_fences(b).error().code, "no_instrument");
}

}  // namespace trials_test
}  // namespace ypsi
