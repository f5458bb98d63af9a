// What a beam leaves: its focus, its kerf, and nothing where it is too weak.
#include "core/book/worksheets/heads.h"
#include "standin/heads_fixture.h"

namespace ypsi::standin {
namespace heads_test {

/// Beams: the height at which lines are narrowest, by the widths that are read.
TEST_F(Heads, TheFocusOfABeamHolds) {
  std::mt19937_64 random(12);
  int held = 0, ok = 0;
  for (int m = 0; m < machines; ++m) {
    Scenario s = random_table(random);
    s.heads[1] = physical("beam", HeadKind::beam, 50, 0, 0);
    s.heads[1].on = "M183";
    s.heads[1].off = "M184";
    s.heads[1].rayleigh = 2;
    s.heads[1].spot = 0.12;
    const double focus = std::uniform_real_distribution<double>(-21, -19)(random);
    s.heads[1].focus_z = focus;
    start(s);
    home();
    Book b = book_of(s);
    choose_head(b, "beam");
    b.worksheets[heads_worksheet].u_width_mm = 0.015;
    double middle = -20;
    Result<BeamFocus> found = tl::make_unexpected(Error{});
    for (int round = 0; round < 3; ++round) {
      b.worksheets[heads_worksheet].focus.clear();
      for (const double off : {-5.0, -4.0, -3.0, -1.0, 1.0, 3.0, 4.0, 5.0}) {
        to(Axis::x, 100);
        to(Axis::y, 100);
        to(Axis::z, middle + off);
        machine_->plant().act_on_head(1, HeadAct::on, 0);
        jog(Axis::x, 10);
        machine_->plant().act_on_head(1, HeadAct::off, 0);
        b.worksheets[heads_worksheet].focus.push_back(
            {link().status().position.z, std::max(0.01, bench().read_width("beam", "caliper").value())});
      }
      found = evaluate_focus(b);
      ASSERT_TRUE(found) << found.error().message;
      if (found->verdict == FocusVerdict::ok) break;
      if (found->z) middle = *found->z;
    }
    if (found->verdict != FocusVerdict::ok) continue;
    ++ok;
    // Z of the nose is the controller's count within its slack.
    held += std::fabs(*found->z - focus) <= *found->U + s.axes[2].lost_motion ? 1 : 0;
  }
  EXPECT_GE(ok, machines * 90 / 100);
  EXPECT_GE(held, ok * 93 / 100);
}

/// What a beam takes away, from ten strips that it cut, pushed together.
TEST_F(Heads, AKerfHoldsOnTwoHundredMachines) {
  std::mt19937_64 random(1907);
  Tally tally;
  for (int m = 0; m < machines; ++m) {
    Scenario s = random_table(random);
    PhysicalHead& beam = s.heads[1];
    beam = physical("beam", HeadKind::beam, 50, 0, 0);
    beam.on = "M183 P{level}";
    beam.off = "M184";
    beam.threshold = 20;
    beam.spot = std::uniform_real_distribution<double>(0.1, 0.3)(random);
    beam.focus_z = -1000;  // it is as wide at all heights of this test
    beam.rayleigh = 1e6;
    start(s);
    home();
    Book b = book_of(s);
    set_zero(b);
    choose_head(b, "beam");
    b.machine.heads[1].place = HeadPlace{50, 0, 0.05};
    HeadsWorksheet& w = b.worksheets[heads_worksheet];
    w.strips = 10;
    w.pitch_mm = 8;
    std::vector<HeadLine> lines;
    for (int i = 0; i <= w.strips; ++i)
      lines.push_back({.head = 1, .x0 = 100 + 8.0 * i, .y0 = 60, .x1 = 100 + 8.0 * i, .y1 = 90, .level = 30.0});
    HeadLinesSetting setting;
    setting.feed = 6000;
    const auto made = head_lines_program(b, lines, setting);
    ASSERT_TRUE(made) << made.error().message;
    run_text(made->text);
    const auto total = bench().read_strips("beam", w.strips, "caliper");
    ASSERT_TRUE(total) << total.error().message;
    w.total_mm = *total;
    // The axis is as long as its steps say: nothing of its scale is left over.
    Entry steps;
    steps.sheet = "steps_per_unit";
    steps.subject = "X";
    steps.result = {{"U_scale", 2e-4}, {"scale", 1.0}};
    steps.as_left = {{"steps_per_mm", b.machine.axis(Axis::x).steps_per_mm}};
    b.history.push_back(steps);
    const auto found = evaluate_kerf(b);
    ASSERT_TRUE(found) << found.error().message;
    tally.take(std::fabs(found->value - beam.spot), found->U);
    EXPECT_EQ(bench().read_strips("beam", 11, "caliper").error().code, "no_feature");
  }
  std::printf("    heads        kerf, ten strips   held %5.1f %%  mean U / 95 %% error %.2f\n", 100 * tally.share(),
              tally.width());
  EXPECT_GE(tally.share(), 0.93);
}

TEST_F(Heads, ABeamTooWeakForADotLeavesNoLine) {
  std::mt19937_64 random(3);
  Scenario s = random_table(random);
  s.heads[1] = physical("beam", HeadKind::beam, 50, 0, 0);
  s.heads[1].on = "M183 P{level}";
  s.heads[1].off = "M184";
  s.heads[1].threshold = 20;
  start(s);
  home();
  Book b = book_of(s);
  set_zero(b);
  for (const auto& [level, lines] : {std::pair{19.0, 0U}, {21.0, 1U}}) {
    b.machine.heads[1].place = HeadPlace{50, 0, 0.05};
    const auto made =
        head_lines_program(b, {{.head = 1, .x0 = 100, .y0 = 60, .x1 = 140, .y1 = 60, .level = level}}, {});
    ASSERT_TRUE(made) << made.error().message;
    run_text(made->text);
    EXPECT_EQ(machine_->plant().marks_of(1).strokes().size(), lines) << level;
  }
}

}  // namespace heads_test
}  // namespace ypsi::standin
