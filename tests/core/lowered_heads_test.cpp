// Where a head goes that its block has lowered: each danger in a short program, and a near miss beside it.
#include <gtest/gtest.h>

#include <algorithm>

#include "core/program/checks.h"
#include "core/program/read_setting.h"

namespace ypsi {
namespace {

/// A cloth of 400 by 300 with work zero at its corner, machine 100, 200; two zones under it; a fence behind it and a
/// clamp at its left.
Book cloth_table() {
  Book b;
  b.machine.kind = "cutting_table";
  const auto head = [](const char* name, HeadKind kind, const char* lower, const char* raise) {
    Head h;
    h.name = name;
    h.kind = kind;
    h.lower = lower;
    h.raise = raise;
    return h;
  };
  b.machine.heads = {head("wheel", HeadKind::wheel, "M171", "M172"), head("pen", HeadKind::pen, "M173", "M174")};
  b.machine.heads[1].place = HeadPlace{75, 0, 0.1};
  b.machine.vacuum.zones = {{"A", 90, 190, 210, 400}, {"B", 300, 190, 260, 400}};
  for (const Axis a : all_axes) {
    b.machine.axis(a).soft_min = a == Axis::z ? -50 : 0;
    b.machine.axis(a).soft_max = a == Axis::z ? 0 : 1000;
  }
  b.job.stock_size = {400, 300, 5};
  b.job.frames[0] = {"", 100, 200, -40, false, 0};
  Fence fence;
  fence.name = "back";
  fence.kind = FenceKind::along_x;
  fence.y_mm = 520;  // work Y 320
  b.fences = {fence};
  return b;
}

std::vector<std::string> told(const Book& b, const std::string& lines) {
  const auto program = read_program("G21 G90\nG0 Z5\nG0 X10 Y10\n" + lines + "M2\n", read_setting(b));
  EXPECT_TRUE(program) << program.error().message;
  std::vector<std::string> all;
  for (const Finding& f : check_program(*program, b, {}))
    if (f.code.starts_with("lowered") || f.code == "head_on_clamp" || f.code == "marked_last") all.push_back(f.code);
  return all;
}
using Codes = std::vector<std::string>;

TEST(LoweredHeads, OnTheStockNothingIsSaid) {
  EXPECT_EQ(told(cloth_table(), "M171\nG1 X390 Y10 F3000\nG1 X390 Y290\nM172\nG0 X900 Y700\n"), Codes{});
  EXPECT_EQ(told(cloth_table(), "G0 X-70 Y10\nM173\nG1 X300 Y10 F3000\nM174\n"), Codes{})
      << "the pen is 75 to the right";
}

/// Where heads are lowered by air, Z need not be lifted before the first way across, unless something stands up.
TEST(LoweredHeads, ZThatIsLeftAloneIsNoMatterUnlessAClampStands) {
  const auto warned = [](const Book& b, const char* text) {
    const auto program = read_program(text, read_setting(b));
    EXPECT_TRUE(program) << program.error().message;
    const auto all = check_program(*program, b, {});
    return std::any_of(all.begin(), all.end(), [](const Finding& f) { return f.code == "first_move"; });
  };
  const char* const by_air = "G21 G90\nG0 X10 Y10\nM171\nG1 X390 F3000\nM172\nM2\n";
  Book b = cloth_table();
  EXPECT_FALSE(warned(b, by_air));
  EXPECT_TRUE(warned(b, "G21 G90\nG0 X10 Y10\nM171\nG1 X390 F3000\nM172\nG0 Z5\nG1 X20\nM2\n")) << "it uses Z too";
  EXPECT_TRUE(warned(b, "G21 G90\nG0 X10 Y10\nM171\nG1 X390 F3000\nM172\nG1 X20\nM2\n"))
      << "it feeds with all heads up";
  b.job.clamps.resize(1);
  EXPECT_TRUE(warned(b, by_air));
}

TEST(LoweredHeads, BesideTheStockIsSaidOncePerHead) {
  EXPECT_EQ(told(cloth_table(), "M171\nG1 X402 Y10 F3000\nG1 X10 Y10\nG1 X402 Y20\nM172\n"),
            (Codes{"lowered_off_stock"}));
  EXPECT_EQ(told(cloth_table(), "M173\nG1 X330 Y10 F3000\nM174\n"), Codes{"lowered_off_stock"}) << "the pen over 405";
  EXPECT_EQ(told(cloth_table(), "M171\nG3 X390 Y10 I190 J-6 F3000\nM172\n"),
            (Codes{"lowered_off_stock", "lowered_off_zones"}))
      << "an arc that bulges over both edges between its ends";
}

TEST(LoweredHeads, WhereNoZoneLiesNothingHolds) {
  Book b = cloth_table();
  b.machine.vacuum.zones.pop_back();
  EXPECT_EQ(told(b, "M171\nG1 X190 Y10 F3000\nM172\n"), Codes{});
  EXPECT_EQ(told(b, "M171\nG1 X201 Y10 F3000\nM172\n"), Codes{}) << "a millimetre over the edge is not worth it";
  EXPECT_EQ(told(b, "M171\nG1 X260 Y10 F3000\nM172\n"), Codes{"lowered_off_zones"});
  EXPECT_EQ(told(b, "M173\nG1 X260 Y10 F3000\nM174\n"), Codes{}) << "a pen cuts nothing loose";
}

TEST(LoweredHeads, OverAFenceAndOnAClampItStops) {
  Book b = cloth_table();
  b.job.stock_size = {400, 500, 5};
  EXPECT_EQ(told(b, "M171\nG1 X10 Y318 F3000\nM172\nG0 X10 Y340\n"), Codes{}) << "raised it may pass";
  EXPECT_EQ(told(b, "M171\nG1 X10 Y322 F3000\nM172\n"), Codes{"lowered_over_fence"});
  b.fences[0].offset_mm = 10;
  EXPECT_EQ(told(b, "M171\nG1 X10 Y322 F3000\nM172\n"), Codes{}) << "it stands farther back, as was found";
  b.job.clamps = {{"left", 300, 210, 40, 40, 30}};  // work X 180 to 220, Y -10 to 30
  EXPECT_EQ(told(b, "M171\nG1 X170 Y10 F3000\nM172\n"), (Codes{"head_on_clamp"})) << "the pen, 75 to the right";
  const auto both = told(b, "M171\nG1 X230 Y10 F3000\nM172\n");
  EXPECT_EQ(std::count(both.begin(), both.end(), "lowered_on_clamp"), 1);
  EXPECT_EQ(told(b, "G0 Z40\nM171\nG1 X170 Y10 F3000\nM172\n"), Codes{}) << "it hangs higher than the clamp";
}

TEST(LoweredHeads, WhatIsMarkedAfterACutIsSaid) {
  EXPECT_EQ(told(cloth_table(), "M173\nG1 X100 F3000\nM174\nM171\nG1 X10\nM172\n"), Codes{});
  EXPECT_EQ(told(cloth_table(), "M171\nG1 X100 F3000\nM172\nM173\nG1 X10\nM174\n"), Codes{"marked_last"});
}

/// How low Z is says nothing of what a lowered head cuts, nor does the tool that is in the spindle.
TEST(LoweredHeads, NeedNoToolAndNoZOfTheStock) {
  const auto all = [](const Book& b, const std::string& lines) {
    const auto program = read_program("G21 G90\nG0 Z5\nG0 X10 Y10\n" + lines + "M2\n", read_setting(b));
    EXPECT_TRUE(program);
    CheckSetting setting;
    setting.tool = 1;
    std::vector<std::string> codes;
    for (const Finding& f : check_program(*program, b, setting))
      if (f.weight != Weight::informs) codes.push_back(f.code);
    return codes;
  };
  EXPECT_EQ(all(cloth_table(), "M171\nG1 X390 Y10 F3000\nM172\n"), Codes{});
  const auto by_z = all(cloth_table(), "M171\nG1 X390 Y10 F3000\nM172\nG1 X10\n");
  EXPECT_NE(std::find(by_z.begin(), by_z.end(), "tool_missing"), by_z.end()) << "what goes by Z wants one";
}

}  // namespace
}  // namespace ypsi
