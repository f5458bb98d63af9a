// Corner plate and tool setter at the stand-in, with random tools, plates and heights: found within their scatter, and
// every wrong start stopped with a sentence.
#include <cmath>
#include <random>

#include "core/calibration/tool_setter.h"
#include "core/metrology/spread.h"
#include "standin/references_fixture.h"

namespace ypsi::standin {
namespace {

TEST_F(References, TheCornerIsFoundWithRandomToolsAndPlates) {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> diameter(2, 10), wall(6, 14), thickness(8, 16), off(-4, 6);
  for (int i = 0; i < 12; ++i) {
    Scenario s = plain();
    s.tools = {{1, diameter(random), 26, 0}};
    s.plate = {thickness(random), wall(random), wall(random)};
    s.stock.conductive = false;
    start(s);
    home();
    bench().lay_plate(PlatePlace::on_corner);
    tip_to(8 + off(random), 8 + off(random), 5);
    const auto started = corner_.start(link(), way_for(s));
    ASSERT_TRUE(started) << started.error().message;
    const auto begun_at = link().status().position;
    run_corner();
    ASSERT_EQ(corner_.phase(), Procedure::Phase::done) << corner_.error().message;
    const auto at = link().status().position;
    const Point3 tip = machine_->plant().tip();
    // A step is 1/80 mm along X and Y, 1/800 along Z; the place and the touch are each rounded to one: s is
    // 1/80 / sqrt(12) · sqrt(2).
    EXPECT_NEAR(corner_.corner().x, at.x + s.stock.x - tip[0], 3 * 0.0051);
    EXPECT_NEAR(corner_.corner().y, at.y + s.stock.y - tip[1], 3 * 0.0051);
    EXPECT_NEAR(corner_.corner().z, at.z + machine_->plant().stock_top(0, 0) - tip[2], 0.005);
    EXPECT_NEAR(at.x, begun_at.x, 0.02) << "back where it began, above the plate";
    EXPECT_NEAR(at.y, begun_at.y, 0.02);
    EXPECT_FALSE(link().status().inputs.probe);
  }
}

TEST_F(References, AToolTooFarInIsFoundOutOnTheWayDownAndNothingIsSet) {
  const Scenario s = plain();
  start(s);
  home();
  bench().lay_plate(PlatePlace::on_corner);
  tip_to(40, 10, 5);
  CornerWay way = way_for(s);
  way.out = 30;
  ASSERT_TRUE(corner_.start(link(), way));
  const auto before = link().status().work_zero;
  run_corner();
  EXPECT_EQ(corner_.phase(), Procedure::Phase::failed);
  EXPECT_EQ(corner_.error().code, "in_the_way");
  EXPECT_EQ(link().status().work_zero, before);
  EXPECT_NE(link().status().state, MachineState::moving);
}

TEST_F(References, WrongStartsOfACornerTouchMoveNothing) {
  const Scenario s = plain();
  CornerWay way = way_for(s);
  EXPECT_EQ(corner_.start(link(), way).error().code, "not_homed");
  start(s);
  home();
  EXPECT_EQ(corner_.start(link(), way).error().code, "limit") << "no room to go round at the switches";
  bench().lay_plate(PlatePlace::on_corner);
  tip_to(8, 8, 5);
  const auto before = link().status().position;
  way.tool_diameter = 0;
  EXPECT_EQ(corner_.start(link(), way).error().code, "out_of_range");
  way = way_for(s);
  way.wall_x = -1;
  EXPECT_EQ(corner_.start(link(), way).error().code, "out_of_range");
  way = way_for(s);
  bench().lay_plate(PlatePlace::at_cutter);
  EXPECT_EQ(corner_.start(link(), way).error().code, "touching");
  EXPECT_EQ(link().status().position, before);
  bench().lay_plate(PlatePlace::on_corner);
  bench().set_clip(false);
  way.touch.search = 4;
  ASSERT_TRUE(corner_.start(link(), way));
  run_corner();
  EXPECT_EQ(corner_.error().code, "no_contact") << "the clip is off";
}

TEST_F(References, ToolsAreMeasuredOnTheSetterWithinTheirU) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> length(20, 36);
  int within = 0, all = 0;
  for (int i = 0; i < 12; ++i) {
    Scenario s = plain();
    s.seed = 400 + static_cast<std::uint64_t>(i);
    s.tools.clear();
    for (int n = 1; n <= 4; ++n) s.tools.push_back({n, 3.0 + n, length(random), 0});
    s.setter->x = 700;
    s.setter->y = 40;
    start(s);
    home();
    const SetterWay way = setter_way(s);
    const auto reference = on_the_setter(way);
    std::vector<SetterTool> tools;
    for (int n = 2; n <= 4; ++n) {
      ASSERT_TRUE(bench().put_tool(n));
      tools.push_back({n, on_the_setter(way)});
    }
    const auto found = evaluate_setter(reference, tools, std::nullopt, 0);
    ASSERT_TRUE(found);
    for (std::size_t t = 0; t < 3; ++t) {
      const double truth = s.tools[t + 1].stickout - s.tools[0].stickout;
      EXPECT_NEAR(found->tools[t].offset, truth, 0.03);
      within += std::fabs(found->tools[t].offset - truth) <= *found->tools[t].U + 0.001 ? 1 : 0;  // a step of Z
      ++all;
    }
  }
  EXPECT_GE(within, all * 93 / 100) << within << " of " << all;
}

TEST_F(References, TheSetterOutOfReachOrNothingMetStopsWithASentence) {
  Scenario s = plain();
  s.setter->x = 700;
  s.setter->y = 40;
  start(s);
  SetterTouch touch;
  EXPECT_EQ(touch.start(link(), {}).error().code, "not_homed");
  home();
  SetterWay way = setter_way(s);
  way.x = 5000;
  EXPECT_EQ(touch.start(link(), way).error().code, "limit");
  way = setter_way(s);
  way.x -= 60;  // beside it
  way.touch.search = 40;
  ASSERT_TRUE(touch.start(link(), way));
  for (int i = 0; i < 40000 && touch.running(); ++i) {
    machine_->advance(0.02);
    touch.tick();
  }
  EXPECT_EQ(touch.phase(), Procedure::Phase::failed);
  EXPECT_EQ(touch.error().code, "no_contact");
  ASSERT_TRUE(touch.start(link(), setter_way(s)));
  machine_->advance(0.5);
  touch.cancel();
  EXPECT_EQ(touch.error().code, "cancelled");
}

TEST_F(References, AStocksTurnIsToldByTwoTouchesOfAnyEdge) {
  std::mt19937 random(8);
  std::uniform_real_distribution<double> turn(-0.03, 0.03), diameter(3, 8);
  int within = 0, all = 0;
  for (int i = 0; i < 10; ++i)
    for (const bool along_y : {false, true}) {
      Scenario s = plain();
      s.stock.rotation = turn(random);
      s.stock.size = {300, 260, 18};
      s.tools = {{1, diameter(random), 30, 0}};
      start(s);
      home();
      const auto beside = [&](double along) {
        // By truth to a few millimetres beside the edge: what an owner does by eye.
        const double c = std::cos(s.stock.rotation), n = std::sin(s.stock.rotation);
        const double u = along_y ? -9 : along, v = along_y ? along : -9;
        jog(Axis::z, -5 - link().status().position.z);
        const auto move = [&](Axis axis, double by) {
          if (std::fabs(by) > 1e-6) jog(axis, by);
        };
        move(Axis::x, s.stock.x + u * c - v * n - machine_->plant().tip()[0]);
        move(Axis::y, s.stock.y + u * n + v * c - machine_->plant().tip()[1]);
        move(Axis::z, machine_->plant().stock_top(0, 0) - 4 - machine_->plant().tip()[2]);
      };
      Point2 place[2];
      std::vector<double> across[2];
      for (int k = 0; k < 2; ++k) {
        beside(k == 0 ? 40 : 220);
        Touch touch;
        TouchWay way;
        way.axis = along_y ? Axis::x : Axis::y;
        way.towards_plus = true;
        way.touches = 3;
        const auto at = link().status().position;
        const auto started = touch.start(link(), way);
        ASSERT_TRUE(started) << started.error().message;
        for (int n = 0; n < 20000 && touch.running(); ++n) {
          machine_->advance(0.02);
          touch.tick();
        }
        ASSERT_EQ(touch.phase(), Procedure::Phase::done) << touch.error().message;
        place[k] = {at.x, at.y};
        across[k] = touch.triggers();
      }
      const auto found = turned_stock(place[0], across[0], place[1], across[1], along_y, 1.0 / 80);
      ASSERT_TRUE(found);
      EXPECT_NEAR(found->rotation, s.stock.rotation, 2.5e-4);
      within += std::fabs(found->rotation - s.stock.rotation) <= found->U ? 1 : 0;
      ++all;
    }
  EXPECT_GE(within, all * 90 / 100) << within << " of " << all;
}

}  // namespace
}  // namespace ypsi::standin
