// Where a program waits for a hand: tools whose zero is found anew, and the spindle's dial.
#include "core/program/pauses.h"

#include <gtest/gtest.h>

#include "core/program/interpreter.h"

namespace ypsi {
namespace {

const char* const three_tools =
    "G21 G90\nT1 M6\nS12000 M3\nG0 X1 Z5\nG1 Z-1 F300\nG0 Z5\nT2 M6\nS18000 M3\nG0 X2\nG1 Z-1\nG0 Z5\nS9000 M3\n"
    "G1 Z-1\nG0 Z5\nT3 M6\nG0 X3\nS9000 M3\nG1 Z-1\nM5\nM30\n";

struct Pauses : testing::Test {
  Pauses() {
    book.machine.spindle.dial = {{1, 9000}, {2, 12000}, {6, 27000}};
    auto& zero = book.job.frames[0];
    zero.z_mm = -80;
    zero.z_tool = 1;
  }
  std::optional<Pause> next(std::uint32_t from, double standing, int tool = 1) const {
    return next_pause(program, book, tool, standing, from);
  }
  Book book;
  Program program = read_program(three_tools).value();
};

TEST_F(Pauses, AToolAndTheSpeedItIsGivenAreOne) {
  const auto tool = next(1, 12000);
  ASSERT_TRUE(tool);
  EXPECT_EQ(tool->line, 7u);
  EXPECT_EQ(tool->tool, 2);
  ASSERT_TRUE(tool->dial);
  EXPECT_EQ(tool->dial->rpm, 18000);
  EXPECT_DOUBLE_EQ(tool->dial->position, 3.6) << "6000 rpm of 15000 above position 2, four positions on";
  EXPECT_EQ(tool->seen, 8u);
  // After it: another speed for the same tool, then a tool with the machine moving before its speed.
  const auto speed = next(tool->seen + 1, 18000, 2);
  ASSERT_TRUE(speed);
  EXPECT_EQ(speed->line, 12u);
  EXPECT_EQ(speed->tool, 0);
  EXPECT_DOUBLE_EQ(speed->dial->position, 1);
  const auto last = next(speed->seen + 1, 9000, 2);
  ASSERT_TRUE(last);
  EXPECT_EQ(last->line, 15u);
  EXPECT_EQ(last->tool, 3);
  EXPECT_FALSE(last->dial) << "the dial stands there";
  EXPECT_FALSE(next(last->seen + 1, 9000, 3));
}

TEST_F(Pauses, AnUnknownDialIsAskedForAtTheFirstSpeed) {
  const auto first = next(1, 0);
  ASSERT_TRUE(first);
  EXPECT_EQ(first->line, 3u);
  EXPECT_EQ(first->dial->rpm, 12000);
}

TEST_F(Pauses, NoneWhereNoHandIsNeeded) {
  book.machine.spindle.controlled = true;
  EXPECT_FALSE(next(1, 0)->dial) << "the controller sets the speed";
  EXPECT_EQ(next(1, 0)->line, 7u) << "the tool is waited for still";
  book.machine.spindle.controlled = false;
  book.machine.spindle.dial = {{1, 9000}, {2, 12000}};
  EXPECT_FALSE(next(1, 12000)->dial) << "beyond the dial's end; the ready check says so";
  // Lengths that the program brings itself need no touching off, and a zero of no tool holds for all.
  ReadSetting lengths;
  lengths.frames.tool_offsets[2] = 7.5;
  program = read_program("G21 G90\nT2 M6\nG43 H2\nG0 Z5\n", lengths).value();
  EXPECT_FALSE(next(1, 12000));
  program = read_program("G21 G90\nT2 M6\nG0 Z5\n").value();
  EXPECT_TRUE(next(1, 12000));
  book.job.frames[0].z_tool = 0;
  EXPECT_FALSE(next(1, 12000));
}

TEST_F(Pauses, BothSensesOfTurningAndWrongDials) {
  const Spindle& s = book.machine.spindle;
  EXPECT_EQ(dial_for(s, -12000, 0)->rpm, 12000);
  EXPECT_FALSE(dial_for(s, -12000, 12000));
  EXPECT_FALSE(dial_for(s, 0, 0));
  Spindle bad = s;
  bad.dial = {{1, 9000}};
  EXPECT_FALSE(dial_for(bad, 9000, 0));
}

TEST(AskedAt, IsTheRemarkOfAStop) {
  const Program p =
      read_program(
          "G21 G90\n(not of a stop)\nG0 X1\n(turn the nose to 12)\nM0\nG0 X2\nM1 (turn it back)\nG0 X3\nM0\nM2\n")
          .value();
  EXPECT_EQ(asked_at(p, 5), "turn the nose to 12");
  EXPECT_EQ(asked_at(p, 7), "turn it back");
  EXPECT_EQ(asked_at(p, 9), "") << "it says nothing";
  EXPECT_EQ(asked_at(p, 3), "") << "it does not stop there";
  EXPECT_EQ(asked_at(p, 99), "");
}

}  // namespace
}  // namespace ypsi
