// Programs that we write: clean by our own check, on any corner, frame and controller, and not by what a machine
// happens to stand in before.
#include <gtest/gtest.h>

#include <cmath>

#include "core/router_book.h"

#include "core/motion/planner.h"
#include "core/procedures/mark_points.h"
#include "core/program/checks.h"
#include "core/program/read_setting.h"
#include "core/program/surfacing.h"
#include "core/tasks/coupon_choice.h"

namespace ypsi::own_programs {
namespace {

/// A router with a plate of 260 by 220 by 15, a clamp 30 high beside it; work zero wherever on it.
Book workshop(double zero_x, double zero_y) {
  Book book = router_book(1);
  book.tools = {cutter(4, "flat", 6, 35)};
  book.job.stock_size = {260, 220, 15};
  book.job.stock_corner = {-zero_x, -zero_y};
  book.job.frame = 1;
  book.job.frames[1] = {"", 250 + zero_x, 160 + zero_y, -80, false, 4};
  book.job.clamps = {{"beside", 220, 250, 40, 40, 30}};
  return book;
}

std::vector<Finding> check(const std::string& text, const Book& book) {
  const auto program = read_program(text, read_setting(book));
  EXPECT_TRUE(program) << program.error().message;
  CheckSetting setting;
  setting.tool = 4;
  return program ? check_program(*program, book, setting) : std::vector<Finding>{};
}

std::string against(const std::vector<Finding>& findings) {
  std::string all;
  for (const auto& f : findings)
    if (f.weight != Weight::informs) all += f.code + " line " + std::to_string(f.line) + ": " + f.message + "\n";
  return all;
}

TEST(OwnPrograms, TestCutsAreCleanAndLieOnTheStockWhereverZeroIs) {
  for (const auto& [x, y] : {std::pair{0.0, 0.0}, {130.0, 110.0}, {260.0, 220.0}, {10.0, 200.0}})
    for (const CouponKind kind : coupon_kinds(workshop(x, y).machine)) {
      const Book book = workshop(x, y);
      const auto setting = coupon_setting(book, 4);
      ASSERT_TRUE(setting) << setting.error().message;
      const auto coupon = make_coupon(kind, *setting);
      ASSERT_TRUE(coupon) << coupon.error().message;
      EXPECT_EQ(against(check(coupon->text, book)), "") << name(kind) << " zero at " << x << "\n"
                                                        << coupon->text.substr(0, 400);
      const Extents& cut = coupon->program.cut;
      EXPECT_GE(cut.low.x, -x);
      EXPECT_GE(cut.low.y, -y);
      EXPECT_LE(cut.high.x, 260 - x);
      EXPECT_LE(cut.high.y, 220 - y);
      for (const CouponFeature& f : coupon->features) {
        EXPECT_GT(f.at.x, -x);
        EXPECT_LT(f.at.y, 220 - y);
      }
    }
}

TEST(OwnPrograms, TheSameCutIsMovedWithItsZero) {
  const auto at = [](double x, double y) {
    return make_coupon(CouponKind::circle, coupon_setting(workshop(x, y), 4).value())->program;
  };
  const Program corner = at(0, 0), middle = at(130, 110);
  ASSERT_EQ(corner.motions.size(), middle.motions.size());
  std::size_t over = 0;
  for (std::size_t i = 0; i < corner.motions.size(); ++i) {
    if (corner.given_in[0] > i) continue;
    ++over;
    EXPECT_NEAR(corner.motions[i].end.x - middle.motions[i].end.x, 130, 1.5e-4) << "four digits";
    EXPECT_NEAR(corner.motions[i].end.y - middle.motions[i].end.y, 110, 1.5e-4);
    EXPECT_EQ(corner.motions[i].end.z, middle.motions[i].end.z);
  }
  EXPECT_GT(over, 20u);
}

/// Whatever held before, the program begins by what it counts on itself.
std::vector<std::pair<std::string, std::string>> own(const Book& book) {
  const auto setting = coupon_setting(book, 4).value();
  SurfacingPlan plan;
  plan.width = 200;
  plan.height = 100;
  plan.cutter_diameter = 25;
  plan.stepover = 15;
  plan.depth = plan.depth_per_pass = 0.5;
  plan.feed = 1200;
  plan.plunge_feed = 200;
  plan.rpm = 9000;
  plan.frame = book.job.frame;
  return {{"test cut", make_coupon(CouponKind::square, setting)->text},
          {"surfacing", surfacing_program(plan)->text},
          {"marks", marking_program({{"A", {300, 200}}, {"B", {400, 200}}}, 0.5, 5, 600, book.job.frame)}};
}

TEST(OwnPrograms, CountOnNoModeThatHeldBefore) {
  for (const auto& [what, text] : own(workshop(0, 0))) {
    const auto plain = read_program(text);
    ASSERT_TRUE(plain) << what;
    for (const char* before : {"G20", "G91", "G18", "G99", "G55", "G93", "G43 H4", "G90.1"}) {
      ReadSetting setting;
      setting.frames.tool_offsets[4] = 12;
      const auto after = read_program(std::string(before) + "\n" + text, setting);
      ASSERT_TRUE(after) << what << " after " << before << ": " << after.error().message;
      ASSERT_EQ(after->motions.size(), plain->motions.size());
      for (std::size_t i = 0; i < plain->motions.size(); ++i) {
        EXPECT_EQ(after->motions[i].end, plain->motions[i].end) << what << " after " << before << " motion " << i;
        EXPECT_EQ(after->feed_of(after->motions[i]), plain->feed_of(plain->motions[i]));
      }
    }
  }
}

TEST(OwnPrograms, SayTheFrameWhereZeroIsAndWaitForTheSpindle) {
  Book book = workshop(130, 110);
  book.machine.spindle.spin_up_s = 7;
  for (const auto& [what, text] : own(book)) {
    EXPECT_NE(text.find("(work zero: "), std::string::npos) << what;
    EXPECT_NE(text.find(" G55\n"), std::string::npos) << what;
  }
  const auto cut = make_coupon(CouponKind::square, coupon_setting(book, 4).value())->text;
  EXPECT_NE(cut.find("the stock's front left corner is at X-130 Y-110, Z on the stock's top"), std::string::npos)
      << cut;
  EXPECT_NE(cut.find("S12000 M3\nG4 P7\n"), std::string::npos) << cut;
  EXPECT_NE(cut.find("T4 M6"), std::string::npos);
  // It comes over the clamp, 15 higher than the stock.
  EXPECT_NE(cut.find("G0 Z18.000"), std::string::npos) << cut;
  book.machine.no_tool_words = true;
  const auto without = make_coupon(CouponKind::square, coupon_setting(book, 4).value())->text;
  EXPECT_EQ(without.find("M6"), std::string::npos);
  EXPECT_EQ(without.find("T4"), std::string::npos);
}

}  // namespace
}  // namespace ypsi::own_programs
