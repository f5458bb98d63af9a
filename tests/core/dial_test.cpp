// Speed dial: straight lines between the positions.
#include "core/calibration/dial.h"

#include <gtest/gtest.h>

namespace ypsi {
namespace {

const std::vector<DialPoint> router{{6, 27000}, {1, 9000}, {2, 12000}};  // as typed, in no order

TEST(Dial, BetweenTwoPositionsAStraightLine) {
  EXPECT_DOUBLE_EQ(*dial_position(router, 9000), 1);
  EXPECT_DOUBLE_EQ(*dial_position(router, 10500), 1.5);
  EXPECT_DOUBLE_EQ(*dial_position(router, 18000), 3.6);
  EXPECT_DOUBLE_EQ(*dial_rpm(router, 3.6), 18000);
  EXPECT_DOUBLE_EQ(*dial_rpm(router, 6), 27000);
}

TEST(Dial, BeyondItsEndsAndNonsenseAreRefused) {
  EXPECT_EQ(dial_position(router, 30000).error().code, "out_of_range");
  EXPECT_EQ(dial_rpm(router, 0.5).error().code, "out_of_range");
  EXPECT_EQ(dial_position({{1, 9000}}, 9000).error().code, "too_few");
  EXPECT_EQ(dial_position({{1, 9000}, {2, 8000}}, 8500).error().code, "degenerate");
  EXPECT_EQ(dial_position({{1, 9000}, {1, 12000}}, 9500).error().code, "degenerate");
  EXPECT_EQ(dial_position({{1, 0}, {2, 12000}}, 9500).error().code, "out_of_range");
}

}  // namespace
}  // namespace ypsi
