// Fences against the stand-in: pieces cut along each, corrected until it is done.
#include "core/book/worksheets/fences.h"
#include "core/tasks/fences.h"
#include "standin/heads_fixture.h"

namespace ypsi::standin {
namespace heads_test {

/// Fences: pieces cut along each, corrected by the rule until it is done.
TEST_F(Heads, FencesComeRightOnTwoHundredMachines) {
  std::mt19937_64 random(2207);
  Tally tally;
  int done = 0;
  for (int m = 0; m < machines; ++m) {
    Scenario s = random_table(random);
    PhysicalFence fence{"left stop", m % 2 == 0 ? Axis::x : Axis::y,
                        60 + std::normal_distribution<double>(0, 0.6)(random), 0};
    s.fences = {fence};
    start(s);
    home();
    Book b = book_of(s);
    const Axis across = fence.along == Axis::x ? Axis::y : Axis::x;
    Fence in_book;
    in_book.name = fence.name;
    in_book.kind = fence.along == Axis::x ? FenceKind::along_x : FenceKind::along_y;
    in_book.x_mm = in_book.y_mm = 60;
    b.fences = {in_book};
    choose_fence(b, fence.name);
    FencesWorksheet& f = b.worksheets[fences_worksheet];
    f.expected_mm = 120;
    f.tolerance_mm = 0.1;
    f.adds = true;  // a fence that is taken to stand further in is cut further in
    to(Axis::z, -5);
    bool ended = false;
    for (int test = 0; test < 8 && !ended; ++test) {
      if (f.tests.empty() || !f.tests.back().measured_mm.empty()) begin_fence_test(b);
      const double cut = place_of(b.fences[0], across) + f.expected_mm;
      for (int piece = 0; piece < 3; ++piece) {
        to(across, cut - 2);
        to(across, cut);
        const auto read = bench().read_from_fence(fence.name, "caliper");
        ASSERT_TRUE(read) << read.error().message;
        f.tests.back().measured_mm.push_back(*read);
      }
      const auto found = evaluate_fences(b);
      ASSERT_TRUE(found) << found.error().message;
      ended = found->done;
      if (ended) {
        // What a piece measures in truth, and what is said of it.
        const double truth = machine_->plant().head_point(0)[across == Axis::x ? 0 : 1] - fence.at;
        tally.take(std::fabs(std::fabs(truth) - found->mean), found->U);
      }
      keep_fence(b, *found, today);
    }
    done += ended ? 1 : 0;
  }
  std::printf("    fences       mean of 3 pieces   held %5.1f %%  mean U / 95 %% error %.2f, %d of %d done\n",
              100 * tally.share(), tally.width(), done, machines);
  EXPECT_GE(done, machines * 95 / 100);
  EXPECT_GE(tally.share(), 0.93);
  EXPECT_LE(tally.width(), 2);
  EXPECT_EQ(bench().read_from_fence("no such", "caliper").error().code, "unknown_fence");
}

/// A fence that is off is right after few tests, on 200 tables.
TEST_F(Heads, AFenceIsRightAfterFewTests) {
  std::mt19937_64 random(31);
  int right = 0, tests = 0;
  for (int m = 0; m < machines; ++m) {
    const double off = std::uniform_real_distribution<double>(-0.8, 0.8)(random);
    std::normal_distribution<double> cut(0, 0.02);
    Book b = book_of(random_table(random));
    b.fences = {{"left", FenceKind::along_y, 20.0, 0.0, 0, {}}};
    b.worksheets[fences_worksheet].instrument = "caliper";
    b.worksheets[fences_worksheet].expected_mm = 200;
    b.worksheets[fences_worksheet].tolerance_mm = 0.2;
    begin_fence_test(b);
    bool done = false;
    for (int i = 0; i < 8 && !done; ++i, ++tests) {
      auto& now = b.worksheets[fences_worksheet].tests.back();
      for (int piece = 0; piece < 3; ++piece)
        now.measured_mm.push_back(std::round((200 + off + now.offset_mm + cut(random)) * 100) / 100);
      const auto found = evaluate_fences(b);
      ASSERT_TRUE(found) << found.error().message;
      done = found->done;
      keep_fence(b, *found, today);
    }
    right += done && std::fabs(off + b.fences[0].offset_mm) <= 0.1 ? 1 : 0;
  }
  EXPECT_GE(right, machines * 93 / 100);
  EXPECT_LE(tests, machines * 4);
}

}  // namespace heads_test
}  // namespace ypsi::standin
