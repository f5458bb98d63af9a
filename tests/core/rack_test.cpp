#include "core/book/rack.h"

#include <gtest/gtest.h>

#include <algorithm>

namespace ypsi {
namespace {

class RackPlaces : public testing::Test {
 protected:
  RackPlaces() {
    rack_.slot_count = 6;
    rack_.first_x_mm = 100;
    rack_.first_y_mm = 20;
    rack_.last_x_mm = 340;
    rack_.last_y_mm = 200;
    rack_.grip_z_mm = -80;
    rack_.clear_z_mm = -5;
    rack_.height_mm = 60;
    spindle_.nut_diameter = 30;
    tools_ = {tool(1, 6, 30, 1), tool(2, 3, 25, 2), tool(3, 12, 40, 4)};
  }
  static Tool tool(int number, double diameter, double out, int slot) {
    Tool t;
    t.number = number;
    t.diameter = diameter;
    t.length_out = out;
    t.slot = slot;
    return t;
  }
  std::vector<RackFinding> check(std::optional<double> bed_z = -140) const {
    return check_rack(rack_, tools_, spindle_, {0, 0, -130}, {800, 500, 0}, bed_z);
  }
  static bool has(const std::vector<RackFinding>& all, RackProblem problem, int slot, double short_by) {
    return std::any_of(all.begin(), all.end(), [&](const RackFinding& f) {
      return f.problem == problem && f.slot == slot && std::abs(f.short_by - short_by) < 1e-9;
    });
  }
  ToolRack rack_;
  Spindle spindle_;
  std::vector<Tool> tools_;
};

TEST_F(RackPlaces, SlotsLieEvenlyBetweenTheEnds) {
  // 240 and 180 are the legs of a right triangle with 300: five pitches of 60.
  EXPECT_DOUBLE_EQ(slot_pitch(rack_), 60);
  EXPECT_DOUBLE_EQ(slot_place(rack_, 1).x, 100);
  EXPECT_DOUBLE_EQ(slot_place(rack_, 3).x, 196);
  EXPECT_DOUBLE_EQ(slot_place(rack_, 3).y, 92);
  EXPECT_DOUBLE_EQ(slot_place(rack_, 6).y, 200);
  rack_.slot_count = 1;
  EXPECT_DOUBLE_EQ(slot_place(rack_, 1).x, 100);
  EXPECT_DOUBLE_EQ(slot_pitch(rack_), 0);
}

TEST_F(RackPlaces, NothingStandsAgainstAGoodOne) {
  EXPECT_TRUE(check().empty());
  EXPECT_TRUE(check_rack({}, tools_, spindle_, {}, {}, {}).empty()) << "no rack at all";
}

TEST_F(RackPlaces, ToolsThatHangTooLowAreFoundByTheirLength) {
  tools_[2].length_out = 80;
  // Nose at -5, tip at -85; the rack's top at -140 + 60 = -80.
  EXPECT_TRUE(has(check(), RackProblem::hangs_too_low, 4, 5));
  EXPECT_TRUE(check(std::nullopt).empty()) << "where the bed is not known, it cannot be told";
}

TEST_F(RackPlaces, NutAndNeighbouringToolsMustPass) {
  rack_.last_x_mm = 180;  // pitch 20 (80 and 60 of 100)
  rack_.last_y_mm = 80;
  // Nut 15 and the bigger of T1 (3) and T2 (1.5): 18 is below 20, so nothing.
  EXPECT_TRUE(check().empty());
  spindle_.boot_diameter = 60;
  EXPECT_TRUE(has(check(), RackProblem::pitch, 1, 13));
  spindle_.boot_diameter = 0;
  tools_[1].diameter = 36;
  EXPECT_TRUE(has(check(), RackProblem::tool_too_wide, 1, 1));
}

TEST_F(RackPlaces, HeightsLimitsAndSlotsThatCannotBe) {
  rack_.grip_z_mm = -4;
  EXPECT_TRUE(has(check(), RackProblem::heights, 0, 1));
  rack_.grip_z_mm = -135;
  EXPECT_TRUE(has(check(), RackProblem::outside, 0, 5));
  rack_.grip_z_mm = -80;
  rack_.last_x_mm = 810;
  EXPECT_TRUE(has(check(), RackProblem::outside, 6, 10));
  rack_.last_x_mm = 340;
  tools_[0].slot = 7;
  tools_[1].slot = 4;
  const auto found = check();
  EXPECT_TRUE(has(found, RackProblem::no_such_slot, 7, 0));
  EXPECT_TRUE(has(found, RackProblem::slot_twice, 4, 0));
}

}  // namespace
}  // namespace ypsi
