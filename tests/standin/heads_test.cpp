// Where heads stand, against the stand-in: what its person sees is typed, and what comes out holds against the truth on
// many random machines.
#include "core/book/worksheets/heads.h"
#include "core/heads/drawn_marks.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/all_tasks.h"
#include "standin/heads_fixture.h"

namespace ypsi::standin {
namespace heads_test {

TEST_F(Heads, PlacesFromMarksHoldOnTwoHundredMachines) {
  std::mt19937_64 random(1811);
  Tally tally;
  for (int m = 0; m < machines; ++m) {
    start(random_table(random));
    home();
    Book b = book_of(machine_->scenario());
    choose_head(b, "pen");
    to(Axis::z, -5);
    int n = 0;
    for (const auto& [x, y] : {std::pair{120.0, 80.0}, {320.0, 90.0}, {310.0, 280.0}, {130.0, 270.0}, {220.0, 180.0}}) {
      const std::string spot = "mark " + std::to_string(n++);
      to(Axis::x, x);
      to(Axis::y, y);
      ASSERT_TRUE(bench().spot(spot));
      HeadMark mark;
      bring_over("wheel", spot);
      mark.first = here();
      bring_over("pen", spot);
      mark.other = here();
      b.worksheets[heads_worksheet].marks.push_back(mark);
    }
    const auto found = evaluate_head_place(b, false);
    ASSERT_TRUE(found) << found.error().message;
    if (found->verdict != HeadVerdict::ok) continue;  // refused by chance: 2.5 % of sound machines
    const PhysicalHead& pen = machine_->scenario().heads[1];
    const double dx = found->offset.real() - pen.offset_x, dy = found->offset.imag() - pen.offset_y;
    tally.take(std::fabs(dx), found->U);
    tally.take(std::fabs(dy), found->U);
  }
  std::printf("    heads        place, 5 marks     held %5.1f %%  mean U / 95 %% error %.2f, %zu of %d not refused\n",
              100 * tally.share(), tally.width(), tally.errors.size() / 2, machines);
  EXPECT_GE(tally.errors.size(), 2 * machines * 0.9);
  EXPECT_GE(tally.share(), 0.93);
  EXPECT_LE(tally.width(), 2);
}

TEST_F(Heads, CrossesCutByBothTellTheSame) {
  std::mt19937_64 random(5);
  for (int m = 0; m < 12; ++m) {
    start(random_table(random));
    home();
    Book b = book_of(machine_->scenario());
    set_zero(b);
    choose_head(b, "pen");
    b.worksheets[heads_worksheet].instrument = "caliper";
    HeadLinesSetting setting;
    setting.unmeasured_at_zero = true;
    setting.feed = 6000;
    std::vector<HeadLine> lines;
    for (const auto& [x, y] : {std::pair{60.0, 60.0}, {200.0, 70.0}, {190.0, 220.0}}) {
      for (const HeadLine& l : cross_lines(0, 1, x, y, 20)) lines.push_back(l);
      b.worksheets[heads_worksheet].crosses.push_back({x, y, {}, {}});
    }
    const auto made = head_lines_program(b, lines, setting);
    ASSERT_TRUE(made) << made.error().message;
    run_text(made->text);
    for (std::size_t i = 0; i < 3; ++i) {
      const int back = 2 * (2 - static_cast<int>(i));  // the upright of a cross came last
      const StrokePoint wheel{"wheel", back, StrokePoint::Where::middle}, pen{"pen", back, StrokePoint::Where::middle};
      StrokePoint wheel_flat = wheel, pen_flat = pen;
      wheel_flat.back = pen_flat.back = back + 1;
      b.worksheets[heads_worksheet].crosses[i].dx_mm = bench().read_strokes(wheel, pen, Axis::x, "caliper").value();
      b.worksheets[heads_worksheet].crosses[i].dy_mm =
          bench().read_strokes(wheel_flat, pen_flat, Axis::y, "caliper").value();
    }
    const auto found = evaluate_head_place(b, true);
    ASSERT_TRUE(found) << found.error().message;
    const PhysicalHead& pen = machine_->scenario().heads[1];
    EXPECT_NEAR(found->offset.real(), pen.offset_x, 0.2) << "lost motion is in it alike for both";
    EXPECT_NEAR(found->offset.imag(), pen.offset_y, 0.2);
  }
}

/// Two lines towards one end by the knife of 200 machines: what the gap tells holds.

TEST_F(Heads, PrintedMarksAreSpotsOfATurnedStock) {
  std::mt19937_64 random(9);
  Scenario s = random_table(random);
  s.stock.rotation = 0.1;
  s.stock.marks = {{10, 20}, {110, 20}};
  start(s);
  home();
  to(Axis::z, -5);
  const auto a = bench().head_from("wheel", "printed 1"), b = bench().head_from("wheel", "printed 2");
  ASSERT_TRUE(a && b);
  EXPECT_NEAR((*a)[0] - (*b)[0], 100 * std::cos(0.1), 0.4);
  EXPECT_NEAR((*a)[1] - (*b)[1], 100 * std::sin(0.1), 0.4);
  EXPECT_FALSE(bench().head_from("wheel", "printed 3"));
}

/// The rehearsal's own steps: every head's place, and what the wheel cuts through.
TEST_F(Heads, ARehearsalFindsPlacesAndPressure) {
  std::mt19937_64 random(31);
  for (int m = 0; m < 8; ++m) {
    start(random_table(random));
    home();
    Workshop workshop(
        link(), bench(), [this](double s) { machine_->advance(s); }, book_of(machine_->scenario()));
    const Tasks steps{&heads_task(), &trials_task()};
    workshop.book.tools.push_back({});
    for (const Axis a : all_axes) {
      workshop.book.machine.axis(a).soft_min = machine_->scenario().controller[index(a)].soft_min;
      workshop.book.machine.axis(a).soft_max = machine_->scenario().controller[index(a)].soft_max;
    }
    const Rehearsal r = rehearse(workshop, rehearsal_steps(steps));
    ASSERT_TRUE(r.completed) << r.problems.back();
    ASSERT_EQ(r.sheets.size(), 3u) << "Build, Heads, Trials";
    for (std::size_t h = 1; h < 3; ++h) {
      const auto& place = r.book.machine.heads[h].place;
      if (!place) continue;  // refused by chance
      const PhysicalHead& truth = machine_->scenario().heads[h];
      EXPECT_NEAR(place->x_mm, truth.offset_x, 3 * place->U_mm);
      EXPECT_NEAR(place->y_mm, truth.offset_y, 3 * place->U_mm);
    }
    const auto wheel = setting_for(r.book, "stock", 0);
    ASSERT_TRUE(wheel && wheel->through);
  }
}

/// A blade that the controller turns: where it stands, from two lines towards one end.
TEST_F(Heads, ATurnedBladesPlaceHoldsOnTwoHundredMachines) {
  std::mt19937_64 random(2003);
  Tally tally;
  for (int m = 0; m < machines; ++m) {
    Scenario s = random_table(random);
    PhysicalHead& blade = s.heads[2];
    blade = physical("blade", HeadKind::turned_knife, 50, 3, 175);
    blade.blade_forward = std::uniform_real_distribution<double>(-0.3, 0.3)(random);
    blade.blade_left = std::uniform_real_distribution<double>(-0.3, 0.3)(random);
    start(s);
    home();
    Book b = book_of(s);
    set_zero(b);
    choose_head(b, "blade");
    b.machine.heads[2].place = HeadPlace{50, 3, 0.05};
    HeadLinesSetting setting;
    setting.feed = 6000;
    const auto made = head_lines_program(b, facing_lines(2, 150, 120, 30), setting);
    ASSERT_TRUE(made) << made.error().message;
    run_text(made->text);
    const StrokePoint plus{"blade", 1, StrokePoint::Where::end}, minus{"blade", 0, StrokePoint::Where::end};
    const auto across = bench().read_strokes(minus, plus, Axis::y, "caliper"),
               along = bench().read_strokes(minus, plus, Axis::x, "caliper");
    ASSERT_TRUE(across && along);
    b.worksheets[heads_worksheet].blade_mm = {*across, 0, *along, 0};
    know_lost_motion(b, random);
    const auto found = evaluate_blade(b);
    ASSERT_TRUE(found) << found.error().message;
    tally.take(std::fabs(found->forward - blade.blade_forward), found->U);
    tally.take(std::fabs(found->left - blade.blade_left), found->U);
  }
  std::printf("    heads        turned blade       held %5.1f %%  mean U / 95 %% error %.2f\n", 100 * tally.share(),
              tally.width());
  EXPECT_GE(tally.share(), 0.93);
  EXPECT_LE(tally.width(), 2);
}

/// Printed marks of a turned stock, found by eye: where anything else that is drawn lies, within U.
TEST_F(Heads, WhatIsDrawnIsFoundByPrintedMarksOnTwoHundredMachines) {
  std::mt19937_64 random(2401);
  Tally tally;
  const std::vector<std::array<double, 2>> drawn{{20, 20}, {260, 25}, {250, 180}, {30, 170}};
  const PlanPoint asked(150, 100);
  for (int m = 0; m < machines; ++m) {
    Scenario s = random_table(random);
    s.skew = 0;
    s.stock.rotation = std::uniform_real_distribution<double>(-0.05, 0.05)(random);
    s.stock.x = 80;
    s.stock.y = 80;
    s.stock.marks = drawn;
    start(s);
    home();
    to(Axis::z, -5);
    // Marks where the machine's own place of them is known: a scale of its own is in all alike.
    std::vector<FoundMark> found;
    for (std::size_t i = 0; i < drawn.size(); ++i) {
      to(Axis::x, 80 + drawn[i][0]);
      to(Axis::y, 80 + drawn[i][1]);
      bring_over("wheel", "printed " + std::to_string(i + 1));
      found.push_back({{drawn[i][0], drawn[i][1]}, {here().x_mm, here().y_mm}});
    }
    const auto fit = fit_marks(found, 0.1);
    ASSERT_TRUE(fit) << fit.error().message;
    if (fit->verdict != MarksVerdict::ok) continue;
    // Where the head must stand in truth: as the plant has the stock, seen from the last mark.
    const Point3 at = machine_->plant().head_point(0);
    const PlanPoint turn = std::polar(1.0, s.stock.rotation);
    const PlanPoint truth =
        PlanPoint(here().x_mm, here().y_mm) + (PlanPoint(80, 80) + turn * asked - PlanPoint(at[0], at[1]));
    tally.take(std::abs(fit->at(asked) - truth), fit->U_at(asked) * std::numbers::sqrt2);
  }
  std::printf("    marks        a drawn place      held %5.1f %%  mean U / 95 %% error %.2f\n", 100 * tally.share(),
              tally.width());
  EXPECT_GE(tally.errors.size(), machines * 0.9);
  EXPECT_GE(tally.share(), 0.93);
}

TEST_F(Heads, TheFileOfTheTableIsRead) {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/fathom.scenario.json");
  std::stringstream text;
  text << file.rdbuf();
  const auto s = read_scenario(text.str());
  ASSERT_TRUE(s) << s.error().message;
  ASSERT_EQ(s->heads.size(), 5u);
  EXPECT_EQ(s->heads[1].name, "pen");
  EXPECT_EQ(s->heads[1].kind, HeadKind::pen);
  EXPECT_EQ(s->heads[1].offset_x, 75.12);
  EXPECT_EQ(s->heads[3].trailing, 0.35);
  std::string wrong = text.str();
  wrong.replace(wrong.find("drag_knife"), 10, "scissors  ");
  EXPECT_EQ(read_scenario(wrong).error().code, "out_of_range");
}

}  // namespace heads_test
}  // namespace ypsi::standin
