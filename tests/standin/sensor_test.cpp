// Switches as wired, the probe, the emergency stop, and each fault at its time.
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class Sensors : public StandInTest {
 protected:
  void break_at(double at_s, FaultKind kind, Axis axis = Axis::x) {
    Scenario s = demo();
    s.faults.push_back({at_s, kind, axis});
    start(s);
  }
  /// Over the middle of the stock, 4 mm above the plate's top.
  void stand_over_the_plate() {
    home();
    jog(Axis::x, 300 - link().status().position.x);
    jog(Axis::y, 250 - link().status().position.y);
    bench().lay_plate(PlatePlace::on_stock);
    const double gap = machine_->plant().tip()[2] - machine_->plant().top_height(300, 250);
    jog(Axis::z, -(gap - machine_->scenario().plate.thickness - 4) * 800.6 / 800);
  }
  std::string message() { return link().status().message; }
  bool says(const char* words) { return message().find(words) != std::string::npos; }
};

TEST_F(Sensors, InputsShowWhatAFingerPresses) {
  for (const Axis a : all_axes) {
    EXPECT_FALSE(link().status().inputs.home_switch[index(a)]);
    bench().hold_switch(a, true);
    EXPECT_TRUE(link().status().inputs.home_switch[index(a)]) << letter(a);
    bench().hold_switch(a, false);
  }
}

TEST_F(Sensors, ADeadSwitchEndsHomingInWords) {
  wire(Axis::y, Wiring::never);
  ASSERT_TRUE(link().home());
  run(900);
  EXPECT_EQ(link().status().state, MachineState::stopped);
  EXPECT_FALSE(link().status().homed[1]);
  EXPECT_TRUE(says("Y") && says("never changed")) << message();
}

TEST_F(Sensors, AReversedSwitchIsOnAtRestAndCanBeInverted) {
  wire(Axis::x, Wiring::reversed);
  EXPECT_TRUE(link().status().inputs.home_switch[0]);
  ASSERT_TRUE(link().home());
  run(900);
  EXPECT_TRUE(says("X") && says("stayed on")) << message();
  ASSERT_TRUE(link().set_setting("axis.x.switch_inverted", 1));
  EXPECT_FALSE(link().status().inputs.home_switch[0]);
  home();
}

TEST_F(Sensors, SwappedSwitchesAnswerForEachOther) {
  Scenario s = demo();
  s.axes[0].wired = s.axes[1].wired = Wiring::swapped;
  start(s);
  bench().hold_switch(Axis::x, true);
  EXPECT_FALSE(link().status().inputs.home_switch[0]);
  EXPECT_TRUE(link().status().inputs.home_switch[1]);
}

TEST_F(Sensors, ASwitchThatComesOnInAMoveStopsItAtOnce) {
  home();
  ASSERT_TRUE(link().jog(Axis::x, 300, 6000));
  machine_->advance(1);
  bench().hold_switch(Axis::x, true);
  const double at = machine_->true_place(Axis::x);
  machine_->advance(1);
  EXPECT_NEAR(machine_->true_place(Axis::x), at, 0.11) << "one tick at most";
  EXPECT_EQ(link().status().state, MachineState::stopped);
  EXPECT_FALSE(link().status().all_homed());
  EXPECT_TRUE(says("X's switch")) << message();
  EXPECT_EQ(link().jog(Axis::x, -5, 100).error().code, "limit") << "towards the switch";
  EXPECT_TRUE(link().jog(Axis::x, 5, 100)) << "away from it";
  run();
  bench().hold_switch(Axis::x, false);
  home();
}

TEST_F(Sensors, TheEmergencyStopTakesEverythingAndNothingStartsWhileItIsPressed) {
  home();
  ASSERT_TRUE(link().begin_program());
  ASSERT_TRUE(link().send("S9000 M3", 1));
  ASSERT_TRUE(link().send("G1 X400 F6000", 2));
  machine_->advance(1);
  bench().press_emergency_stop(true);
  machine_->advance(0.01);
  const auto s = link().status();
  EXPECT_EQ(s.state, MachineState::emergency_stop);
  EXPECT_EQ(s.spindle_rpm, 0);
  EXPECT_FALSE(s.all_homed());
  EXPECT_TRUE(s.inputs.emergency_stop);
  EXPECT_EQ(link().home().error().code, "stopped");
  EXPECT_EQ(link().jog(Axis::x, 1, 100).error().code, "stopped");
  bench().press_emergency_stop(false);
  machine_->advance(0.01);
  EXPECT_EQ(link().status().state, MachineState::stopped);
  home();
}

TEST_F(Sensors, StopStandsAtOnceAndForgets) {
  home();
  ASSERT_TRUE(link().jog(Axis::x, 300, 6000));
  machine_->advance(1);
  link().stop();
  const double at = machine_->true_place(Axis::x);
  machine_->advance(1);
  EXPECT_EQ(machine_->true_place(Axis::x), at);
  EXPECT_EQ(link().status().state, MachineState::stopped);
}

TEST_F(Sensors, TheProbeMeetsThePlateWhereItIs) {
  stand_over_the_plate();
  const auto count = link().status().probe.count;
  program({"G91 G21", "G38.2 Z-8 F60"});
  const ProbeResult p = link().status().probe;
  EXPECT_EQ(p.count, count + 1);
  ASSERT_TRUE(p.contact) << message();
  // Where the tip was when the input changed, against the plate's top.
  const double over = machine_->plant().tip()[2] + (p.at.z - link().status().position.z) * 800 / 800.6;
  EXPECT_NEAR(over, machine_->plant().top_height(300, 250) + machine_->scenario().plate.thickness, 0.003);
  EXPECT_LT(link().status().position.z, p.at.z) << "it brakes after the touch";
}

TEST_F(Sensors, WithoutTheClipNothingIsTouchedAndTheProgramEnds) {
  stand_over_the_plate();
  bench().set_clip(false);
  program({"G91", "G38.2 Z-3 F200", "G1 X5 F500"});
  EXPECT_FALSE(link().status().probe.contact);
  ASSERT_TRUE(link().status().refusal);
  EXPECT_EQ(link().status().refusal->code, "no_contact");
  EXPECT_TRUE(says("Line 2") && says("clip")) << message();
  EXPECT_NEAR(link().status().position.x, 300, 0.1) << "what came after was not run";
  program({"G91", "G38.3 Z-0.5 F200", "G1 X5 F500"});
  EXPECT_NEAR(link().status().position.x, 305, 0.1) << "G38.3 may end without a touch";
}

TEST_F(Sensors, AProbeThatIsOnBeforeTheSearchIsRefused) {
  stand_over_the_plate();
  machine_->plant().short_probe();
  const double z = link().status().position.z;
  program({"G91", "G38.2 Z-5 F60"});
  EXPECT_EQ(link().status().refusal->code, "probe_on");
  EXPECT_EQ(link().status().position.z, z);
}

TEST_F(Sensors, TheStocksEdgeIsMetAToolsRadiusAway) {
  Scenario s = demo();
  s.axes[0].true_steps_per_mm = s.axes[1].true_steps_per_mm = 80;
  for (auto& a : s.axes) a.lost_motion = 0;
  s.spindle_tilt = {0, 0};
  start(s);
  home();
  jog(Axis::x, 150 - link().status().position.x);
  jog(Axis::y, 250 - link().status().position.y);
  jog(Axis::z, -95);
  const double off = machine_->true_place(Axis::x) - link().status().position.x;
  program({"G91", "G38.2 X40 F200"});
  ASSERT_TRUE(link().status().probe.contact) << message();
  const double lean = machine_->true_place(Axis::y) * std::sin(s.skew);
  EXPECT_NEAR(link().status().probe.at.x + off + lean, 180 - 2.96 / 2, 0.02);
}

TEST_F(Sensors, TheSetterScattersAsItsScenarioSays) {
  Scenario s = demo();
  s.setter = PhysicalSetter{50, 40, 48.2, 0.01};
  start(s);
  home();
  jog(Axis::x, (50 - link().status().position.x) * 80.37 / 80);
  jog(Axis::y, (40 - link().status().position.y) * 79.82 / 80);
  jog(Axis::z, -50);
  std::vector<double> at;
  for (int i = 0; i < 20; ++i) {
    program({"G91", "G38.2 Z-30 F120"});
    ASSERT_TRUE(link().status().probe.contact) << message();
    at.push_back(link().status().probe.at.z);
    jog(Axis::z, 3);
  }
  double mean = 0, squares = 0;
  for (const double a : at) mean += a / 20;
  for (const double a : at) squares += (a - mean) * (a - mean);
  EXPECT_NEAR(std::sqrt(squares / 19), 0.01, 0.006);
}

TEST_F(Sensors, WorkFramesAndToolLengthsMoveWhatTheyAreMeantTo) {
  home();
  for (const auto& [name, value] : {std::pair{"work.g54.x_mm", 100.0},
                                    {"work.g55.x_mm", 250.0},
                                    {"work.g55.y_mm", 80.0},
                                    {"work.g54.z_mm", -60.0},
                                    {"work.g55.z_mm", -60.0},
                                    {"tool.3.offset_mm", 4.5}})
    ASSERT_TRUE(link().set_setting(name, value));
  program({"G90 G21 G54 G0 X10"});
  EXPECT_NEAR(link().status().position.x, 110, 0.02);
  program({"G90 G55 G0 X10 Y20", "G43 H3 G0 Z1"});
  const auto s = link().status();
  EXPECT_EQ(s.work_frame, 0) << "the frame that was set comes back with the end";
  EXPECT_NEAR(s.position.x, 260, 0.02);
  EXPECT_NEAR(s.position.y, 100, 0.02);
  EXPECT_NEAR(s.position.z, -60 + 1 + 4.5, 0.01);
  EXPECT_DOUBLE_EQ(s.tool_offset, 4.5);
  program({"G55 G90 G0 X10", "G54 X10", "G91 G59 X1"});
  EXPECT_NEAR(link().status().position.x, 111, 0.02) << "a step is a step in any frame";
}

TEST_F(Sensors, ADwellTakesItsTime) {
  home();
  ASSERT_TRUE(link().begin_program());
  ASSERT_TRUE(link().send("G4 P2.5", 1));
  link().end_program();
  const double begin = machine_->now_s();
  while (link().status().state != MachineState::ready) machine_->advance(0.01);
  EXPECT_NEAR(machine_->now_s() - begin, 2.5, 0.02);
}

TEST_F(Sensors, EachFaultComesAtItsTime) {
  break_at(300, FaultKind::lost_steps);
  home();
  machine_->advance(301 - machine_->now_s());
  const double place = machine_->true_place(Axis::x);
  EXPECT_LT(place, 2) << "400 steps of 80 to the millimetre are gone";
  home();
  EXPECT_TRUE(says("lost steps")) << message();

  break_at(200, FaultKind::brownout);
  ASSERT_TRUE(link().set_setting("axis.x.steps_per_mm", 80.5));
  home();
  machine_->advance(201 - machine_->now_s());
  EXPECT_EQ(link().status().state, MachineState::not_homed);
  EXPECT_TRUE(says("supply")) << message();
  EXPECT_EQ(link().setting("axis.x.steps_per_mm").value(), 80.5) << "its memory outlives it";

  break_at(200, FaultKind::switch_stuck, Axis::y);
  home();
  machine_->advance(201 - machine_->now_s());
  EXPECT_EQ(link().begin_program().error().code, "limit");
  ASSERT_TRUE(link().home());
  run(900);
  EXPECT_TRUE(says("Y") && says("stayed on")) << message();

  break_at(5, FaultKind::estop);
  machine_->advance(5.1);
  EXPECT_EQ(link().status().state, MachineState::emergency_stop);
  break_at(5, FaultKind::probe_stuck);
  machine_->advance(4.9);
  EXPECT_FALSE(link().status().inputs.probe);
  machine_->advance(0.2);
  EXPECT_TRUE(link().status().inputs.probe);
  break_at(5, FaultKind::clip_off);
  machine_->advance(5.1);
  EXPECT_FALSE(bench().surroundings().clip_on);
  break_at(5, FaultKind::link_drop);
  machine_->advance(4.9);
  EXPECT_FALSE(machine_->take_wire_fault());
  machine_->advance(0.2);
  EXPECT_EQ(machine_->take_wire_fault(), FaultKind::link_drop);
}

TEST_F(Sensors, AHostThatIsLostWhileCuttingLeavesAStandingMachine) {
  home();
  ASSERT_TRUE(link().begin_program());
  ASSERT_TRUE(link().send("S9000 M3", 1));
  ASSERT_TRUE(link().send("G1 X400 F6000", 7));
  machine_->advance(1.5);
  machine_->controller().link_lost();
  machine_->advance(1);
  const auto s = link().status();
  EXPECT_EQ(s.state, MachineState::stopped);
  EXPECT_EQ(s.spindle_rpm, 0);
  EXPECT_TRUE(says("line 7")) << message();
  EXPECT_LT(s.position.x, 200);
}

}  // namespace
}  // namespace ypsi::standin
