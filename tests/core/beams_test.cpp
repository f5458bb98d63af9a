// Beams: levels in blocks, caps, where a beam must not be on, and grids of power and speed.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>

#include "core/book/book_json.h"
#include "core/book/record.h"
#include "core/book/worksheets/trials.h"
#include "core/idle_link.h"
#include "core/procedures/run_program.h"
#include "core/program/checks.h"
#include "core/program/head_lines.h"
#include "core/program/read_setting.h"
#include "core/program/stroke_digits.h"
#include "core/tasks/heads.h"
#include "core/tasks/power_speed.h"
#include "core/tasks/trials.h"
#include "core/trials_book.h"

namespace ypsi {
namespace trials_test {

// ------------------------------------------------------------------------------------------------------------- beams

/// A table whose second head is a beam that takes its power in its own block.
Book with_beam() {
  Book b = table();
  Head& beam = b.machine.heads[1];
  beam = head("beam", HeadKind::beam);
  beam.on = "M171 p{level} q1";
  beam.off = "M172";
  beam.cap = 60;
  beam.gauge = "%";
  beam.gauge_high = 100;
  beam.place = HeadPlace{40, 0, 0.1};
  b.worksheets[trials_worksheet].head = "beam";
  b.worksheets[trials_worksheet].material = "birch 3";
  return b;
}

TEST(OwnBlocks, TakeALevelWhereTheirOwnerSaysSo) {
  const Book b = with_beam();
  const auto all = own_blocks(b.machine.heads);
  const auto found = find_own_act(all, "N20 m171 P12.5 Q1 (dim)");
  ASSERT_TRUE(found);
  EXPECT_EQ(found->head, 1);
  EXPECT_EQ(found->act, HeadAct::on);
  EXPECT_EQ(found->level, 12.5);
  EXPECT_EQ(find_own_act(all, "M172")->act, HeadAct::off);
  for (const char* none : {"M171 Q1", "M171 P Q1", "M171 P12", "M171 P1 2 X3 Q1", "M171 P--1 Q1", "M171", "M1720"})
    EXPECT_FALSE(find_own_act(all, none)) << none;
  EXPECT_EQ(own_block(b.machine.heads[1], HeadAct::on, 7.25), "M171 p7.25 q1");
  const auto read = read_program("G21 G90\nM171 P9 Q1\nG1 X5 F900\nM172\nM2\n", read_setting(b));
  ASSERT_TRUE(read);
  EXPECT_TRUE(uses_beam(*read, b.machine.heads));
  EXPECT_EQ(read->events.front().level, 9);
}

TEST(HeadLines, ALevelIsWantedWhereTheBlocksTakeOneAndIsNeverAboveTheCap) {
  const Book b = with_beam();
  EXPECT_EQ(head_lines_program(b, {{.head = 1, .x1 = 10}}, {}).error().code, "no_level");
  EXPECT_EQ(head_lines_program(b, {{.head = 1, .x1 = 10, .level = 60.5}}, {}).error().code, "over_cap");
  EXPECT_EQ(head_lines_program(b, {{.head = 1, .x1 = 10, .level = 5, .feed = -1}}, {}).error().code, "out_of_range");
  const auto made = head_lines_program(b, {{.head = 1, .x1 = 10, .level = 12.5, .feed = 700}}, {});
  ASSERT_TRUE(made) << made.error().message;
  const auto on = made->text.find("M171 p12.5 q1"), down = made->text.find("G1 Z"), off = made->text.find("M172");
  ASSERT_NE(on, std::string::npos) << made->text;
  EXPECT_LT(down, on) << "it shines on its way alone";
  EXPECT_LT(on, off);
  EXPECT_NE(made->text.find("F700"), std::string::npos);
  const auto stands = check_program(made->program, b, {});
  EXPECT_FALSE(std::any_of(stands.begin(), stands.end(), [](const Finding& f) { return f.code.starts_with("beam"); }));
}

/// Machine Z -20 is in focus on the bed, so -17 on a stock of 3; work zero at -45.
TEST(HeadLines, ABeamGoesToWhereItIsNarrowestOnTheStock) {
  Book b = with_beam();
  b.machine.heads[1].focus_z_mm = -20;
  b.job.stock_size = {300, 200, 3};
  b.job.zero(Axis::z) = -45;
  const auto made = head_lines_program(b, {{.head = 1, .x1 = 10, .level = 12.5}}, {});
  ASSERT_TRUE(made) << made.error().message;
  EXPECT_NE(made->text.find("G1 Z28.000"), std::string::npos) << made->text;
  b.job.stock_size[2] = 0;  // how thick it is nobody knows
  EXPECT_NE(head_lines_program(b, {{.head = 1, .x1 = 10, .level = 12.5}}, {})->text.find("G1 Z0.000"),
            std::string::npos);
}

TEST(Checks, ABeamThatIsOnWhereItMustNotBeIsFoundWithItsLine) {
  struct Case {
    const char* text;
    const char* code;
    std::uint32_t line;
  };
  const Case dangers[] = {{"G21 G90\nG0 X0 Y0 Z5\nM171 P9 Q1\nG1 X5 F900\nG0 X9\nM172\nM2\n", "beam_on_rapid", 5},
                          {"G21 G90\nG0 X0 Y0 Z5\nM171 P61 Q1\nG1 X5 F900\nM172\nM2\n", "beam_over_cap", 3},
                          {"G21 G90\nG0 X0 Y0 Z5\nM171 P9 Q1\nG1 X5 F900\nM0\nM172\nM2\n", "beam_on_pause", 5},
                          {"G21 G90\nG0 X0 Y0 Z5\nM171 P9 Q1\nG1 X5 F900\nG4 P3\nM172\nM2\n", "beam_stands", 5},
                          {"G21 G90\nG0 X0 Y0 Z5\nM171 P9 Q1\nG1 X5 F900\nM2\n", "beam_left_on", 3}};
  const auto found = [](const Book& b, const char* text) {
    std::vector<Finding> beams;
    for (Finding& f : check_program(*read_program(text, read_setting(b)), b, {}))
      if (f.code.starts_with("beam")) beams.push_back(std::move(f));
    return beams;
  };
  Book b = with_beam();
  for (const Case& c : dangers) {
    const auto beams = found(b, c.text);
    ASSERT_EQ(beams.size(), 1u) << c.text;
    EXPECT_EQ(beams[0].code, c.code);
    EXPECT_EQ(beams[0].line, c.line) << c.code;
    EXPECT_EQ(beams[0].weight, c.code == std::string("beam_stands") ? Weight::warns : Weight::stops);
  }
  const char* sound =
      "G21 G90\nG0 X0 Y0 Z5\nM171 P60 Q1\nG1 X5 F900\nG4 P0.2\nM172\nG0 X9\nM0\nM171 P9 Q1\nG1 X0\nM172\nM2\n";
  EXPECT_TRUE(found(b, sound).empty());
  b.machine.heads[1].cap = 0;
  ASSERT_EQ(found(b, sound).size(), 1u);
  EXPECT_EQ(found(b, sound)[0].code, "beam_no_cap");
  // Where its block does not say how strong it is nobody can hold it below the most.
  b.machine.heads[1].cap = 60;
  b.machine.heads[1].on = "M175";
  const auto uncapped = found(b, "G21 G90\nG0 X0 Y0 Z5\nS900\nM175\nG1 X5 F900\nM172\nM2\n");
  ASSERT_EQ(uncapped.size(), 1u);
  EXPECT_EQ(uncapped[0].code, "beam_not_capped");
  EXPECT_EQ(uncapped[0].weight, Weight::warns);
}

/// At a controller that puts nothing out by itself: what is sent, and what is not.
TEST(ProgramRun, PutsBeamsOutFirstAndNeverSendsABlockAboveTheCap) {
  class Recorder : public IdleLink {
   public:
    std::vector<std::string> sent;
    bool abandoned = false;
    Result<void> send(std::string_view block, std::uint32_t) override {
      sent.emplace_back(block);
      return {};
    }
    void abandon() override { abandoned = true; }
  } link;
  const Book b = with_beam();
  const std::string text = "G21 G90\nM171 P60 Q1\nG1 X5 F900\nM171 P60.5 Q1\nG1 X0\n";
  ProgramRun run;
  run.watch_beams(b.machine.heads);
  ASSERT_TRUE(run.start(link, text, 2, {"G21"}));
  run.tick();
  EXPECT_EQ(link.sent, (std::vector<std::string>{"M172", "G21", "M171 P60 Q1", "G1 X5 F900"}));
  EXPECT_TRUE(link.abandoned);
  EXPECT_EQ(run.state(), RunState::failed);
  EXPECT_NE(run.why().find("Line 4"), std::string::npos) << run.why();
}

TEST(StrokeDigits, AreThoseOfASevenSegmentDisplay) {
  const std::size_t strokes[] = {6, 2, 5, 5, 4, 5, 6, 3, 7, 6};
  for (int d = 0; d < 10; ++d) EXPECT_EQ(stroke_digits(std::to_string(d), {}, 2).size(), strokes[d]) << d;
  const auto number = stroke_digits("-1.5 8", {10, 20}, 2);
  EXPECT_EQ(number.size(), 1u + 2 + 1 + 5 + 7);
  for (const StrokeLine& s : number) {
    EXPECT_GE(std::min(s.from.real(), s.to.real()), 10);
    EXPECT_LE(std::max(s.from.imag(), s.to.imag()), 22);
    EXPECT_GT(std::abs(s.from - s.to), 0);
  }
  EXPECT_NEAR(number.back().to.real() - 10, 5 * 2 * digit_pitch_ratio + 2 * digit_width_ratio, 1e-9);
}

BeamGridSheet some_grid() {
  BeamGridSheet g;
  g.power_low = 10;
  g.power_high = 50;
  g.feed_low_mm_min = 300;
  g.feed_high_mm_min = 4800;
  g.powers = g.feeds = 5;
  return g;
}

TEST(PowerAndSpeed, AGridBurnsEachSquareAtWhatIsWrittenBesideIt) {
  Book b = with_beam();
  EXPECT_EQ(planned_grid(b).error().code, "no_range");
  b.worksheets[trials_worksheet].grid = some_grid();
  const auto grid = planned_grid(b);
  ASSERT_TRUE(grid);
  EXPECT_EQ(grid->powers, (std::vector<double>{10, 20, 30, 40, 50}));
  EXPECT_EQ(grid->feeds, (std::vector<double>{300, 600, 1200, 2400, 4800})) << "by equal ratios";
  const auto made = beam_grid_program(b, *grid, {});
  ASSERT_TRUE(made) << made.error().message;
  // What each cutting move along X over a square's width was burnt with, by where it lies.
  const double place = b.machine.heads[1].place->x_mm;
  double level = 0;
  std::size_t event = 0;
  std::map<std::pair<int, int>, int> burnt;
  for (std::size_t i = 0; i < made->program.motions.size(); ++i) {
    for (; event < made->program.events.size() && made->program.events[event].before <= i; ++event)
      if (const Event& e = made->program.events[event]; e.kind == EventKind::head_act) level = e.level.value_or(0);
    const Motion& m = made->program.motions[i];
    const WorkPosition from = made->program.begin_of(i);
    if (!is_cut(m) || level == 0 || std::fabs(std::fabs(m.end.x - from.x) - grid->side) > 1e-6) continue;
    const int column = static_cast<int>((std::min(from.x, m.end.x) + place - grid->x) / grid_pitch_x(*grid) + 0.01);
    const int row = static_cast<int>((from.y - grid->y) / grid_pitch_y(*grid) + 0.01);
    EXPECT_EQ(level, grid->powers.at(static_cast<std::size_t>(column)));
    EXPECT_EQ(made->program.feed_of(m), grid->feeds.at(static_cast<std::size_t>(row)));
    ++burnt[{column, row}];
  }
  EXPECT_EQ(burnt.size(), 25u);
  for (const auto& [square, lines] : burnt) EXPECT_EQ(lines, 33) << "8 mm by 0.25, both edges";
  for (const Finding& f : check_program(made->program, b, {})) EXPECT_FALSE(f.code.starts_with("beam")) << f.message;

  BeamGrid wrong = *grid;
  wrong.powers.back() = 61;
  EXPECT_EQ(beam_grid_program(b, wrong, {}).error().code, "over_cap");
  wrong.powers.assign(13, 5);
  EXPECT_EQ(beam_grid_program(b, wrong, {}).error().code, "too_many");
  wrong = *grid;
  wrong.apart = 0;
  EXPECT_EQ(beam_grid_program(b, wrong, {}).error().code, "out_of_range");
}

TEST(PowerAndSpeed, TheWantedSquareWithMostRoomIsKeptByMaterial) {
  Book b = with_beam();
  b.worksheets[trials_worksheet].grid = some_grid();
  const auto grid = planned_grid(b).value();
  EXPECT_FALSE(most_room(grid, {}));
  EXPECT_FALSE(most_room(grid, {{11, 300}})) << "of another grid";
  EXPECT_EQ(most_room(grid, {{10, 300}, {50, 4800}}), (BeamSetting{50, 4800})) << "of equal ones the fastest";
  b.worksheets[trials_worksheet].grid.wanted = {{20, 600}, {30, 600}, {30, 1200}, {40, 1200}, {50, 4800}};
  const auto best = most_room(grid, b.worksheets[trials_worksheet].grid.wanted);
  EXPECT_EQ(best, (BeamSetting{30, 1200}));
  EXPECT_EQ(wanted_around(grid, b.worksheets[trials_worksheet].grid.wanted, *best), 3);
  keep_power_speed(b, *best, today);
  EXPECT_TRUE(b.worksheets[trials_worksheet].grid.wanted.empty());
  EXPECT_EQ(power_speed_for(b, "birch 3"), (BeamSetting{30, 1200}));
  EXPECT_FALSE(power_speed_for(b, "felt"));
  EXPECT_FALSE(setting_for(b, "birch 3", 0)) << "the least power that shows a dot is another thing";
  const auto again = read_book(write_book(b));
  ASSERT_TRUE(again);
  EXPECT_EQ(power_speed_for(again->book, "birch 3"), (BeamSetting{30, 1200}));
  EXPECT_EQ(again->book.worksheets[trials_worksheet].grid.power_high, 50);
}

TEST(Checks, WhatAProgramSetsIsComparedWithWhatWasTriedWithTheMaterial) {
  Book b = table();
  b.machine.heads[0].lower = "M170 P{level}";
  b.job.stock_name = "sailcloth 0.4";
  const auto findings = [&](const char* text) {
    CheckSetting setting;
    setting.kept = kept_settings(b);
    std::vector<std::string> codes;
    for (const Finding& f : check_program(*read_program(text, read_setting(b)), b, setting))
      if (f.code.starts_with("setting_")) codes.push_back(fmt::format("{}:{}", f.code, f.line));
    return codes;
  };
  using Codes = std::vector<std::string>;
  const char *weak = "G21 G90\nG0 X1 Y1 Z5\nM170 P12\nG1 X9 F900\nM1709\nM2\n",
             *strong = "G21 G90\nG0 X1 Y1 Z5\nM170 P15\nG1 X9 F900\nM1709\nM170 P19.5\nG1 X1\nM1709\nM2\n",
             *right = "G21 G90\nG0 X1 Y1 Z5\nM170 P15\nG1 X9 F900\nM1709\nM2\n";
  EXPECT_EQ(findings(weak), Codes{}) << "nothing was tried yet";
  choose_trial(b, "sailcloth 0.4", "wheel", 2);
  TrialFinding found;
  found.low = 14.1;
  found.high = 18.2;
  found.set = 16;
  keep_trials(b, found, today);
  EXPECT_EQ(findings(weak), Codes{"setting_differs:3"});
  EXPECT_EQ(findings(strong), Codes{"setting_differs:6"});
  EXPECT_EQ(findings(right), Codes{});
  b.job.stock_name = "felt";
  EXPECT_EQ(findings(weak), Codes{}) << "another material";
  b.job.stock_name = "sailcloth 0.4";
  b.machine.heads[0].lower = "M170";
  EXPECT_EQ(findings("G21 G90\nG0 X1 Y1 Z5\nM170\nG1 X9 F900\nM1709\nM2\n"), Codes{"setting_said:3"});
}

TEST(NextTrial, IsLookedForUpwardsFromTheLeastWhereMoreIsDangerous) {
  const Book b = with_beam();
  const auto range = trial_range(b);
  ASSERT_TRUE(range && range->upwards);
  EXPECT_EQ(range->high, 60) << "never above the cap";
  std::vector<TriedLevel> tried;
  double before = -1;
  for (int i = 0; i < 25; ++i) {
    const auto next = next_trial(tried, *range);
    EXPECT_LE(next.level - std::max(before, 0.0), 3.0 + 1e-9) << "a twentieth of the range at most";
    EXPECT_GE(next.level, before);
    EXPECT_LE(next.level, 60);
    before = next.level;
    tried.push_back({next.level, false});
  }
  EXPECT_EQ(before, 60);
  EXPECT_TRUE(next_trial(tried, *range).at_end);
}

}  // namespace trials_test
}  // namespace ypsi
