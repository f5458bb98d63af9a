// Pressure, wear and depth on many random machines.
#include "core/book/worksheets/trials.h"
#include "core/tasks/engraving.h"
#include "core/tasks/trials.h"
#include "standin/heads_fixture.h"

namespace ypsi::standin {
namespace heads_test {

TEST_F(Heads, ThirtyCutsTellPressureOnManyMachines) {
  std::mt19937_64 random(4);
  int held = 0, told = 0;
  for (int m = 0; m < blades; ++m) {
    Scenario s = random_table(random);
    PhysicalHead& wheel = s.heads[0];
    wheel.threshold = std::uniform_real_distribution<double>(10, 16)(random);
    wheel.sigma = std::uniform_real_distribution<double>(0.3, 1)(random);
    wheel.backing = wheel.threshold + std::uniform_real_distribution<double>(3, 8)(random);
    start(s);
    Book b = book_of(s);
    choose_trial(b, "felt", "wheel", 0);
    b.worksheets[trials_worksheet].step = 0.25;
    for (int cut = 0; cut < most_tries_worth; ++cut) {
      const double level = evaluate_trials(b)->next.level;
      const auto seen = bench().try_cut("wheel", level);
      ASSERT_TRUE(seen);
      b.worksheets[trials_worksheet].looks.push_back(
          {level, seen->through, seen->marked ? Backing::marked : Backing::spared});
    }
    const auto found = evaluate_trials(b);
    ASSERT_TRUE(found && found->through && found->through->threshold);
    held += std::fabs(*found->through->threshold - wheel.threshold) <= *found->through->U_threshold ? 1 : 0;
    told += *found->through->U_threshold <= told_well_ratio * wheel.threshold ? 1 : 0;
  }
  std::printf("    trials       threshold, 30 cuts held %5.1f %%, told to a tenth %5.1f %%\n", 100.0 * held / blades,
              100.0 * told / blades);
  EXPECT_GE(held, blades * 93 / 100);
  EXPECT_GE(told, blades * 90 / 100) << "both questions out of the same thirty";
}

TEST_F(Heads, ABladeWearsByTheMetresThatItCuts) {
  std::mt19937_64 random(8);
  Scenario s = random_table(random);
  s.heads[0].threshold = 12;
  s.heads[0].sigma = 0.01;
  s.heads[0].backing = 100;
  s.heads[0].wear_per_m = 1;
  start(s);
  EXPECT_TRUE(bench().try_cut("wheel", 12.5)->through);
  for (int i = 0; i < 100; ++i) (void)bench().try_cut("wheel", 5);  // 3 m
  EXPECT_FALSE(bench().try_cut("wheel", 12.5)->through);
  EXPECT_EQ(bench().try_cut("scalpel", 5).error().code, "unknown_head");
}

/// A nose: what a ladder of six grooves says of the next one, and so of a plate's cap.
TEST_F(Heads, DepthsByANoseHoldOnTwoHundredMachines) {
  std::mt19937_64 random(2311);
  Tally tally;
  for (int m = 0; m < machines; ++m) {
    const auto between = [&](double low, double high) {
      return std::uniform_real_distribution<double>(low, high)(random);
    };
    Scenario s = random_table(random);
    s.heads = {physical("spindle", HeadKind::spindle, 0, 0, 0)};
    s.stock.cap = 0.2;
    s.stock.size[2] = 1.6;
    s.nose = PhysicalNose{between(0.02, 0.05), between(-2, 3), between(0.002, 0.01)};
    start(s);
    Book b = book_of(s);
    b.machine.kind = "engraver";
    b.machine.heads[0].gauge_low = 0;
    b.machine.heads[0].gauge_high = 25;
    DepthSheet& d = b.worksheets[trials_worksheet].depth;
    b.job.materials = {{.cap_mm = 0.2}};
    d.wanted_mm = 0.3;
    for (int g = 0; g < 6; ++g) {
      const double tick = 6 + 2 * g;
      const auto read = bench().read_groove(tick, "caliper");
      ASSERT_TRUE(read) << read.error().message;
      d.grooves.push_back({tick, *read});
    }
    const auto found = evaluate_engraving(b);
    ASSERT_TRUE(found) << found.error().message;
    const double mean = s.nose->mm_per_tick * (found->ticks.tick - s.nose->zero_tick);
    const double next = mean + std::normal_distribution<double>(0, s.nose->s)(random);
    tally.take(std::fabs(next - d.wanted_mm), found->U_next);
  }
  std::printf("    heads        depth by a nose    held %5.1f %%  mean U / 95 %% error %.2f\n", 100 * tally.share(),
              tally.width());
  EXPECT_GE(tally.share(), 0.93);
  EXPECT_LE(tally.width(), 2);
  EXPECT_TRUE(bench().try_cut("spindle", 20)->through) << "well below the cap";
  EXPECT_FALSE(bench().try_cut("spindle", 3.1)->through) << "its tip is hardly in";
  EXPECT_FALSE(bench().try_cut("spindle", 20)->marked);
}

}  // namespace heads_test
}  // namespace ypsi::standin
