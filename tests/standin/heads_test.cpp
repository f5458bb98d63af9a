// Heads, trials and fences against the stand-in: what its person sees is typed, and what comes out holds against the
// truth on many random machines.
#include "core/tasks/heads.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>
#include <random>

#include "core/book/book_json.h"
#include "core/heads/drawn_marks.h"
#include "core/procedures/machine_link.h"
#include "core/program/head_lines.h"
#include "core/rehearsal/parts.h"
#include "core/tasks/all_tasks.h"
#include "core/tasks/engraving.h"
#include "core/tasks/fences.h"
#include "core/tasks/trials.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace heads_test {

const std::string today = "2026-11-28T12:00:00+00:00";
constexpr int machines = 200, blades = 600;

PhysicalHead physical(const std::string& name, HeadKind kind, double x, double y, int block) {
  PhysicalHead h;
  h.name = name;
  h.kind = kind;
  h.offset_x = x;
  h.offset_y = y;
  if (block > 0) {
    h.lower = "M" + std::to_string(block);
    h.raise = "M" + std::to_string(block + 1);
  }
  return h;
}

/// A small table, wrong in its own ways; quick to cross.
Scenario random_table(std::mt19937_64& random) {
  const auto between = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  Scenario s;
  s.seed = random();
  for (const Axis a : all_axes) {
    AxisTruth& axis = s.axes[index(a)];
    axis.true_steps_per_mm = (a == Axis::z ? 400 : 80) * between(0.995, 1.005);
    axis.lost_motion = between(0, 0.12);
    axis.stop_low = a == Axis::z ? -60 : -3;
    axis.stop_high = a == Axis::z ? 3 : 500;
    axis.switch_at_max = a == Axis::z;
    AxisBelief& belief = s.controller[index(a)];
    belief.steps_per_mm = axis.true_steps_per_mm;
    belief.max_rate = 30000;
    belief.accel = 5000;
    belief.home_at_max = axis.switch_at_max;
    belief.soft_min = a == Axis::z ? -55 : 2;
    belief.soft_max = a == Axis::z ? -2 : 490;
  }
  s.bed_z = -50;
  s.stock.size = {400, 300, 1};
  s.stock.x = 40;
  s.stock.y = 40;
  s.heads = {physical("wheel", HeadKind::wheel, 0, 0, 171),
             physical("pen", HeadKind::pen, between(40, 90), between(-5, 5), 173),
             physical("knife", HeadKind::drag_knife, between(-60, -30), between(-5, 5), 175)};
  s.heads[2].trailing = between(0.2, 0.6);
  s.instruments["caliper"] = {"caliper", 0.01, 1, 0.01, 0.015, 0};
  return s;
}

/// What its owner has in the book.
Book book_of(const Scenario& s) {
  Book b;
  b.machine.kind = "cutting_table";
  for (const PhysicalHead& h : s.heads) {
    Head head;
    head.name = h.name;
    head.kind = h.kind;
    head.lower = h.lower;
    head.raise = h.raise;
    head.on = h.on;
    head.off = h.off;
    head.gauge_low = 6;
    head.gauge_high = 26;
    b.machine.heads.push_back(head);
  }
  for (const auto& [name, instrument] : s.instruments) {
    Instrument i = instrument;
    i.name = name;
    b.instruments.push_back(i);
  }
  b.job.stock_size = {400, 300, 1};
  b.job.stock_corner = {0, 0};
  return b;
}

/// How often a U held, and how wide it is beside what 95 % of the errors need.
struct Tally {
  std::size_t held = 0;
  std::vector<double> errors;
  double claims = 0;
  void take(double error, double U) {
    held += error <= U ? 1 : 0;
    errors.push_back(error);
    claims += U;
  }
  double share() const { return static_cast<double>(held) / static_cast<double>(errors.size()); }
  double width() const {
    std::vector<double> sorted = errors;
    std::sort(sorted.begin(), sorted.end());
    return claims / static_cast<double>(errors.size()) / sorted[errors.size() * 95 / 100];
  }
};

class Heads : public StandInTest {
 protected:
  void to(Axis axis, double place) {
    const double way = place - link().status().position[axis];
    if (std::fabs(way) > 1e-9) jog(axis, way);
  }
  /// Brings a head over a spot by eye, both axes from below.
  void bring_over(const std::string& head, const std::string& spot) {
    for (int turn = 0; turn < 6; ++turn) {
      const auto off = bench().head_from(head, spot);
      ASSERT_TRUE(off) << off.error().message;
      const double dx = -(*off)[0], dy = -(*off)[1];
      if (turn > 1 && std::fabs(dx) < 0.08 && std::fabs(dy) < 0.08) return;
      // Slack is taken up from below: a little too far back, then up to it.
      for (const auto& [axis, way] : {std::pair{Axis::x, dx}, {Axis::y, dy}}) {
        jog(axis, way - 1);
        jog(axis, 1);
      }
    }
  }
  OverMark here() { return {link().status().position.x, link().status().position.y}; }
  void run_text(const std::string& text) {
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    program(lines);
    ASSERT_FALSE(link().status().refusal) << link().status().refusal->message;
  }
  /// As the sheet before has found it.
  void know_lost_motion(Book& b, std::mt19937_64& random) {
    Entry lost;
    lost.sheet = "lost_motion";
    lost.subject = "X";
    lost.result = {{"lost_motion_mm",
                    machine_->scenario().axes[0].lost_motion + std::normal_distribution<double>(0, 0.005)(random)},
                   {"U_lost_motion_mm", 0.01}};
    b.history.push_back(lost);
  }
  /// Work zero at the front left corner of the stock, on its top.
  void set_zero(Book& b) {
    const MachinePosition zero{40, 40, -49};
    for (const Axis a : all_axes) {
      ASSERT_TRUE(link().set_setting(work_zero_setting(0, a), zero[a]));
      b.job.zero(a) = zero[a];
    }
  }
};

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
      b.heads_worksheet.marks.push_back(mark);
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
    b.heads_worksheet.instrument = "caliper";
    HeadLinesSetting setting;
    setting.unmeasured_at_zero = true;
    setting.feed = 6000;
    std::vector<HeadLine> lines;
    for (const auto& [x, y] : {std::pair{60.0, 60.0}, {200.0, 70.0}, {190.0, 220.0}}) {
      for (const HeadLine& l : cross_lines(0, 1, x, y, 20)) lines.push_back(l);
      b.heads_worksheet.crosses.push_back({x, y, {}, {}});
    }
    const auto made = head_lines_program(b, lines, setting);
    ASSERT_TRUE(made) << made.error().message;
    run_text(made->text);
    for (std::size_t i = 0; i < 3; ++i) {
      const int back = 2 * (2 - static_cast<int>(i));  // the upright of a cross came last
      const StrokePoint wheel{"wheel", back, StrokePoint::Where::middle}, pen{"pen", back, StrokePoint::Where::middle};
      StrokePoint wheel_flat = wheel, pen_flat = pen;
      wheel_flat.back = pen_flat.back = back + 1;
      b.heads_worksheet.crosses[i].dx_mm = bench().read_strokes(wheel, pen, Axis::x, "caliper").value();
      b.heads_worksheet.crosses[i].dy_mm = bench().read_strokes(wheel_flat, pen_flat, Axis::y, "caliper").value();
    }
    const auto found = evaluate_head_place(b, true);
    ASSERT_TRUE(found) << found.error().message;
    const PhysicalHead& pen = machine_->scenario().heads[1];
    EXPECT_NEAR(found->offset.real(), pen.offset_x, 0.2) << "lost motion is in it alike for both";
    EXPECT_NEAR(found->offset.imag(), pen.offset_y, 0.2);
  }
}

/// Two lines towards one end by the knife of 200 machines: what the gap tells holds.
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
    b.heads_worksheet.gap_mm = *gap;
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
    b.trials_worksheet.step = 0.25;
    for (int cut = 0; cut < most_tries_worth; ++cut) {
      const double level = evaluate_trials(b)->next.level;
      const auto seen = bench().try_cut("wheel", level);
      ASSERT_TRUE(seen);
      b.trials_worksheet.looks.push_back({level, seen->through, seen->marked ? Backing::marked : Backing::spared});
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
    DepthSheet& d = b.trials_worksheet.depth;
    d.cap_mm = 0.2;
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
    FencesWorksheet& f = b.fences_worksheet;
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
    b.heads_worksheet.u_width_mm = 0.015;
    double middle = -20;
    Result<BeamFocus> found = tl::make_unexpected(Error{});
    for (int round = 0; round < 3; ++round) {
      b.heads_worksheet.focus.clear();
      for (const double off : {-5.0, -4.0, -3.0, -1.0, 1.0, 3.0, 4.0, 5.0}) {
        to(Axis::x, 100);
        to(Axis::y, 100);
        to(Axis::z, middle + off);
        machine_->plant().act_on_head(1, HeadAct::on, 0);
        jog(Axis::x, 10);
        machine_->plant().act_on_head(1, HeadAct::off, 0);
        b.heads_worksheet.focus.push_back(
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
    b.heads_worksheet.blade_mm = {*across, 0, *along, 0};
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
    HeadsWorksheet& w = b.heads_worksheet;
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

/// A fence that is off is right after few tests, on 200 tables.
TEST_F(Heads, AFenceIsRightAfterFewTests) {
  std::mt19937_64 random(31);
  int right = 0, tests = 0;
  for (int m = 0; m < machines; ++m) {
    const double off = std::uniform_real_distribution<double>(-0.8, 0.8)(random);
    std::normal_distribution<double> cut(0, 0.02);
    Book b = book_of(random_table(random));
    b.fences = {{"left", FenceKind::along_y, 20.0, 0.0, 0, {}}};
    b.fences_worksheet.instrument = "caliper";
    b.fences_worksheet.expected_mm = 200;
    b.fences_worksheet.tolerance_mm = 0.2;
    begin_fence_test(b);
    bool done = false;
    for (int i = 0; i < 8 && !done; ++i, ++tests) {
      auto& now = b.fences_worksheet.tests.back();
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
