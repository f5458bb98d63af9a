// Programs that the project writes itself: corrected copies and surfacing, read back by its own interpreter.
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <set>

#include "core/motion/planner.h"
#include "core/program/corrected_copy.h"
#include "core/program/interpreter.h"
#include "core/program/surfacing.h"

namespace ypsi {
namespace {

// ---------------------------------------------------------------------------------------------------- corrected copies

const PlaneErrors leaning{1.002, 0.998, 0.003};

std::string corrected(const std::string& text, const PlaneErrors& errors = leaning) {
  const auto copy = corrected_copy(text, errors, 0.005);
  EXPECT_TRUE(copy) << copy.error().message;
  return copy ? copy->text : "";
}

std::string refused(const std::string& text, const PlaneErrors& errors = leaning, double tolerance = 0.005) {
  const auto copy = corrected_copy(text, errors, tolerance);
  EXPECT_FALSE(copy);
  return copy ? "" : copy.error().code;
}

TEST(CorrectedCopy, ForwardAndBackAreOneAnothersInverse) {
  // By hand: sx X + sy Y sin g and sy Y cos g.
  const WorkPosition at = landed({100, 200, 3}, leaning);
  EXPECT_NEAR(at.x, 100.2 + 199.6 * 0.0029999955, 1e-9);
  EXPECT_NEAR(at.y, 199.6 * 0.9999955000034, 1e-9);
  EXPECT_EQ(at.z, 3);
  const WorkPosition back = command_for(at, leaning);
  EXPECT_NEAR(back.x, 100, 1e-12);
  EXPECT_NEAR(back.y, 200, 1e-12);
}

TEST(CorrectedCopy, EveryPlaceLandsWhereTheProgramMeantIt) {
  for (const std::string units : {"G21", "G20"})
    for (const std::string way : {"G90", "G91"}) {
      const std::string text = "G90 " + units + "\nG0 X1 Y2\nG0 Z1\n" + way +
                               "\nG1 Z-0.1 F30\nX3\nY4\nG0 Z2\nG1 X-1 Y-2 Z-0.5\nX0.125\nG38.2 Z-3 F20\nM2\n";
      const auto original = read_program(text);
      ASSERT_TRUE(original) << original.error().message;
      const auto copy = corrected_copy(text, leaning, 0.005);
      ASSERT_TRUE(copy) << copy.error().message;
      ASSERT_EQ(copy->program.motions.size(), original->motions.size());
      for (std::size_t i = 0; i < original->motions.size(); ++i) {
        const WorkPosition at = landed(copy->program.motions[i].end, leaning), &meant = original->motions[i].end;
        EXPECT_NEAR(at.x, meant.x, 6e-5) << units << way << i;
        EXPECT_NEAR(at.y, meant.y, 6e-5) << units << way << i;
        EXPECT_NEAR(at.z, meant.z, 6e-5) << units << way << i;
        EXPECT_EQ(copy->program.motions[i].kind, original->motions[i].kind);
      }
      ASSERT_EQ(copy->program.events.size(), original->events.size());
      for (std::size_t i = 0; i < original->events.size(); ++i)
        EXPECT_EQ(copy->program.events[i].kind, original->events[i].kind);
    }
}

TEST(CorrectedCopy, ArcsStayWithinTheTolerance) {
  const std::string text = "G21 G90\nG0 X50 Y0 Z0\nG3 X0 Y50 I-50 J0 F600\nG2 X-30 Y50 Z-2 R15\nG1 X0 Y0\nM2\n";
  for (const double tolerance : {0.05, 0.005, 0.0005}) {
    const auto copy = corrected_copy(text, leaning, tolerance);
    ASSERT_TRUE(copy);
    EXPECT_EQ(copy->arcs, 2u);
    // The middles of the chords are the worst places: radius 50 about 0, 0 in the first quarter.
    WorkPosition before = landed(copy->program.motions[0].end, leaning);
    std::size_t quarter = 0;
    for (std::size_t i = 1; i < copy->program.motions.size(); ++i) {
      const Motion& m = copy->program.motions[i];
      EXPECT_FALSE(is_arc(m));
      const WorkPosition to = landed(m.end, leaning);
      if (m.line > 2 && to.x >= -1e-6 && to.y >= 0 && before.x > 0 && std::hypot(to.x, to.y) > 40) {
        EXPECT_NEAR(std::hypot((before.x + to.x) / 2, (before.y + to.y) / 2), 50, tolerance * 1.05 + 1e-5);
        ++quarter;
      }
      before = to;
    }
    EXPECT_NEAR(static_cast<double>(quarter), 1.5707963 / (2 * std::acos(1 - tolerance / 50)), 1.5);
  }
}

TEST(CorrectedCopy, WordsCommentsAndTapeMarksStay) {
  const std::string copy = corrected(
      "%\nN10 G21 G90 (a dial)\n/N20 T2 M6\nN30 S16000 M3 ; on\nG0 X0 Y0\nG2 X10 Y0 I5 J0 F500 (half round)\nM30\n%\n");
  EXPECT_EQ(copy.find("%\nN10 G21 G90 (a dial)\n/N20 T2 M6\nN30 S16000 M3 ; on\nG0 X0 Y0\nF500 G1 X"), 0u) << copy;
  EXPECT_NE(copy.find("(half round)\nM30\n"), std::string::npos);
  EXPECT_NE(copy.find("a lean of 3.000 mrad"), std::string::npos);
  const std::string chords = copy.substr(copy.find("F500 G1"), copy.find("(half round)") - copy.find("F500 G1"));
  EXPECT_EQ(chords.find('e'), std::string::npos) << "numbers have no exponents: " << chords;
}

TEST(CorrectedCopy, WhatCannotBeCorrectedIsRefused) {
  EXPECT_EQ(refused("G21 G90\nG1 X5 F100\n"), "no_start");
  EXPECT_EQ(refused("G21 G91\nG0 X5\n"), "no_start");
  EXPECT_EQ(refused("G54\nG0 X1 Y1\nG55\nG1 X5 F100\n"), "frames");
  EXPECT_EQ(refused("G0 X1 Y1\nG88 X2\n"), "unknown_word");
  EXPECT_EQ(refused("G0 X1 Y1\n", {0.1, 1, 0}), "out_of_range");
  EXPECT_EQ(refused("G0 X1 Y1\n", {1, std::nan(""), 0}), "out_of_range");
  EXPECT_EQ(refused("G0 X1 Y1\n", {1, 1, 0.2}), "out_of_range");
  EXPECT_EQ(refused("G0 X1 Y1\n", leaning, 0), "out_of_range");
  EXPECT_EQ(refused("(nothing)\n"), "empty");
  EXPECT_TRUE(corrected("G55\nG0 X1 Y1\nG55\nG1 X5 F100\n").find("G55") != std::string::npos) << "one frame is one";
}

TEST(TurnedCopy, EveryPlaceIsTurnedAboutWorkZero) {
  const std::string text = "G21 G90\nG0 X10 Y0\nG1 Z-1 F300\nG1 X110 Y0\nY50\nG91\nX-100\nG90\nG3 X10 Y0 I0 J-25\nM2\n";
  const auto straight = read_program(text);
  for (const double turn : {0.03, -0.03, 1.5707963267948966}) {
    const auto copy = turned_copy(text, turn, 0.002);
    ASSERT_TRUE(copy) << copy.error().message;
    // By hand: x cos - y sin, x sin + y cos.
    for (std::size_t i = 0; i < 5; ++i) {
      const WorkPosition& p = straight->motions[i].end;
      EXPECT_NEAR(copy->program.motions[i].end.x, p.x * std::cos(turn) - p.y * std::sin(turn), 2e-5);
      EXPECT_NEAR(copy->program.motions[i].end.y, p.x * std::sin(turn) + p.y * std::cos(turn), 2e-5);
    }
    // The arc about 10, 25: its chords' ends stay on the turned circle.
    const double cx = 10 * std::cos(turn) - 25 * std::sin(turn), cy = 10 * std::sin(turn) + 25 * std::cos(turn);
    for (std::size_t i = 5; i < copy->program.motions.size(); ++i)
      EXPECT_NEAR(std::hypot(copy->program.motions[i].end.x - cx, copy->program.motions[i].end.y - cy), 25, 3e-5);
    EXPECT_NEAR(copy->program.motions.back().end.x, 10 * std::cos(turn), 2e-5);
  }
  EXPECT_EQ(turned_copy(text, 4, 0.002).error().code, "out_of_range");
  EXPECT_EQ(turned_copy(text, std::nan(""), 0.002).error().code, "out_of_range");
}

// ----------------------------------------------------------------------------------------------------------- surfacing

SurfacingPlan usual() {
  SurfacingPlan p;
  p.x0 = 10;
  p.y0 = 20;
  p.width = 300;
  p.height = 173;
  p.cutter_diameter = 25;
  p.stepover = 18;
  p.depth = 1.1;
  p.depth_per_pass = 0.4;
  p.feed = 2000;
  p.plunge_feed = 300;
  return p;
}

/// Whether a cutting move at full depth passes within the cutter's radius of a place: sampled along every move.
bool covered(const Program& program, double x, double y, double radius, double z) {
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const Motion& m = program.motions[i];
    const WorkPosition from = program.begin_of(i);
    if (!is_cut(m) || from.z > z + 1e-9 || m.end.z > z + 1e-9) continue;
    const double dx = m.end.x - from.x, dy = m.end.y - from.y, length2 = dx * dx + dy * dy;
    const double t = length2 > 0 ? std::clamp(((x - from.x) * dx + (y - from.y) * dy) / length2, 0.0, 1.0) : 0;
    if (std::hypot(from.x + t * dx - x, from.y + t * dy - y) <= radius + 1e-9) return true;
  }
  return false;
}

TEST(Surfacing, EveryPlaceOfTheAreaIsCutToFullDepthAndTheCentreStaysInside) {
  for (const bool along_y : {false, true})
    for (const auto way : {SurfacingWay::both_ways, SurfacingWay::one_way})
      for (const double height : {8.0, 25.0, 173.0, 171.99}) {
        SurfacingPlan p = usual();
        p.along_y = along_y;
        p.way = way;
        p.height = height;
        const auto made = surfacing_program(p);
        ASSERT_TRUE(made) << made.error().message;
        EXPECT_EQ(made->layers, 3);
        for (double x = 0; x <= 1.0001; x += 0.05)
          for (double y = 0; y <= 1.0001; y += 0.05)
            EXPECT_TRUE(covered(made->program, p.x0 + x * p.width, p.y0 + y * p.height, p.cutter_diameter / 2, -1.1))
                << x << " " << y << " along_y " << along_y;
        const Extents& e = made->reach;
        EXPECT_GE(e.low.x, p.x0 - 1e-6);
        EXPECT_LE(e.high.x, p.x0 + p.width + 1e-6);
        EXPECT_GE(e.low.y, p.y0 - 1e-6);
        EXPECT_LE(e.high.y, p.y0 + p.height + 1e-6);
        EXPECT_NEAR(e.low.z, -1.1, 1e-6);
        EXPECT_EQ(e.high.z, p.lift);
      }
}

TEST(Surfacing, NoRapidGoesThroughTheBoardAndNoLayerIsDeeperThanAsked) {
  for (const auto way : {SurfacingWay::both_ways, SurfacingWay::one_way}) {
    SurfacingPlan p = usual();
    p.way = way;
    const auto made = surfacing_program(p);
    ASSERT_TRUE(made);
    std::set<int> depths;
    for (std::size_t i = 0; i < made->program.motions.size(); ++i) {
      const Motion& m = made->program.motions[i];
      const WorkPosition from = made->program.begin_of(i);
      if (!is_cut(m) && (m.end.x != from.x || m.end.y != from.y)) {
        EXPECT_GE(std::min(from.z, m.end.z), p.lift);
      }
      if (is_cut(m)) depths.insert(static_cast<int>(std::lround(m.end.z * -1000)));
    }
    EXPECT_EQ(depths, (std::set<int>{0, 367, 733, 1100}));
  }
}

TEST(Surfacing, PassesAreNoFurtherApartThanTheStepover) {
  const auto made = surfacing_program(usual());
  ASSERT_TRUE(made);
  EXPECT_EQ(made->passes, 10) << "(173 - 25) / 18 = 8.2: nine steps";
  std::set<double> rows;
  for (const auto& m : made->program.motions)
    if (is_cut(m)) rows.insert(std::round(m.end.y * 1000) / 1000);
  double last = *rows.begin();
  for (const double y : rows) {
    EXPECT_LE(y - last, 18 + 1e-9);
    last = y;
  }
  EXPECT_GT(estimate_time(made->program, Kinematics{{{100, 400}, {100, 400}, {20, 200}}}).total_s,
            3 * 10 * 300 / (2000.0 / 60))
      << "longer than its passes at full feed";
}

TEST(Surfacing, WhatCannotBeIsRefusedByName) {
  const auto code = [](const std::function<void(SurfacingPlan&)>& spoil) {
    SurfacingPlan p = usual();
    spoil(p);
    const auto made = surfacing_program(p);
    EXPECT_FALSE(made);
    return made ? std::string() : made.error().code + " " + made.error().where;
  };
  EXPECT_EQ(code([](auto& p) { p.width = 0; }), "out_of_range width");
  EXPECT_EQ(code([](auto& p) { p.depth = std::nan(""); }), "out_of_range depth");
  EXPECT_EQ(code([](auto& p) { p.depth_per_pass = -1; }), "out_of_range depth_per_pass");
  EXPECT_EQ(code([](auto& p) { p.rpm = -1; }), "out_of_range rpm");
  EXPECT_EQ(code([](auto& p) { p.x0 = INFINITY; }), "out_of_range x0");
  EXPECT_EQ(code([](auto& p) { p.stepover = 25; }), "degenerate stepover");
  EXPECT_EQ(code([](auto& p) { p.stepover = 1e-6; }), "too_long stepover");
}

}  // namespace
}  // namespace ypsi
