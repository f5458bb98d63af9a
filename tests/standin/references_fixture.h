#pragma once
// A machine without errors of its own, and hands that bring its tool to plate, setter and stock.
#include <cmath>

#include "core/calibration/probing.h"
#include "core/procedures/corner_touch.h"
#include "core/procedures/setter_touch.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {

class References : public StandInTest {
 protected:
  Scenario plain() {
    Scenario s = demo();
    for (const Axis a : all_axes) {
      s.axes[index(a)].true_steps_per_mm = s.controller[index(a)].steps_per_mm;
      s.axes[index(a)].lost_motion = 0;
      s.axes[index(a)].screw = {};
    }
    s.skew = 0;
    s.spindle_tilt = {};
    return s;
  }
  /// The tool's tip to a place of the stock's corner, by truth: what an owner does by eye.
  void tip_to(double from_corner_x, double from_corner_y, double above_plate) {
    const auto& stock = machine_->scenario().stock;
    const auto move = [&](Axis axis, double by) {
      if (std::fabs(by) > 1e-6) jog(axis, by);
    };
    move(Axis::z, -5 - link().status().position.z);
    move(Axis::x, stock.x + from_corner_x - machine_->plant().tip()[0]);
    move(Axis::y, stock.y + from_corner_y - machine_->plant().tip()[1]);
    const double top = machine_->plant().stock_top(0, 0) + machine_->scenario().plate.thickness;
    move(Axis::z, top + above_plate - machine_->plant().tip()[2]);
  }
  CornerWay way_for(const Scenario& s) {
    CornerWay way;
    way.tool_diameter = s.tools.front().diameter;
    way.wall_x = s.plate.wall_x;
    way.wall_y = s.plate.wall_y;
    way.floor = s.plate.thickness;
    way.touch.touches = 3;
    return way;
  }
  void run_corner() {
    for (int i = 0; i < 40000 && corner_.running(); ++i) {
      machine_->advance(0.02);
      corner_.tick();
    }
  }
  std::vector<double> on_the_setter(const SetterWay& way) {
    SetterTouch touch;
    const auto started = touch.start(link(), way);
    EXPECT_TRUE(started) << started.error().message;
    for (int i = 0; i < 40000 && touch.running(); ++i) {
      machine_->advance(0.02);
      touch.tick();
    }
    EXPECT_EQ(touch.phase(), Procedure::Phase::done) << touch.error().message;
    EXPECT_NEAR(link().status().position.z, way.safe_z, 0.01) << "it ends at the safe height";
    return touch.triggers();
  }
  SetterWay setter_way(const Scenario& s) {
    // Where the owner has taken it from the machine.
    SetterWay way;
    const auto at = link().status().position;
    way.x = at.x + s.setter->x - machine_->plant().tip()[0];
    way.y = at.y + s.setter->y - machine_->plant().tip()[1];
    way.safe_z = -2;
    way.touch.search = 100;
    way.touch.fast = 600;
    way.touch.touches = 4;
    return way;
  }
  /// One surface touched from where the tool stands, its slow touches.
  std::vector<double> touched(Axis axis, bool towards_plus, double search = 10) {
    TouchWay way;
    way.axis = axis;
    way.towards_plus = towards_plus;
    way.search = search;
    way.touches = 3;
    Touch touch;
    const auto started = touch.start(link(), way);
    EXPECT_TRUE(started) << started.error().message;
    for (int i = 0; i < 40000 && touch.running(); ++i) {
      machine_->advance(0.02);
      touch.tick();
    }
    EXPECT_EQ(touch.phase(), Procedure::Phase::done) << touch.error().message;
    return touch.triggers();
  }
  CornerTouch corner_;
};

}  // namespace ypsi::standin
