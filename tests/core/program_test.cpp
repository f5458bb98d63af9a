#include "core/program/interpreter.h"
#include "core/program/resume.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

#include "core/motion/planner.h"

namespace ypsi {
namespace {

Program read(const std::string& text) {
  auto p = read_program(text);
  EXPECT_TRUE(p) << p.error().message;
  return p.value_or(Program{});
}

TEST(Program, AbsoluteIncrementalInchesAndModalWords) {
  const Program p = read("G21 G90 F600\nG1 X10\nY5\nG91 X1 Y1\nG90 G20 X1 Z-.5\nG21\nG0 X0\nM30\nG1 X99\n");
  ASSERT_EQ(p.motions.size(), 5u);
  EXPECT_EQ(p.motions[1].end, (WorkPosition{10, 5, 0}));
  EXPECT_EQ(p.motions[2].end, (WorkPosition{11, 6, 0}));
  EXPECT_EQ(p.motions[3].end, (WorkPosition{25.4, 6, -12.7}));
  EXPECT_EQ(p.motions[4].kind, MotionKind::rapid);
  EXPECT_EQ(p.motions[3].line, 5u);
  EXPECT_TRUE(p.in_inches);
  EXPECT_EQ(p.lines, 8u) << "nothing after M30 is read";
  EXPECT_FLOAT_EQ(p.feed_of(p.motions[0]), 600);
}

TEST(Program, FeedInInchesBecomesMillimetresAMinute) {
  const Program inches = read("G20 G1 X1 F10\n");
  EXPECT_FLOAT_EQ(inches.feed_of(inches.motions[0]), 254);
}

TEST(Program, ArcsBulgeIntoTheExtents) {
  // Half a circle of radius 10 about the origin, counter-clockwise from (10, 0): its top is at Y 10.
  const Program p = read("F100\nG0 X10 Y0\nG3 X-10 Y0 I-10 J0\n");
  EXPECT_NEAR(p.cut.high.y, 10, 1e-9);
  EXPECT_NEAR(p.cut.low.y, 0, 1e-9);
  const Program q = read("F100\nG0 X10 Y0\nG2 X-10 Y0 I-10 J0\n");
  EXPECT_NEAR(q.cut.low.y, -10, 1e-9);
  const Program full = read("F100\nG0 X10 Y0\nG3 I-10\n");
  EXPECT_NEAR(full.cut.low.x, -10, 1e-9);
  EXPECT_NEAR(full.cut.low.y, -10, 1e-9);
  EXPECT_NEAR(arc_sweep({10, 0, 0}, full.motions[1], full.arcs[0]), 2 * std::numbers::pi, 1e-9);
}

TEST(Program, RadiusFormTakesTheShorterWayForAPositiveRadius) {
  // RS274/NGC 3.5.3.1: quarter circle from (0,0) to (10,10), R10. Clockwise its centre is (10, 0).
  const Program quarter = read("F100\nG2 X10 Y10 R10\n");
  EXPECT_NEAR(quarter.arcs[0].centre_first, 10, 1e-9);
  EXPECT_NEAR(quarter.arcs[0].centre_second, 0, 1e-9);
  EXPECT_NEAR(arc_sweep({}, quarter.motions[0], quarter.arcs[0]), -std::numbers::pi / 2, 1e-9);
  const Program long_way = read("F100\nG2 X10 Y10 R-10\n");
  EXPECT_NEAR(arc_sweep({}, long_way.motions[0], long_way.arcs[0]), -1.5 * std::numbers::pi, 1e-9);
  EXPECT_NEAR(read("F100\nG3 X10 Y10 R10\n").arcs[0].centre_second, 10, 1e-9);
}

TEST(Program, EventsStandBetweenMotions) {
  const Program p = read("T2 M6\nS12000 M3\nG1 X1 F100\nM0\nG1 X2\nM5\nM2\n");
  ASSERT_EQ(p.events.size(), 5u);
  EXPECT_EQ(p.events[0].kind, EventKind::tool_change);
  EXPECT_EQ(p.events[0].value, 2);
  EXPECT_EQ(p.events[1].value, 12000);
  EXPECT_EQ(p.events[2].kind, EventKind::stop);
  EXPECT_EQ(p.events[2].before, 1u);
  EXPECT_EQ(p.events[4].kind, EventKind::end);
  EXPECT_EQ(p.tool_of(0), 2);
}

struct Broken {
  const char* name;
  std::string text;
  const char* where;
  const char* part;
};
class BrokenProgram : public ::testing::TestWithParam<Broken> {};
TEST_P(BrokenProgram, SaysLineColumnAndWhy) {
  const auto p = read_program(GetParam().text);
  ASSERT_FALSE(p);
  EXPECT_EQ(p.error().where, GetParam().where) << p.error().message;
  EXPECT_NE(p.error().message.find(GetParam().part), std::string::npos) << p.error().message;
}
INSTANTIATE_TEST_SUITE_P(
    Program, BrokenProgram,
    ::testing::Values(
        Broken{"unknown_g", "G21\nG0 X1 G99.9\n", "2:7", "not understood"},
        Broken{"unknown_letter", "G0 X1 Q4\n", "1:7", "Q4"}, Broken{"unknown_m", "M77\n", "1:1", "M77"},
        Broken{"open_comment", "G0 X1\n  (never closed\n", "2:3", "not closed"},
        Broken{"nested_comment", "(a (b) G0 X1\n", "1:1", "not closed"},
        Broken{"radius", "F9\nG2 X10 Y0 I3 J0\n", "2:11", "radius does not fit"},
        Broken{"small_r", "F9\nG2 X10 R4\n", "2:8", "too small"}, Broken{"no_centre", "F9\nG2 X10\n", "2:1", "centre"},
        Broken{"both_forms", "F9\nG2 X10 I5 R5\n", "2:11", "either"},
        Broken{"r_full", "F9\nG2 X0 Y0 R5\n", "2:10", "full circle"}, Broken{"no_feed", "G1 X1\n", "1:1", "no feed"},
        Broken{"zero_feed", "G1 X1 F0\n", "1:7", "above zero"}, Broken{"no_mode", "X1\n", "1:1", "no G0"},
        Broken{"two_motions", "G0 G1 X1 F9\n", "1:4", "contradicts"},
        Broken{"two_x", "G0 X1 X2\n", "1:7", "contradicts"}, Broken{"no_number", "G0 X\n", "1:4", "number must follow"},
        Broken{"lone_sign", "G0 X-\n", "1:4", "number must follow"}, Broken{"empty", "", "1:1", "empty file"},
        Broken{"nothing", "\n\n(only words)\n", "1:1", "no move"},
        Broken{"binary",
               std::string("\x7f"
                           "ELF\x01\0\0",
                           7),
               "1:1", "0x7f"},
        Broken{"junk_in_comment", std::string("; caf\x01\n"), "1:6", "not text"},
        Broken{"long_line", "G0 X1\nG0 " + std::string(1 << 20, '1') + "\n", "2:65537", "characters long"},
        Broken{"tool", "M6\n", "1:1", "T word"}, Broken{"exponent", "G0 X1e9\n", "1:6", "E9"},
        Broken{"too_far", "G0 X99999999\n", "1:4", "units"},
        Broken{"stray_i", "G1 X1 I2 F9\n", "1:7", "belongs to an arc"},
        Broken{"words", "G0 X1 hello\n", "1:7", "number must follow"}),
    [](const auto& p) { return p.param.name; });

TEST(Program, ARefusedLineChangesNothing) {
  Interpreter interpreter;
  Program into;
  ASSERT_TRUE(interpreter.line("G1 X5 F100", 1, into));
  const ModalState before = interpreter.state();
  EXPECT_FALSE(interpreter.line("G20 G91 T5 M6 G2 X9 I1", 2, into));
  EXPECT_EQ(into.motions.size(), 1u);
  EXPECT_TRUE(into.events.empty());
  EXPECT_TRUE(into.arcs.empty());
  EXPECT_EQ(interpreter.state().at, before.at);
  EXPECT_EQ(interpreter.state().inches, before.inches);
  EXPECT_EQ(interpreter.state().tool, before.tool);
}

TEST(Program, RandomBytesNeverDoMoreThanRefuse) {
  std::mt19937 random(11);
  const std::string alphabet = "GXYZIJRFSTNM0123456789.-+ \n\t();%/\x01\xff";
  for (int i = 0; i < 3000; ++i) {
    std::string text;
    for (int n = random() % 60; n > 0; --n) text += alphabet[random() % alphabet.size()];
    const auto p = read_program(text);
    if (!p) {
      EXPECT_FALSE(p.error().message.empty());
    } else {
      for (const auto& m : p->motions)
        EXPECT_TRUE(std::isfinite(m.end.x) && std::isfinite(m.end.y) && std::isfinite(m.end.z));
    }
  }
}

TEST(Program, ReadingCanBeCancelled) {
  std::string text;
  for (int i = 0; i < 40000; ++i) text += "G0 X1\n";
  EXPECT_EQ(read_program(text, {}, [](auto, auto) { return false; }).error().code, "cancelled");
}

// Closed forms: v = 50 mm/s, a = 200 mm/s^2. Over 100 mm: 0.25 s up, 0.25 s down over 12.5 mm, 87.5 mm at 50.
TEST(Motion, TrapezoidAgainstTheClosedForm) {
  const Trapezoid t(100, 0, 50, 0, 200);
  EXPECT_NEAR(t.duration(), 0.5 + 87.5 / 50, 1e-12);
  EXPECT_NEAR(t.distance_at(0.1), 0.5 * 200 * 0.01, 1e-12);
  EXPECT_NEAR(t.distance_at(t.duration() / 2), 50, 1e-9);
  EXPECT_DOUBLE_EQ(t.distance_at(99), 100);
  const Trapezoid triangle(2, 0, 50, 0, 200);
  EXPECT_NEAR(triangle.duration(), 2 * std::sqrt(2.0 / 200), 1e-12);
  EXPECT_NEAR(triangle.speed_at(triangle.duration() / 2), std::sqrt(400.0), 1e-9);
  EXPECT_EQ(Trapezoid(0, 0, 50, 0, 200).duration(), 0);
}

TEST(Motion, NoAxisExceedsItsRateOrAcceleration) {
  const Kinematics k{{{100, 400}, {80, 300}, {25, 200}}};
  const Program p =
      read("F4000\nG1 X50\nG1 X50 Y40\nG3 X10 Y40 I-20\nG1 X0 Y0 Z-5\nG0 X80 Z5\nG1 X80.2\nG1 X80.4 Y0.1\nG1 X90\n");
  LookAhead ahead(k);
  for (std::size_t i = 0; i < p.motions.size(); ++i) ahead.add(make_segment(p, p.begin_of(i), p.motions[i], k));
  double v = 0;
  std::array<double, 3> last{}, last_speed{};
  const double dt = 0.001;
  double next_sample = 0;  // seconds into the segment in hand: samples are evenly spaced across its ends
  bool first = true;
  while (!ahead.empty()) {
    const auto planned = ahead.take(v);
    v = planned.profile.v_out();
    double t = next_sample;
    for (; t < planned.profile.duration(); t += dt) {
      const auto at = planned.segment.at(planned.profile.distance_at(t));
      for (std::size_t i = 0; i < 3; ++i) {
        const double speed = (at[i] - last[i]) / dt;
        if (!first) {
          EXPECT_LE(std::abs(speed), k[i].max_rate * 1.05);
          // Corners may change an axis's speed at once by what it can do in corner_time_s, twice within one sample.
          EXPECT_LE(std::abs(speed - last_speed[i]), k[i].acceleration * (2 * corner_time_s + 3 * dt) + 0.5);
        }
        last_speed[i] = speed;
      }
      last = at;
      first = false;
    }
    next_sample = t - planned.profile.duration();
  }
  EXPECT_NEAR(v, 0, 1e-9) << "it stands still after the last";
}

TEST(Motion, EstimateOfOneMoveIsItsTrapezoid) {
  const Kinematics k{{{50, 200}, {50, 200}, {20, 100}}};
  const auto t = estimate_time(read("G1 X100 F3000\n"), k);
  EXPECT_NEAR(t.total_s, 0.5 + 87.5 / 50, 1e-9);
  const auto two = estimate_time(read("G1 X50 F3000\nG1 X100\n"), k);
  EXPECT_NEAR(two.total_s, t.total_s, 1e-6) << "a straight line in two pieces takes as long as in one";
}

// The lead-in, run as a program of its own, must end where the line begins and with the modes that held there.
TEST(Resume, TheLeadInBringsBackPlaceAndModesAndNeverCrossesLow) {
  const std::string text =
      "G20 G90\nT3 M6\nS9000 M3\nG0 Z0.5\nG0 X1 Y2\nG1 Z-0.1 F20\nG91\nG2 X1 Y0 I0.5 J0\nX0.5 Y0 I0.25 J0\nM30\n";
  const auto plan = plan_resume(text, 9, 20).value();
  Interpreter lead_in({300, 300, 1});
  Program way;
  std::uint32_t line = 0;
  for (const auto& block : plan.lead_in) ASSERT_TRUE(lead_in.line(block, ++line, way)) << block;
  const ModalState &now = lead_in.state(), &then = plan.modes;
  EXPECT_NEAR(now.at.x, 2 * 25.4, 1e-3);
  EXPECT_NEAR(now.at.y, 2 * 25.4, 1e-3);
  EXPECT_NEAR(now.at.z, -0.1 * 25.4, 1e-3);
  EXPECT_EQ(now.inches, then.inches);
  EXPECT_EQ(now.incremental, then.incremental);
  EXPECT_EQ(now.motion, MotionKind::arc_clockwise);
  EXPECT_NEAR(now.feed, 20 * 25.4, 0.01);
  EXPECT_EQ(now.tool, 3);
  EXPECT_TRUE(now.spindle_on);
  EXPECT_EQ(now.speed, 9000);
  EXPECT_EQ(way.motions.at(0).end.z, 20) << "up first";
  EXPECT_EQ(way.motions.at(1).end.z, 20) << "then over";
  EXPECT_EQ(plan_resume(text, 0, 20).error().code, "out_of_range");
  EXPECT_EQ(plan_resume(text, 99, 20).error().code, "out_of_range");
  EXPECT_EQ(plan_resume(text, 5, 10).error().code, "limit") << "line 5 begins at half an inch";
}

}  // namespace
}  // namespace ypsi
