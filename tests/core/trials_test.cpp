// Trials and wear as the owner meets them: looks on the worksheet, a finding, an entry in the record.
#include "core/book/worksheets/trials.h"
#include "core/tasks/trials.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/book/book_json.h"
#include "core/book/changes.h"
#include "core/book/record.h"
#include "core/tasks/standing.h"
#include "core/trials_book.h"

namespace ypsi {
namespace trials_test {

// ------------------------------------------------------------------------------------------------------- next trial

TEST(NextTrial, HalvesFirstThenLooksToBothSides) {
  const TrialRange range{8, 24, 0.5};
  EXPECT_EQ(next_trial({}, range).level, 16);
  EXPECT_EQ(next_trial({{16, true}}, range).level, 12);
  EXPECT_EQ(next_trial({{16, true}, {12, false}}, range).level, 14);
  const std::vector<TriedLevel> mixed{{16, true}, {12, false}, {14, false},  {15, true},
                                      {14, true}, {13, false}, {13.5, false}};
  const auto now = find_threshold(by_level(mixed), 0.5);
  auto above = mixed, below = mixed;
  above.insert(above.end(), 6, {15, true});
  below.insert(below.end(), 6, {12.5, false});
  EXPECT_LT(next_trial(above, range).level, *now->threshold) << "where fewer looks were taken";
  EXPECT_GT(next_trial(below, range).level, *now->threshold);
}

TEST(NextTrial, SaysWhereNothingTurnsWithinTheRange) {
  const TrialRange range{8, 24, 0};
  std::vector<TriedLevel> tried;
  for (int i = 0; i < 12; ++i) {
    const NextTrial next = next_trial(tried, range);
    if (next.at_end) break;
    tried.push_back({next.level, true});
  }
  EXPECT_TRUE(next_trial(tried, range).at_end);
  EXPECT_EQ(tried.back().level, 8);
  EXPECT_LT(tried.size(), 12u);
}

TEST(NextTrial, StaysOnTheGridAndInTheRangeWhateverWasSeen) {
  std::mt19937 random(3);
  for (int round = 0; round < 300; ++round) {
    const double low = std::uniform_real_distribution<double>(-5, 50)(random);
    const TrialRange range{low, low + 10, round % 2 == 0 ? 0.5 : 0};
    std::vector<TriedLevel> tried;
    for (int i = 0; i < 25; ++i) {
      const NextTrial next = next_trial(tried, range);
      ASSERT_GE(next.level, range.low);
      ASSERT_LE(next.level, range.high);
      if (range.step > 0) {
        const double steps = (next.level - range.low) / range.step;
        ASSERT_NEAR(steps, std::round(steps), 1e-9);
      }
      tried.push_back({next.level, random() % 2 == 0});
    }
  }
}

/// 200 random blades: within 30 cuts the threshold is told to a tenth of its height, and U holds.
TEST(Trials, ThirtyCutsTellAThresholdToATenth) {
  std::mt19937 random(19);
  int held = 0, told = 0;
  std::vector<double> errors;
  double claims = 0;
  constexpr int blades = 200;
  for (int blade = 0; blade < blades; ++blade) {
    const double threshold = std::uniform_real_distribution<double>(10, 22)(random);
    std::normal_distribution<double> spread(0, std::uniform_real_distribution<double>(0.2, 1.2)(random));
    Book b = table();
    choose_trial(b, "felt", "wheel", 2);
    b.worksheets[trials_worksheet].low = 6;
    b.worksheets[trials_worksheet].high = 26;
    b.worksheets[trials_worksheet].step = 0.25;
    auto& looks = b.worksheets[trials_worksheet].looks;
    while (looks.size() < most_tries_worth) {
      const double level = evaluate_trials(b)->next.level;
      looks.push_back({level, level > threshold + spread(random), Backing::not_looked});
    }
    const auto found = evaluate_trials(b);
    ASSERT_TRUE(found && found->through && found->through->threshold) << blade;
    const double error = std::fabs(*found->through->threshold - threshold);
    held += error <= *found->through->U_threshold ? 1 : 0;
    told += *found->through->U_threshold <= told_well_ratio * threshold ? 1 : 0;
    errors.push_back(error);
    claims += *found->through->U_threshold / blades;
  }
  std::sort(errors.begin(), errors.end());
  EXPECT_GE(held, blades * 93 / 100);
  EXPECT_GE(told, blades * 97 / 100);
  EXPECT_LE(claims, 2 * errors[blades * 95 / 100]) << "at most twice what is needed";
}

// ------------------------------------------------------------------------------------------------------------- wear

TEST(Wear, ALineThroughTwoPlacesMeetsItsLimit) {
  const auto wear = wear_line({{240, 12.2, 0.4}, {610, 13.1, 0.4}}, 17.8);
  ASSERT_TRUE(wear);
  EXPECT_NEAR(wear->per_metre, 0.9 / 370, 1e-12);
  EXPECT_NEAR(*wear->metres_left, (17.8 - 13.1) / (0.9 / 370), 1e-6);
  EXPECT_NEAR(wear->U_per_metre, 0.4 * std::numbers::sqrt2 / 370, 1e-12);
  EXPECT_TRUE(wear->grows);
  EXPECT_EQ(wear_line({{240, 12.2, 0.4}}, 17.8).error().code, "too_few");
  EXPECT_EQ(wear_line({{240, 12.2, 0.4}, {240, 13, 0.4}}, 17.8).error().code, "degenerate");
  EXPECT_FALSE(wear_line({{240, 13.2, 0.1}, {610, 13.1, 0.1}}, 17.8)->metres_left) << "it does not wear";
}

// ----------------------------------------------------------------------------------------------------------- trials

TEST(Trials, RoomBetweenThroughAndMarkingIsKeptByMaterialAndTool) {
  Book b = table();
  choose_trial(b, "sailcloth 0.4", "wheel", 2);
  b.worksheets[trials_worksheet].step = 0.5;
  for (const double level :
       {10.0, 12.0, 13.0, 13.0, 14.0, 14.0, 15.0, 16.0, 16.0, 17.0, 18.0, 19.0, 19.0, 20.0, 21.0}) {
    const bool odd = b.worksheets[trials_worksheet].looks.size() % 2 == 1;
    b.worksheets[trials_worksheet].looks.push_back(
        {level, level > 13 + (odd ? 1 : -0.5), level > 19 + (odd ? 0.5 : -1) ? Backing::marked : Backing::spared});
  }
  const auto found = evaluate_trials(b);
  ASSERT_TRUE(found) << found.error().message;
  ASSERT_TRUE(found->low && found->high && found->set);
  EXPECT_LT(*found->low, *found->high);
  EXPECT_GT(*found->set, *found->low);
  EXPECT_LT(*found->set, *found->high);
  EXPECT_NEAR(std::fmod(*found->set, 0.5), 0, 1e-9) << "what the gauge can be set to";
  keep_trials(b, *found, today);
  EXPECT_TRUE(b.worksheets[trials_worksheet].looks.empty());
  const auto kept = setting_for(b, "sailcloth 0.4", 2);
  ASSERT_TRUE(kept);
  EXPECT_EQ(kept->head, "wheel");
  EXPECT_EQ(kept->kind, "pressure");
  EXPECT_NEAR(*kept->low, *found->low, 1e-9);
  EXPECT_FALSE(setting_for(b, "felt", 2));
  EXPECT_FALSE(setting_for(b, "sailcloth 0.4", 3));
  EXPECT_EQ(standing_of(b, trials_id).standing, Standing::current);
}

TEST(Trials, NothingBetweenIsSaid) {
  Book b = table();
  choose_trial(b, "film", "wheel", 2);
  for (const double level : {9.0, 10.0, 11.0, 12.0, 13.0, 14.0, 15.0, 16.0})
    b.worksheets[trials_worksheet].looks.push_back({level, level > 14, level > 10 ? Backing::marked : Backing::spared});
  const auto found = evaluate_trials(b);
  ASSERT_TRUE(found);
  EXPECT_EQ(found->verdict, TrialVerdict::no_room);
  EXPECT_FALSE(found->set);
}

TEST(Trials, NoRangeNoQuestion) {
  Book b = table();
  b.machine.heads[0].gauge_low = b.machine.heads[0].gauge_high = 0;
  EXPECT_EQ(evaluate_trials(b).error().code, "no_range");
  b.machine.heads[0].gauge_high = 100;
  b.machine.heads[0].kind = HeadKind::beam;
  b.machine.heads[0].cap = 30;
  EXPECT_EQ(trial_range(b)->high, 30) << "a beam is never tried above its cap";
}

TEST(Trials, WhatWasLookedAtOfAnotherMaterialIsPutByAndComesBack) {
  Book b = table();
  choose_trial(b, "felt", "wheel", 2);
  b.worksheets[trials_worksheet].looks = {{12, true, Backing::spared}};
  choose_trial(b, "film", "wheel", 2);
  EXPECT_TRUE(b.worksheets[trials_worksheet].looks.empty());
  b.worksheets[trials_worksheet].looks = {{9, false, Backing::not_looked}};
  choose_trial(b, "felt", "wheel", 2);
  ASSERT_EQ(b.worksheets[trials_worksheet].looks.size(), 1u);
  EXPECT_EQ(b.worksheets[trials_worksheet].looks[0].level, 12);
  const auto again = read_book(write_book(b));
  ASSERT_TRUE(again);
  ASSERT_EQ(again->book.worksheets[trials_put_by].size(), 1u);
  EXPECT_EQ(again->book.worksheets[trials_put_by][0].material, "film");
}

TEST(Trials, TheSameTrialLaterTellsTheWear) {
  Book b = table();
  choose_trial(b, "felt", "wheel", 2);
  const auto keep_at = [&](double metres, double threshold) {
    b.tools[0].cut_m = metres;
    for (const double off : {-2.0, -1.0, -1.0, -0.5, 0.0, 0.0, 0.5, 1.0, 1.0, 2.0}) {
      const bool odd = b.worksheets[trials_worksheet].looks.size() % 2 == 1;
      b.worksheets[trials_worksheet].looks.push_back({threshold + off, off > (odd ? -0.7 : 0.2), Backing::not_looked});
    }
    keep_trials(b, *evaluate_trials(b), today);
  };
  EXPECT_EQ(wear_of(b, b.worksheets[trials_worksheet]).error().code, "too_few");
  keep_at(100, 12);
  keep_at(600, 15);
  const auto wear = wear_of(b, b.worksheets[trials_worksheet]);
  ASSERT_TRUE(wear) << wear.error().message;
  EXPECT_NEAR(wear->per_metre, 3.0 / 500, 1e-6);
  ASSERT_TRUE(wear->metres_left);
  EXPECT_NEAR(*wear->metres_left, (24 - wear->level_new) * 500 / 3 - 600, 1e-3) << "to the gauge's end";
}

}  // namespace trials_test
}  // namespace ypsi
