// Touches with the probe at the stand-in: what is found, and every wrong start stopped with a sentence.
#include "core/procedures/touch.h"

#include <cmath>

#include "core/metrology/spread.h"
#include "core/procedures/probe_circuit.h"
#include "core/procedures/probe_grid.h"
#include "core/program/surfacing.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class Touching : public StandInTest {
 protected:
  /// Over the stock's middle, `gap` above what the plate's top is.
  void over_the_stock(double gap) {
    home();
    const auto& stock = machine_->scenario().stock;
    jog(Axis::x, stock.x + 100 - machine_->plant().tip()[0]);
    jog(Axis::y, stock.y + 100 - machine_->plant().tip()[1]);
    bench().lay_plate(PlatePlace::on_stock);
    const Point3 tip = machine_->plant().tip();
    jog(Axis::z, top() + gap - tip[2]);
  }
  double top() {
    const Point3 tip = machine_->plant().tip();
    return machine_->plant().top_height(tip[0], tip[1]) + machine_->scenario().plate.thickness;
  }
  void run_touch() {
    for (int i = 0; i < 20000 && touch_.running(); ++i) {
      machine_->advance(0.02);
      touch_.tick();
    }
  }
  Touch touch_;
};

TEST_F(Touching, TheTriggerIsThePlatesTopAndRepeatsTellTheirScatter) {
  over_the_stock(6);
  TouchWay way;
  way.touches = 5;
  const auto started = touch_.start(link(), way);
  ASSERT_TRUE(started) << started.error().message;
  run_touch();
  ASSERT_EQ(touch_.phase(), Procedure::Phase::done) << touch_.error().message;
  ASSERT_EQ(touch_.triggers().size(), 5u);
  // Where the tip would be at the plate's top, by the controller's count: two steps of 1/800 mm and the slack of Z.
  const Point3 tip = machine_->plant().tip();
  const double at = link().status().position.z + (top() - tip[2]) * 800.6 / 800;
  for (const double t : touch_.triggers()) EXPECT_NEAR(t, at, 0.03);
  EXPECT_LT(*sample_deviation(touch_.triggers()), 0.002);
  EXPECT_NEAR(link().status().position.z, touch_.mean_trigger() + way.back_off, 0.01) << "it ends clear of the plate";
  EXPECT_FALSE(link().status().inputs.probe);
}

TEST_F(Touching, WrongStartsMoveNothing) {
  TouchWay way;
  EXPECT_EQ(touch_.start(link(), way).error().code, "not_homed");
  over_the_stock(6);
  const auto before = link().status().position;
  way.search = 200;
  EXPECT_EQ(touch_.start(link(), way).error().code, "limit");
  way.search = std::nan("");
  EXPECT_EQ(touch_.start(link(), way).error().code, "out_of_range");
  way.search = 10;
  way.touches = 0;
  EXPECT_EQ(touch_.start(link(), way).error().code, "out_of_range");
  way.touches = 1;
  bench().lay_plate(PlatePlace::at_cutter);
  machine_->advance(0.1);
  EXPECT_EQ(touch_.start(link(), way).error().code, "touching");
  EXPECT_EQ(link().status().position, before);
}

TEST_F(Touching, ClipOffFindsNothingAndAStuckInputIsNamed) {
  over_the_stock(6);
  bench().set_clip(false);
  TouchWay way;
  way.search = 5;
  const double from = link().status().position.z;
  ASSERT_TRUE(touch_.start(link(), way));
  run_touch();
  EXPECT_EQ(touch_.phase(), Procedure::Phase::failed);
  EXPECT_EQ(touch_.error().code, "no_contact");
  EXPECT_NEAR(link().status().position.z, from - 5, 0.01) << "no further than it was to search";
  bench().set_clip(true);
  over_the_stock(6);
  way.search = 10;
  ASSERT_TRUE(touch_.start(link(), way));
  while (!link().status().inputs.probe) {
    machine_->advance(0.005);
    touch_.tick();
  }
  machine_->plant().short_probe();
  run_touch();
  EXPECT_EQ(touch_.phase(), Procedure::Phase::failed);
  EXPECT_EQ(touch_.error().code, "probe_stuck");
}

TEST_F(Touching, EndedTouchesAreNoTouches) {
  over_the_stock(8);
  ASSERT_TRUE(touch_.start(link(), {}));
  machine_->advance(0.5);
  touch_.cancel();
  run_touch();
  EXPECT_EQ(touch_.phase(), Procedure::Phase::failed);
  EXPECT_EQ(link().status().state, MachineState::ready);
  ASSERT_TRUE(touch_.start(link(), {}));
  machine_->advance(0.3);
  link().stop();
  machine_->advance(0.1);
  touch_.tick();
  EXPECT_EQ(touch_.phase(), Procedure::Phase::failed);
}

TEST_F(Touching, TheCircuitIsSeenToChangeBothWays) {
  ProbeCircuit check;
  bench().lay_plate(PlatePlace::at_cutter);
  EXPECT_EQ(check.start(link()).error().code, "touching");
  bench().lay_plate(PlatePlace::away);
  ASSERT_TRUE(check.start(link()));
  check.tick(link().status());
  EXPECT_EQ(check.stage(), ProbeCircuit::Stage::touch);
  bench().lay_plate(PlatePlace::at_cutter);
  check.tick(link().status());
  EXPECT_EQ(check.stage(), ProbeCircuit::Stage::let_go);
  check.tick(link().status());
  EXPECT_EQ(check.stage(), ProbeCircuit::Stage::let_go) << "still touching";
  bench().lay_plate(PlatePlace::away);
  check.tick(link().status());
  EXPECT_EQ(check.stage(), ProbeCircuit::Stage::works);
}

TEST_F(Touching, AGridFindsTheBedsSlopeAndRefusesWhatIsOutsideTheLimits) {
  Scenario s = demo();
  s.stock = {};
  s.bed_tilt = {0.6e-3, -0.4e-3};
  start(s);
  home();
  bench().lay_plate(PlatePlace::on_bed);
  jog(Axis::z, -91 - link().status().position.z);
  GridPlan plan{30, 30, 700, 500, 4, 3, 6000, {}};
  ProbeGrid grid;
  const auto started = grid.start(link(), plan);
  ASSERT_TRUE(started) << started.error().message;
  for (int i = 0; i < 200000 && grid.running(); ++i) {
    machine_->advance(0.02);
    grid.tick();
  }
  ASSERT_EQ(grid.phase(), Procedure::Phase::done) << grid.error().message;
  ASSERT_EQ(grid.points().size(), 12u);
  const auto map = map_bed(grid.points());
  ASSERT_TRUE(map);
  EXPECT_NEAR(map->slope_x, 0.6e-3, 2e-5);
  EXPECT_NEAR(map->slope_y, -0.4e-3, 2e-5);
  EXPECT_LT(map->peak_to_valley, 0.01);
  plan.x1 = 5000;
  EXPECT_EQ(grid.start(link(), plan).error().code, "limit");
  plan.x1 = 20;
  EXPECT_EQ(grid.start(link(), plan).error().code, "out_of_range");
}

// The stock that surfacing leaves: no place of the area stands higher than the depth, to the last corner.
TEST_F(Touching, SurfacingTakesTheWholeAreaOfTheStock) {
  Scenario s = demo();
  s.stock.size = {120, 90, 18};
  s.stock.x = 200;
  s.stock.y = 150;
  for (const Axis a : all_axes) {
    s.axes[index(a)].true_steps_per_mm = s.controller[index(a)].steps_per_mm;
    s.axes[index(a)].lost_motion = 0;
  }
  s.skew = 0;
  s.spindle_tilt = {};
  s.tools = {{1, 22, 30, 0}};
  start(s);
  home();
  const auto& plant = machine_->plant();
  const Point3 tip = plant.tip();
  const auto at = link().status().position;
  ASSERT_TRUE(link().set_work_zero(Axis::x, at.x + s.stock.x - tip[0]));
  ASSERT_TRUE(link().set_work_zero(Axis::y, at.y + s.stock.y - tip[1]));
  ASSERT_TRUE(link().set_work_zero(Axis::z, at.z + plant.stock_top(0, 0) - tip[2]));
  for (const bool along_y : {false, true}) {
    SurfacingPlan plan;
    plan.width = 120;
    plan.height = 90;
    plan.cutter_diameter = 22;
    plan.stepover = 15;
    plan.depth = along_y ? 1.5 : 0.6;
    plan.depth_per_pass = 0.5;
    plan.feed = 3000;
    plan.plunge_feed = 400;
    plan.rpm = 12000;
    plan.along_y = along_y;
    const auto made = surfacing_program(plan);
    ASSERT_TRUE(made);
    std::vector<std::string> lines;
    std::istringstream in(made->text);
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    program(lines);
    ASSERT_FALSE(link().status().refusal);
    const auto sweeps = machine_->plant().cut().sweeps();
    for (double x = 0.01; x < 120; x += 119.98 / 24)
      for (double y = 0.01; y < 90; y += 89.98 / 18)
        EXPECT_NEAR(floor_at(sweeps, x, y, 1e9) - plant.stock_top(0, 0), -plan.depth, 0.01) << x << " " << y;
  }
}

}  // namespace
}  // namespace ypsi::standin
