// Trials, wear, heads and fences as the owner meets them: readings on the worksheet, a finding, an entry in the record.
#include "core/tasks/trials.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

#include "core/book/book_json.h"
#include "core/book/changes.h"
#include "core/book/record.h"
#include "core/idle_link.h"
#include "core/procedures/run_program.h"
#include "core/program/checks.h"
#include "core/program/cut_length.h"
#include "core/program/head_lines.h"
#include "core/program/knife_path.h"
#include "core/program/read_setting.h"
#include "core/program/stroke_digits.h"
#include "core/tasks/build.h"
#include "core/tasks/build_entries.h"
#include "core/tasks/certificate.h"
#include "core/tasks/fences.h"
#include "core/tasks/heads.h"
#include "core/tasks/power_speed.h"
#include "core/tasks/standing.h"

namespace ypsi {
namespace trials_test {

const std::string today = "2026-11-28T12:00:00+00:00";

Head head(const std::string& name, HeadKind kind) {
  Head h;
  h.name = name;
  h.kind = kind;
  return h;
}

Book table() {
  Book b;
  b.machine.kind = "cutting_table";
  b.machine.heads = {head("wheel", HeadKind::wheel), head("pen", HeadKind::pen), head("knife", HeadKind::drag_knife)};
  for (Head& h : b.machine.heads) {
    h.lower = "M17" + std::to_string(&h - b.machine.heads.data());
    h.raise = h.lower + "9";
    h.gauge_low = 8;
    h.gauge_high = 24;
  }
  Instrument caliper;
  caliper.name = "caliper";
  caliper.resolution_mm = 0.01;
  caliper.u_cal_mm = 0.015;
  b.instruments = {caliper};
  Tool blade;
  blade.number = 2;
  blade.head = "wheel";
  b.tools = {blade};
  b.job.stock_size = {600, 400, 1};
  return b;
}

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
    b.trials_worksheet.low = 6;
    b.trials_worksheet.high = 26;
    b.trials_worksheet.step = 0.25;
    auto& looks = b.trials_worksheet.looks;
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
  b.trials_worksheet.step = 0.5;
  for (const double level :
       {10.0, 12.0, 13.0, 13.0, 14.0, 14.0, 15.0, 16.0, 16.0, 17.0, 18.0, 19.0, 19.0, 20.0, 21.0}) {
    const bool odd = b.trials_worksheet.looks.size() % 2 == 1;
    b.trials_worksheet.looks.push_back(
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
  EXPECT_TRUE(b.trials_worksheet.looks.empty());
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
    b.trials_worksheet.looks.push_back({level, level > 14, level > 10 ? Backing::marked : Backing::spared});
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
  b.trials_worksheet.looks = {{12, true, Backing::spared}};
  choose_trial(b, "film", "wheel", 2);
  EXPECT_TRUE(b.trials_worksheet.looks.empty());
  b.trials_worksheet.looks = {{9, false, Backing::not_looked}};
  choose_trial(b, "felt", "wheel", 2);
  ASSERT_EQ(b.trials_worksheet.looks.size(), 1u);
  EXPECT_EQ(b.trials_worksheet.looks[0].level, 12);
  const auto again = read_book(write_book(b));
  ASSERT_TRUE(again);
  ASSERT_EQ(again->book.trials_put_by.size(), 1u);
  EXPECT_EQ(again->book.trials_put_by[0].material, "film");
}

TEST(Trials, TheSameTrialLaterTellsTheWear) {
  Book b = table();
  choose_trial(b, "felt", "wheel", 2);
  const auto keep_at = [&](double metres, double threshold) {
    b.tools[0].cut_m = metres;
    for (const double off : {-2.0, -1.0, -1.0, -0.5, 0.0, 0.0, 0.5, 1.0, 1.0, 2.0}) {
      const bool odd = b.trials_worksheet.looks.size() % 2 == 1;
      b.trials_worksheet.looks.push_back({threshold + off, off > (odd ? -0.7 : 0.2), Backing::not_looked});
    }
    keep_trials(b, *evaluate_trials(b), today);
  };
  EXPECT_EQ(wear_of(b, b.trials_worksheet).error().code, "too_few");
  keep_at(100, 12);
  keep_at(600, 15);
  const auto wear = wear_of(b, b.trials_worksheet);
  ASSERT_TRUE(wear) << wear.error().message;
  EXPECT_NEAR(wear->per_metre, 3.0 / 500, 1e-6);
  ASSERT_TRUE(wear->metres_left);
  EXPECT_NEAR(*wear->metres_left, (24 - wear->level_new) * 500 / 3 - 600, 1e-3) << "to the gauge's end";
}

// ------------------------------------------------------------------------------------------------------------ heads

OverMark over(double x, double y) {
  return {x, y};
}

TEST(Heads, AMarkTellsThePlaceAndTakingItOffMakesItOutOfDate) {
  Book b = table();
  choose_head(b, "pen");
  b.heads_worksheet.marks = {{over(412.06, 318.51), over(336.94, 315.47)},
                             {over(1211.90, 318.48), over(1136.78, 315.44)},
                             {over(1212.02, 901.55), over(1136.90, 898.51)},
                             {over(411.97, 901.46), over(336.85, 898.42)}};
  const auto found = evaluate_head_place(b, false);
  ASSERT_TRUE(found);
  EXPECT_EQ(found->verdict, HeadVerdict::ok);
  keep_head_place(b, *found, false, today);
  ASSERT_TRUE(b.machine.heads[1].place);
  EXPECT_NEAR(b.machine.heads[1].place->x_mm, 75.12, 1e-9);
  EXPECT_NEAR(b.machine.heads[1].place->y_mm, 3.04, 1e-9);
  EXPECT_EQ(standing_of(b, heads_id).standing, Standing::current);
  head_taken_off(b, 1, today);
  EXPECT_FALSE(b.machine.heads[1].place) << "no program uses it any more";
  EXPECT_EQ(standing_of(b, heads_id).standing, Standing::out_of_date);
  const auto again = read_book(write_book(b));
  ASSERT_TRUE(again);
  EXPECT_EQ(standing_of(again->book, heads_id).standing, Standing::out_of_date);
}

TEST(Heads, ATurnBetweenTheLooksIsRefused) {
  Book b = table();
  choose_head(b, "pen");
  const std::complex<double> turn = std::polar(1.0, 0.004);
  for (const auto& [x, y] : {std::pair{100.0, 100.0}, {900.0, 120.0}, {880.0, 700.0}, {120.0, 690.0}, {500.0, 400.0}}) {
    const std::complex<double> p = turn * std::complex<double>(x, y) - std::complex<double>(75, 3);
    b.heads_worksheet.marks.push_back({over(x, y), over(p.real(), p.imag())});
  }
  const auto found = evaluate_head_place(b, false);
  ASSERT_TRUE(found);
  EXPECT_EQ(found->verdict, HeadVerdict::turned);
}

TEST(Heads, CrossesCorrectWhatTheBookHas) {
  Book b = table();
  choose_head(b, "pen");
  b.machine.heads[1].place = HeadPlace{75, 3, 0.1};
  for (const auto& [x, y] : {std::pair{100.0, 100.0}, {500.0, 100.0}, {300.0, 350.0}})
    b.heads_worksheet.crosses.push_back({x, y, 0.12, 0.04});
  const auto found = evaluate_head_place(b, true);
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->offset.real(), 75.12, 1e-9);
  EXPECT_NEAR(found->offset.imag(), 3.04, 1e-9);
}

TEST(Heads, ReadingsOfAnotherHeadComeBack) {
  Book b = table();
  choose_head(b, "pen");
  b.heads_worksheet.marks = {{over(1, 2), {}}};
  choose_head(b, "knife");
  EXPECT_TRUE(b.heads_worksheet.marks.empty());
  choose_head(b, "pen");
  ASSERT_EQ(b.heads_worksheet.marks.size(), 1u);
}

TEST(Heads, AKnifesGapTellsItsTrailingOffset) {
  Book b = table();
  choose_head(b, "knife");
  b.heads_worksheet.gap_mm = 0.7;
  const auto found = evaluate_trailing(b);
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->value, 0.35, 1e-9);
  keep_trailing(b, *found, today);
  EXPECT_NEAR(*b.machine.heads[2].trailing_mm, 0.35, 1e-9);
  const auto lines = certificate_of(b).quantities;
  EXPECT_TRUE(std::any_of(lines.begin(), lines.end(),
                          [](const CertifiedQuantity& q) { return q.line.subject == "knife: trailing"; }));
}

TEST(Heads, ABuildKeptKeepsWhatWasMeasured) {
  Book b = table();
  b.machine.heads[1].place = HeadPlace{75, 3, 0.1};
  MachineSetup build = b.machine;
  build.heads[1].place.reset();
  build.heads[1].lower = "M199";
  keep_build(b, build, today, "");
  ASSERT_TRUE(b.machine.heads[1].place);
  EXPECT_EQ(b.machine.heads[1].lower, "M199");
  std::swap(build.heads[0], build.heads[2]);
  keep_build(b, build, today, "");
  EXPECT_FALSE(b.machine.heads[1].place) << "it was told against another";
}

TEST(Heads, ReadingsOfAHeadThatIsTakenOutOfTheBuildAreNotAnothers) {
  Book b = table();
  choose_head(b, "knife");
  b.heads_worksheet.gap_mm = 0.7;
  choose_trial(b, "felt", "knife", 0);
  b.trials_worksheet.looks = {{12, true, Backing::spared}};
  MachineSetup build = b.machine;
  build.heads.pop_back();
  keep_build(b, build, today, "");
  EXPECT_FALSE(b.heads_worksheet.gap_mm);
  EXPECT_TRUE(b.trials_worksheet.looks.empty());
  ASSERT_FALSE(b.heads_put_by.empty());
  EXPECT_EQ(b.heads_put_by.back().head, "knife");
  EXPECT_EQ(b.heads_put_by.back().gap_mm, 0.7) << "nor lost";
}

TEST(Heads, PlacesAreCarriedOverWithTheSteps) {
  Book b = table();
  b.machine.heads[1].place = HeadPlace{100, 50, 0.1};
  ASSERT_TRUE(change_steps_per_mm(b, Axis::x, b.machine.axis(Axis::x).steps_per_mm * 1.01));
  EXPECT_NEAR(b.machine.heads[1].place->x_mm, 100 / 1.01, 1e-9);
  EXPECT_EQ(b.machine.heads[1].place->y_mm, 50);
}

// ------------------------------------------------------------------------------------------------------- head lines

TEST(HeadLines, EachHeadIsSentToWhereItIsOverTheLine) {
  Book b = table();
  b.machine.heads[1].place = HeadPlace{75, 3, 0.1};
  const auto made = head_lines_program(b, cross_lines(0, 1, 200, 100, 30), {});
  ASSERT_TRUE(made) << made.error().message;
  std::vector<std::array<double, 4>> cut;
  int head = -1;
  std::size_t event = 0;
  for (std::size_t i = 0; i < made->program.motions.size(); ++i) {
    for (; event < made->program.events.size() && made->program.events[event].before <= i; ++event)
      if (const Event& e = made->program.events[event]; e.kind == EventKind::head_act)
        head = e.length_of == static_cast<int>(HeadAct::lower) ? static_cast<int>(e.value) : -1;
    if (!is_cut(made->program.motions[i])) continue;
    ASSERT_GE(head, 0) << "nothing is cut by a head that is up";
    const double dx = head == 1 ? 75 : 0, dy = head == 1 ? 3 : 0;
    const WorkPosition from = made->program.begin_of(i), to = made->program.motions[i].end;
    cut.push_back({from.x + dx, from.y + dy, to.x + dx, to.y + dy});
  }
  ASSERT_EQ(cut.size(), 4u);
  EXPECT_EQ(cut[0], cut[2]) << "both draw the same cross";
  EXPECT_EQ(cut[1], cut[3]);
}

TEST(HeadLines, AnUnknownPlaceStopsItAndABlockThatNobodyKnowsIsRefused) {
  Book b = table();
  EXPECT_EQ(head_lines_program(b, cross_lines(0, 1, 200, 100, 30), {}).error().code, "no_place");
  HeadLinesSetting setting;
  setting.unmeasured_at_zero = true;
  EXPECT_TRUE(head_lines_program(b, cross_lines(0, 1, 200, 100, 30), setting));
  EXPECT_EQ(read_program("G21 G90\nM170\nG1 X10 F100\nM2\n").error().code, "unknown_word")
      << "at a machine that has no such head";
  EXPECT_TRUE(read_program("G21 G90\nN40 m170 (down)\nG1 X10 F100\nM2\n", read_setting(b)));
  b.machine.heads[0].raise.clear();
  EXPECT_EQ(head_lines_program(b, {{.head = 0, .x1 = 10}}, {}).error().code, "no_raise");
}

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
  b.trials_worksheet.head = "beam";
  b.trials_worksheet.material = "birch 3";
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
  b.trials_worksheet.grid = some_grid();
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
  b.trials_worksheet.grid = some_grid();
  const auto grid = planned_grid(b).value();
  EXPECT_FALSE(most_room(grid, {}));
  EXPECT_FALSE(most_room(grid, {{11, 300}})) << "of another grid";
  EXPECT_EQ(most_room(grid, {{10, 300}, {50, 4800}}), (BeamSetting{50, 4800})) << "of equal ones the fastest";
  b.trials_worksheet.grid.wanted = {{20, 600}, {30, 600}, {30, 1200}, {40, 1200}, {50, 4800}};
  const auto best = most_room(grid, b.trials_worksheet.grid.wanted);
  EXPECT_EQ(best, (BeamSetting{30, 1200}));
  EXPECT_EQ(wanted_around(grid, b.trials_worksheet.grid.wanted, *best), 3);
  keep_power_speed(b, *best, today);
  EXPECT_TRUE(b.trials_worksheet.grid.wanted.empty());
  EXPECT_EQ(power_speed_for(b, "birch 3"), (BeamSetting{30, 1200}));
  EXPECT_FALSE(power_speed_for(b, "felt"));
  EXPECT_FALSE(setting_for(b, "birch 3", 0)) << "the least power that shows a dot is another thing";
  const auto again = read_book(write_book(b));
  ASSERT_TRUE(again);
  EXPECT_EQ(power_speed_for(again->book, "birch 3"), (BeamSetting{30, 1200}));
  EXPECT_EQ(again->book.trials_worksheet.grid.power_high, 50);
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

// ------------------------------------------------------------------------------------------------------- knife path

TEST(KnifePath, RunsOnPastACornerAndTurnsAboutIt) {
  const auto path = knife_path({{0, 0}, {10, 0}, {10, 10}}, {.trailing = 0.5});
  ASSERT_TRUE(path);
  EXPECT_NEAR(std::abs(path->start - PlanPoint(-1, 0)), 0, 1e-9) << "three times as far before, the pivot ahead";
  ASSERT_EQ(path->moves.size(), 3u);
  EXPECT_NEAR(std::abs(path->moves[0].to - PlanPoint(10.5, 0)), 0, 1e-9);
  EXPECT_TRUE(path->moves[1].arc && path->moves[1].counter_clockwise);
  EXPECT_NEAR(std::abs(path->moves[1].centre - PlanPoint(10, 0)), 0, 1e-9);
  EXPECT_NEAR(std::abs(path->moves[1].to - PlanPoint(10, 0.5)), 0, 1e-9);
  EXPECT_NEAR(std::abs(path->moves[2].to - PlanPoint(10, 10.5)), 0, 1e-9);
}

TEST(KnifePath, ClosesWithAnOvercutAndPassesBluntCorners) {
  const auto square = knife_path({{0, 0}, {10, 0}, {10, 10}, {0, 10}, {0, 0}}, {.trailing = 0.5, .overcut = 2});
  ASSERT_TRUE(square);
  EXPECT_NEAR(std::abs(square->moves.back().to - PlanPoint(2.5, 0)), 0, 1e-9);
  const auto blunt = knife_path({{0, 0}, {10, 0}, {20, 0.3}}, {.trailing = 0.5});
  ASSERT_TRUE(blunt);
  EXPECT_FALSE(std::any_of(blunt->moves.begin(), blunt->moves.end(), [](const KnifeMove& m) { return m.arc; }));
  const auto pen = knife_path({{0, 0}, {10, 0}, {10, 10}}, {});
  ASSERT_TRUE(pen);
  EXPECT_EQ(pen->start, PlanPoint(0, 0)) << "what does not trail goes along the line itself";
  EXPECT_EQ(pen->moves.size(), 2u);
}

TEST(KnifePath, RefusesWhatIsNoLine) {
  EXPECT_EQ(knife_path({{1, 1}, {1, 1}}, {}).error().code, "too_few");
  EXPECT_EQ(knife_path({{0, 0}, {NAN, 1}}, {}).error().code, "not_finite");
  EXPECT_EQ(knife_path({{0, 0}, {1, 1}}, {.trailing = -1}).error().code, "out_of_range");
  Book b = table();
  EXPECT_EQ(knife_program(b, 2, {{{0, 0}, {10, 0}}}, {}).error().code, "no_place");
  b.machine.heads[2].place = HeadPlace{10, 0, 0.1};
  EXPECT_EQ(knife_program(b, 2, {{{0, 0}, {10, 0}}}, {}).error().code, "no_trailing");
}

TEST(CutMetres, AreCountedByToolAndLine) {
  const auto program = read_program("G21 G90 F500\nG0 X1000\nG1 X0\nT3 M6\nG1 Y500\nG2 X0 Y500 I100 J0\nM2\n");
  ASSERT_TRUE(program);
  const auto all = cut_metres(*program, 1, 7, 2);
  ASSERT_EQ(all.size(), 2u);
  EXPECT_NEAR(all.at(2), 1, 1e-9) << "rapids do not wear";
  EXPECT_NEAR(all.at(3), 0.5 + 0.2 * std::numbers::pi, 1e-9);
  EXPECT_NEAR(cut_metres(*program, 5, 5, 2).at(3), 0.5, 1e-9);
  EXPECT_TRUE(cut_metres(*program, 1, 2, 2).empty());
}

TEST(Checks, EndsWhereItIsNotWantedAnyMore) {
  Book b = table();
  const auto program = read_program("G21 G90 F500\nG0 Z5\nG1 Z-1\nX10\nM2\n");
  ASSERT_TRUE(program);
  CheckSetting setting;
  int asked = 0;
  setting.go_on = [&] { return ++asked < 3; };
  const auto few = check_program(*program, b, setting);
  EXPECT_EQ(asked, 3);
  EXPECT_LT(few.size(), check_program(*program, b, {}).size());
}

TEST(Checks, AKnifeCutsWhileTheSpindleRests) {
  Book b = table();
  b.job.frames[0] = {"", 0.0, 0.0, 0.0, false, 2};
  const auto program = read_program("G21 G90 G54\nT2 M6\nG0 Z5\nG0 X50 Y50\nG1 Z-0.5 F300\nX100\nG0 Z5\nM2\n");
  ASSERT_TRUE(program);
  const auto stops = [&] {
    const auto all = check_program(*program, b, {});
    return std::count_if(all.begin(), all.end(), [](const Finding& f) { return f.code == "spindle_off"; });
  };
  EXPECT_EQ(stops(), 0);
  b.machine.heads[0].kind = HeadKind::spindle;
  EXPECT_EQ(stops(), 1);
}

// ----------------------------------------------------------------------------------------------------------- fences

TEST(Fences, TheFirstTestCorrectsTheWholeAndLaterOnesLess) {
  Book b = table();
  b.fences = {{"left stop", FenceKind::along_y, 20.0, 0.0, 0.5, {}}};
  b.fences_worksheet.expected_mm = 200;
  b.fences_worksheet.tolerance_mm = 0.2;
  begin_fence_test(b);
  b.fences_worksheet.tests.back().measured_mm = {200.6};
  keep_fence(b, *evaluate_fences(b), today);
  EXPECT_NEAR(b.fences[0].offset_mm, -0.1, 1e-9);
  ASSERT_EQ(b.fences_worksheet.tests.size(), 2u) << "another piece is asked for";
  b.fences_worksheet.tests.back().measured_mm = {199.8};
  const auto second = evaluate_fences(b);
  ASSERT_TRUE(second);
  EXPECT_FALSE(second->done);
  EXPECT_NEAR(second->correction, 0.1, 1e-9) << "half of it";
  keep_fence(b, *second, today);
  b.fences_worksheet.tests.back().measured_mm = {200.0, 200.01, 199.99, 200.0, 200.01};
  const auto third = evaluate_fences(b);
  ASSERT_TRUE(third);
  EXPECT_TRUE(third->done);
  keep_fence(b, *third, today);
  EXPECT_TRUE(b.fences_worksheet.tests.empty());
  EXPECT_EQ(b.history.size(), 3u) << "every test is kept";
  EXPECT_EQ(standing_of(b, fences_id).standing, Standing::current);
}

TEST(Fences, TestsOfAFenceThatIsTakenOutAreNotAnothers) {
  Book b = table();
  b.fences = {{"left", FenceKind::along_y, 20.0, 0.0, 0, {}}, {"front", FenceKind::along_x, 0.0, 10.0, 0, {}}};
  choose_fence(b, "left");
  b.fences_worksheet.tests = {{0, {200.4}}};
  b.fences.erase(b.fences.begin());
  choose_fence(b, "front");
  EXPECT_TRUE(b.fences_worksheet.tests.empty());
  EXPECT_EQ(b.fences_worksheet.fence, "front");
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
  FencesWorksheet& s = b.fences_worksheet;
  s.expected_mm = 80;
  s.blanks = 43;
  s.sizes = {{10, 80.01}, {20, 80.0}, {30, 80.01}, {40, 80.0}};
  const auto found = evaluate_blanks_of(b);
  ASSERT_TRUE(found) << found.error().message;
  keep_blanks(b, *found, today);
  EXPECT_EQ(b.fences_worksheet.blanks, 0);
  EXPECT_TRUE(b.fences_worksheet.sizes.empty());
  EXPECT_EQ(b.history.back().subject, "left, blanks");
  EXPECT_EQ(b.fences[0].offset_mm, 0) << "the fence itself stays as it is";
  EXPECT_FALSE(fences_task().summary(b.history.back()).empty());
}

TEST(Fences, WhatIsMissingIsAskedFor) {
  Book b = table();
  EXPECT_EQ(evaluate_fences(b).error().code, "no_fence");
  b.fences = {{"left stop", FenceKind::along_y, 20.0, 0.0, 0.5, {}}};
  EXPECT_EQ(evaluate_fences(b).error().code, "missing");
  b.fences_worksheet.expected_mm = 200;
  EXPECT_EQ(evaluate_fences(b).error().code, "too_few");
  b.fences_worksheet.instrument = "ell";
  EXPECT_EQ(evaluate_fences(b).error().code, "no_instrument");
}

}  // namespace trials_test
}  // namespace ypsi
