// In which order the axes are homed, and what lies in the way.
#include "core/tasks/homing_way.h"

#include <gtest/gtest.h>

#include "core/book/changes.h"
#include "core/book/controller_settings.h"
#include "core/procedures/homing_order.h"

namespace ypsi {
namespace homing_way_test {

std::string in_order(const std::array<int, axis_count>& turns) {
  std::string all;
  for (const Axis a : homing_order(turns)) all += letter(a);
  return all;
}

TEST(HomingOrder, IsAsSaidAndLiftsFirstWhereNothingIs) {
  EXPECT_EQ(in_order({0, 0, 0}), "ZXY");
  EXPECT_EQ(in_order({1, 2, 3}), "XYZ");
  EXPECT_EQ(in_order({3, 2, 1}), "ZYX");
  EXPECT_EQ(in_order({0, 1, 0}), "ZYX") << "Y as the first, beside Z whose turn that is too; X is second";
  EXPECT_EQ(in_order({1, 1, 1}), "ZXY");
}

Book table() {
  Book book;
  book.machine.axis(Axis::z).home_at_max = true;
  Head wheel;
  wheel.name = "wheel";
  wheel.lower = "M71";
  wheel.raise = "M72";
  book.machine.heads = {wheel};
  book.job.stock_size = {700, 500, 5};
  book.job.clamps.resize(2);
  book.job.clamps[1].name = "left";
  return book;
}

TEST(HomingWay, GoesToEachSwitchInItsTurn) {
  Book book = table();
  book.machine.axis(Axis::x).home_turn = 2;
  book.machine.axis(Axis::y).home_turn = 1;
  book.machine.axis(Axis::y).home_at_max = true;
  book.machine.axis(Axis::z).home_turn = 3;
  const auto way = homing_way(book.machine);
  ASSERT_EQ(way.size(), 3u);
  EXPECT_EQ(way[0].axis, Axis::y);
  EXPECT_TRUE(way[0].to_max);
  EXPECT_EQ(way[1].axis, Axis::x);
  EXPECT_FALSE(way[1].to_max);
  book.machine.axis(Axis::y).zero_by_hand = true;
  EXPECT_EQ(homing_way(book.machine).front().axis, Axis::x) << "no switch is sought where there is none";
}

TEST(HomingWay, NamesWhatLiesThereUnlessASpindleIsLiftedFirst) {
  Book book = table();
  EXPECT_TRUE(laid_in_homings_way(book).stock) << "a head that air has lowered hangs as low as before";
  EXPECT_EQ(laid_in_homings_way(book).clamps, (std::vector<std::string>{"1", "left"}));
  book.machine.heads.clear();
  EXPECT_TRUE(laid_in_homings_way(book).none()) << "Z lifts all that there is";
  book.machine.axis(Axis::x).home_turn = 1;
  book.machine.axis(Axis::z).home_turn = 2;
  EXPECT_FALSE(laid_in_homings_way(book).none()) << "X goes across while it still hangs down";
  book.machine.axis(Axis::x).home_turn = 0;
  book.machine.axis(Axis::z).home_at_max = false;
  EXPECT_FALSE(laid_in_homings_way(book).none()) << "Z goes down";
  book.job.stock_size = {0, 0, 0};
  book.job.clamps.clear();
  EXPECT_TRUE(laid_in_homings_way(book).none());
}

TEST(HomingWay, TheTurnIsSettledWithTheController) {
  Book book = table();
  const auto has = [&] {
    for (const auto& s : controller_settings(book.machine))
      if (s.name == "axis.y.home_turn") return s.value;
    return -1.0;
  };
  EXPECT_EQ(has(), -1) << "not said, so the controller's own stays";
  book.machine.axis(Axis::y).home_turn = 1;
  EXPECT_EQ(has(), 1);
  EXPECT_TRUE(take_from_controller(book, "axis.y.home_turn", 3));
  EXPECT_EQ(book.machine.axis(Axis::y).home_turn, 3);
  EXPECT_FALSE(take_from_controller(book, "axis.y.home_turn", 7));
  EXPECT_EQ(book.machine.axis(Axis::y).home_turn, 3);
}

}  // namespace homing_way_test
}  // namespace ypsi
