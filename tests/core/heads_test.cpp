// Heads as the owner meets them: places, their blocks in programs, and how a knife goes.
#include "core/book/worksheets/heads.h"
#include "core/book/worksheets/marks.h"
#include "core/book/worksheets/trials.h"
#include "core/tasks/heads.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/book/book_json.h"
#include "core/book/changes.h"
#include "core/book/record.h"
#include "core/program/checks.h"
#include "core/program/cut_length.h"
#include "core/program/head_lines.h"
#include "core/program/knife_path.h"
#include "core/program/read_setting.h"
#include "core/tasks/build.h"
#include "core/tasks/build_entries.h"
#include "core/tasks/certificate.h"
#include "core/tasks/standing.h"
#include "core/tasks/trials.h"
#include "core/trials_book.h"

namespace ypsi {
namespace trials_test {

// ------------------------------------------------------------------------------------------------------------ heads

OverMark over(double x, double y) {
  return {x, y};
}

TEST(Heads, AMarkTellsThePlaceAndTakingItOffMakesItOutOfDate) {
  Book b = table();
  choose_head(b, "pen");
  b.worksheets[heads_worksheet].marks = {{over(412.06, 318.51), over(336.94, 315.47)},
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
    b.worksheets[heads_worksheet].marks.push_back({over(x, y), over(p.real(), p.imag())});
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
    b.worksheets[heads_worksheet].crosses.push_back({x, y, 0.12, 0.04});
  const auto found = evaluate_head_place(b, true);
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->offset.real(), 75.12, 1e-9);
  EXPECT_NEAR(found->offset.imag(), 3.04, 1e-9);
}

TEST(Heads, ReadingsOfAnotherHeadComeBack) {
  Book b = table();
  choose_head(b, "pen");
  b.worksheets[heads_worksheet].marks = {{over(1, 2), {}}};
  choose_head(b, "knife");
  EXPECT_TRUE(b.worksheets[heads_worksheet].marks.empty());
  choose_head(b, "pen");
  ASSERT_EQ(b.worksheets[heads_worksheet].marks.size(), 1u);
}

TEST(Heads, AKnifesGapTellsItsTrailingOffset) {
  Book b = table();
  choose_head(b, "knife");
  b.worksheets[heads_worksheet].gap_mm = 0.7;
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
  b.worksheets[heads_worksheet].gap_mm = 0.7;
  choose_trial(b, "felt", "knife", 0);
  b.worksheets[trials_worksheet].looks = {{12, true, Backing::spared}};
  MachineSetup build = b.machine;
  build.heads.pop_back();
  keep_build(b, build, today, "");
  EXPECT_FALSE(b.worksheets[heads_worksheet].gap_mm);
  EXPECT_TRUE(b.worksheets[trials_worksheet].looks.empty());
  ASSERT_FALSE(b.worksheets[heads_put_by].empty());
  EXPECT_EQ(b.worksheets[heads_put_by].back().head, "knife");
  EXPECT_EQ(b.worksheets[heads_put_by].back().gap_mm, 0.7) << "nor lost";
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

/// Z may have been zeroed close below its end: where heads are lowered by air it is moved only over what stands up.
TEST(HeadLines, ZIsLeftAloneWhereNoHeadGoesDownByIt) {
  Book b = table();
  const auto moves_z = [&] {
    const auto made = head_lines_program(b, {{.head = 0, .x1 = 10}}, {});
    EXPECT_TRUE(made) << made.error().message;
    return made && made->text.find(" Z") != std::string::npos;
  };
  EXPECT_FALSE(moves_z());
  b.job.clamps.resize(1);
  EXPECT_TRUE(moves_z()) << "over the clamp";
  b.job.clamps.clear();
  b.machine.heads[0].lower.clear();
  b.machine.heads[0].raise.clear();
  EXPECT_TRUE(moves_z());
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

}  // namespace trials_test
}  // namespace ypsi
