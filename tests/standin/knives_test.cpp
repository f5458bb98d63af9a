// A knife that trails, against the stand-in: its offset from a gap, and corners cut true.
#include "core/book/worksheets/heads.h"
#include "core/program/head_lines.h"
#include "standin/heads_fixture.h"

namespace ypsi::standin {
namespace heads_test {

TEST_F(Heads, TheGapOfAKnifeHoldsOnTwoHundredMachines) {
  std::mt19937_64 random(77);
  Tally tally;
  for (int m = 0; m < machines; ++m) {
    start(random_table(random));
    home();
    Book b = book_of(machine_->scenario());
    set_zero(b);
    choose_head(b, "knife");
    const PhysicalHead& knife = machine_->scenario().heads[2];
    b.machine.heads[2].place = HeadPlace{knife.offset_x, knife.offset_y, 0.05};
    HeadLinesSetting setting;
    setting.feed = 6000;
    const auto made = head_lines_program(b, facing_lines(2, 150, 120, 30), setting);
    ASSERT_TRUE(made) << made.error().message;
    run_text(made->text);
    const auto gap = bench().read_strokes({"knife", 1, StrokePoint::Where::end}, {"knife", 0, StrokePoint::Where::end},
                                          Axis::x, "caliper");
    ASSERT_TRUE(gap) << gap.error().message;
    b.worksheets[heads_worksheet].gap_mm = *gap;
    know_lost_motion(b, random);
    const auto found = evaluate_trailing(b);
    ASSERT_TRUE(found);
    tally.take(std::fabs(found->value - knife.trailing), found->U);
  }
  std::printf("    heads        trailing offset    held %5.1f %%  mean U / 95 %% error %.2f\n", 100 * tally.share(),
              tally.width());
  EXPECT_GE(tally.share(), 0.93);
  EXPECT_LE(tally.width(), 2);
}

/// A trial by the person of many machines, both questions in 30 short cuts.

/// What a castor leaves before compensation is off by its trailing offset at a corner.
TEST_F(Heads, ACastorCutsCornersByItsTrailingOffset) {
  std::mt19937_64 random(2);
  Scenario s = random_table(random);
  s.axes[0].lost_motion = s.axes[1].lost_motion = 0;
  s.heads[2].trailing = 0.5;
  s.heads[2].offset_x = s.heads[2].offset_y = 0;
  start(s);
  home();
  Book b = book_of(s);
  set_zero(b);
  ASSERT_NO_FATAL_FAILURE(run_text("G21 G90\nG0 Z5\nG0 X50 Y50\nM175\nG1 X100 F3000\nY90\nM176\nM2\n"));
  const auto& strokes = machine_->plant().marks_of(2).strokes();
  ASSERT_EQ(strokes.size(), 1u);
  double nearest = 1e9;  // to the corner that was meant, machine 140 90 by the controller's count
  const auto at = link().status().position;
  const Point3 nose = machine_->plant().nose();
  const double corner_x = nose[0] + 140 - at.x, corner_y = nose[1] + 90 - at.y;
  for (const Point3& p : strokes[0].points) nearest = std::min(nearest, std::hypot(p[0] - corner_x, p[1] - corner_y));
  EXPECT_GT(nearest, 0.1);
  EXPECT_LT(nearest, 0.5);
  EXPECT_NEAR(machine_->plant().marks_of(2).cut_m(), 0.09, 0.002);
}

double from_segment(std::complex<double> p, std::complex<double> a, std::complex<double> b) {
  const std::complex<double> way = b - a;
  const double t = std::clamp(std::real((p - a) * std::conj(way)) / std::norm(way), 0.0, 1.0);
  return std::abs(p - (a + way * t));
}

/// Compensated, the edge goes along what is drawn, corners and all.
TEST_F(Heads, ACompensatedKnifeCutsCornersTrueToAFewHundredths) {
  std::mt19937_64 random(21);
  for (int m = 0; m < 20; ++m) {
    Scenario s = random_table(random);
    for (AxisTruth& axis : s.axes) axis.lost_motion = 0;
    s.controller[0].steps_per_mm = s.axes[0].true_steps_per_mm = 400;
    s.controller[1].steps_per_mm = s.axes[1].true_steps_per_mm = 400;
    start(s);
    home();
    Book b = book_of(s);
    set_zero(b);
    b.machine.heads[2].place = HeadPlace{s.heads[2].offset_x, s.heads[2].offset_y, 0.05};
    b.machine.heads[2].trailing_mm = s.heads[2].trailing;
    // A star-like shape with sharp and blunt corners, both ways round.
    std::vector<std::complex<double>> drawn;
    const int points = 5 + m % 4;
    for (int i = 0; i < points; ++i) {
      const double r = i % 2 == 0 ? 40 : std::uniform_real_distribution<double>(14, 38)(random);
      drawn.push_back(std::complex<double>(150, 120) +
                      std::polar(r, (m % 2 == 0 ? 1 : -1) * 2 * std::numbers::pi * i / points));
    }
    drawn.push_back(drawn.front());
    HeadLinesSetting setting;
    setting.feed = 3000;
    const auto made = knife_program(b, 2, {drawn}, setting);
    ASSERT_TRUE(made) << made.error().message;
    run_text(made->text);
    const auto& strokes = machine_->plant().marks_of(2).strokes();
    ASSERT_EQ(strokes.size(), 1u);
    // Where the drawing lies, physically: by the controller's count from where it stands now.
    const auto at = link().status().position;
    const Point3 nose = machine_->plant().nose();
    const std::complex<double> origin(nose[0] + 40 - at.x, nose[1] + 40 - at.y);
    double worst = 0, missed = 0;
    const double lead_in = 3 * s.heads[2].trailing + s.heads[2].trailing;
    for (const Point3& p : strokes[0].points) {
      const std::complex<double> edge = std::complex<double>(p[0], p[1]) - origin;
      if (std::abs(edge - drawn.front()) < lead_in) continue;  // in waste, and the overcut
      double off = 1e9;
      for (std::size_t i = 1; i < drawn.size(); ++i) off = std::min(off, from_segment(edge, drawn[i - 1], drawn[i]));
      worst = std::max(worst, off);
    }
    for (std::size_t i = 1; i + 1 < drawn.size(); ++i) {
      double nearest = 1e9;
      for (const Point3& p : strokes[0].points)
        nearest = std::min(nearest, std::abs(std::complex<double>(p[0], p[1]) - origin - drawn[i]));
      missed = std::max(missed, nearest);
    }
    EXPECT_LT(worst, 0.05) << "the edge leaves the drawing, machine " << m;
    EXPECT_LT(missed, 0.05) << "a corner is not reached, machine " << m;
  }
}

}  // namespace heads_test
}  // namespace ypsi::standin
