// The controller's moves, limits and acts.
#include "core/procedures/go_to_zero.h"
#include "core/procedures/measured_move.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

TEST_F(StandInTest, AWrongSettingReallyMovesWrong) {
  home();
  jog(Axis::x, 10);  // slack taken up
  const double before = machine_->true_place(Axis::x);
  jog(Axis::x, 400);
  // 400 mm at 80 steps per mm are 32 000 steps; the mechanics need 80.37 for a millimetre.
  EXPECT_NEAR(machine_->true_place(Axis::x) - before, 32000 / 80.37, 1.5 / 80.37);
  ASSERT_TRUE(link().set_setting("axis.x.steps_per_mm", 80.37));
  home();
  jog(Axis::x, 10);
  const double corrected = machine_->true_place(Axis::x);
  jog(Axis::x, 200);
  EXPECT_NEAR(machine_->true_place(Axis::x) - corrected, 200, 1.5 / 80.37);
}

TEST_F(StandInTest, HomingFindsTheSwitchWithinItsScatter) {
  home();
  for (const Axis a : {Axis::x, Axis::y}) {
    const double per = a == Axis::x ? 80 / 80.37 : 80 / 79.82;
    // The switch was met moving towards it and left again: the slack lies between the two.
    const double expected = link().status().position[a] * per - machine_->scenario().axes[index(a)].lost_motion;
    EXPECT_NEAR(machine_->true_place(a), expected, 4 * 0.004 + 0.013) << letter(a);
    EXPECT_GE(link().status().position[a], 4.9);
  }
  EXPECT_LT(link().status().position.z, -2);
}

TEST_F(StandInTest, LostMotionIsLostOnTurningRoundOnly) {
  Scenario s = demo();
  s.axes[0].lost_motion = 0.4;
  s.axes[0].true_steps_per_mm = 80;
  start(s);
  home();
  jog(Axis::x, 100);
  const double there = machine_->true_place(Axis::x);
  jog(Axis::x, -50);
  EXPECT_NEAR(there - machine_->true_place(Axis::x), 49.6, 0.02);
  const double back = machine_->true_place(Axis::x);
  jog(Axis::x, -10);
  EXPECT_NEAR(back - machine_->true_place(Axis::x), 10, 0.02);
}

TEST_F(StandInTest, AgainstAStopTheMotorLosesItsSteps) {
  ASSERT_TRUE(link().set_setting("axis.x.soft_min_mm", -500));
  ASSERT_TRUE(link().set_setting("limits.hard", 0));
  home();
  jog(Axis::x, -60);
  EXPECT_DOUBLE_EQ(machine_->true_place(Axis::x), -3);
  jog(Axis::x, 60);
  EXPECT_GT(machine_->true_place(Axis::x), 50) << "steps were lost: it does not come back to where it was";
}

TEST_F(StandInTest, LimitsRefuseBeforeAnythingMoves) {
  home();
  const auto at = link().status().position;
  EXPECT_EQ(link().jog(Axis::x, -20, 1000).error().code, "limit");
  EXPECT_EQ(link().jog(Axis::z, 10, 1000).error().code, "limit");
  EXPECT_EQ(link().jog(Axis::y, 2000, 1000).error().code, "limit");
  machine_->advance(1);
  EXPECT_EQ(link().status().position, at);
  ASSERT_TRUE(link().begin_program());
  EXPECT_EQ(link().send("G1 X900 F500", 1).error().code, "limit");
  EXPECT_EQ(link().send("G2 I50 J0 F500", 2).error().code, "limit") << "the arc's bulge would pass Y's limit";
}

TEST_F(StandInTest, BeforeHomingMovesAreShortAndSlow) {
  EXPECT_EQ(link().status().state, MachineState::not_homed);
  EXPECT_EQ(link().jog(Axis::x, 50, 6000).error().code, "not_homed");
  EXPECT_EQ(link().begin_program().error().code, "not_homed");
  ASSERT_TRUE(link().jog(Axis::x, 5, 6000));
  machine_->advance(0.5);
  EXPECT_EQ(link().status().state, MachineState::moving) << "5 mm take a second at 300 mm/min";
}

TEST_F(StandInTest, HoldStopsWithinTheMachinesDeceleration) {
  home();
  ASSERT_TRUE(link().begin_program());
  ASSERT_TRUE(link().send("G1 X400 F6000", 1));
  link().end_program();
  machine_->advance(1.5);
  const double v = link().status().feed / 60, at = link().status().position.x;
  EXPECT_NEAR(v, 100, 1);
  link().hold();
  machine_->advance(2);
  EXPECT_EQ(link().status().state, MachineState::held);
  const double way = link().status().position.x - at;
  EXPECT_GE(way, v * v / (2 * 400) * 0.98) << "no faster than it can brake";
  EXPECT_LE(way, v * v / (2 * 400) * 1.1 + 0.2);
  link().go_on();
  run();
  EXPECT_NEAR(link().status().position.x, 400, 0.02);
}

TEST_F(StandInTest, TheSameCallsGiveTheSameMoves) {
  const auto once = [] {
    StandIn m(demo());
    EXPECT_TRUE(m.link().home());
    for (int i = 0; i < 2000; ++i) m.advance(0.05);
    EXPECT_TRUE(m.link().jog(Axis::x, 123.4, 5000));
    for (int i = 0; i < 200; ++i) m.advance(0.05);
    m.bench().mark(Axis::x);
    EXPECT_TRUE(m.link().jog(Axis::x, 200, 5000));
    for (int i = 0; i < 200; ++i) m.advance(0.05);
    return std::pair(m.true_place(Axis::x), m.bench().read_distance(Axis::x, "ruler").value());
  };
  EXPECT_EQ(once(), once());
}

TEST_F(StandInTest, AReadingIsWhatAPersonWithThatRulerGets) {
  home();
  MeasuredMove move;
  ASSERT_TRUE(move.start(link(), &machine_->bench(), Axis::x, 500, 6000));
  for (int i = 0; i < 4000 && move.running(); ++i) {
    machine_->advance(0.02);
    move.tick();
  }
  ASSERT_EQ(move.phase(), Procedure::Phase::done) << move.error().message;
  const double truth = 500 * 80 / 80.37;
  double sum = 0, squares = 0;
  constexpr int n = 400;
  for (int i = 0; i < n; ++i) {
    const double r = machine_->bench().read_distance(Axis::x, "ruler").value();
    EXPECT_NEAR(std::remainder(r, 0.5), 0, 1e-9) << "a ruler of 0.5 mm reads halves";
    sum += r;
    squares += (r - truth) * (r - truth);
  }
  EXPECT_NEAR(sum / n, truth, 0.08);
  const double u = std::sqrt(2 * 0.25 / 12 + 0.15 * 0.15);  // two ends rounded, the reader's scatter once
  EXPECT_NEAR(std::sqrt(squares / n), u, 0.05);
  EXPECT_EQ(machine_->bench().read_distance(Axis::y, "ruler").error().code, "no_mark");
  EXPECT_EQ(machine_->bench().read_distance(Axis::x, "laser").error().code, "unknown_instrument");
}

TEST_F(StandInTest, LiftThenGoToZeroNeverCrossesLow) {
  home();
  jog(Axis::x, 300);
  jog(Axis::z, -60);
  ASSERT_TRUE(link().set_work_zero(Axis::x, 100));
  ASSERT_TRUE(link().set_work_zero(Axis::y, 100));
  ASSERT_TRUE(link().set_work_zero(Axis::z, -80));
  const auto way = plan_way_to_zero(link(), -3, 5).value();
  std::string text;
  for (const auto& b : way.blocks) text += b + "\n";
  ProgramRun program;
  ASSERT_TRUE(program.start(link(), text));
  double last_x = link().status().position.x;
  while (program.state() == RunState::running) {
    program.tick();
    machine_->advance(0.005);
    const auto s = link().status();
    if (s.position.x != last_x) {
      EXPECT_GT(s.position.z, -3.01) << "X moved while Z was low";
    }
    last_x = s.position.x;
  }
  EXPECT_EQ(program.state(), RunState::finished);
  EXPECT_NEAR(link().status().position.z, -75, 0.01);
  EXPECT_NEAR(link().status().position.x, 100, 0.02);
  ASSERT_TRUE(link().set_work_zero(Axis::x, 5000));
  EXPECT_EQ(plan_way_to_zero(link(), -3, 5).error().code, "limit");
}

TEST_F(StandInTest, AToolChangeWaitsAndGoesOn) {
  home();
  ASSERT_TRUE(link().begin_program());
  for (const char* block : {"G91 S9000 M3", "G1 X5 F2000", "T2 M6", "G1 X5", "M30"}) ASSERT_TRUE(link().send(block, 1));
  link().end_program();
  for (int i = 0; i < 200; ++i) machine_->advance(0.05);
  EXPECT_EQ(link().status().state, MachineState::tool_change);
  EXPECT_EQ(link().status().wanted_tool, 2);
  EXPECT_EQ(link().status().spindle_rpm, 0);
  link().tool_changed(2);
  run();
  EXPECT_EQ(link().status().tool, 2);
}

TEST_F(StandInTest, AStopInTheProgramWaitsForTheOwner) {
  home();
  ASSERT_TRUE(link().begin_program());
  for (const char* block : {"G91 G1 X5 F2000", "M0", "G1 X5"}) ASSERT_TRUE(link().send(block, 1));
  link().end_program();
  for (int i = 0; i < 100; ++i) machine_->advance(0.05);
  EXPECT_EQ(link().status().state, MachineState::held);
  EXPECT_NE(link().status().message.find("continue"), std::string::npos);
  const double at = link().status().position.x;
  link().go_on();
  run();
  EXPECT_NEAR(link().status().position.x, at + 5, 0.02);
}

TEST_F(StandInTest, WhileItMovesNothingElseIsTaken) {
  home();
  ASSERT_TRUE(link().jog(Axis::x, 300, 3000));
  machine_->advance(0.5);
  EXPECT_EQ(link().jog(Axis::y, 10, 3000).error().code, "busy");
  EXPECT_EQ(link().set_setting("axis.x.steps_per_mm", 81).error().code, "busy");
  EXPECT_EQ(link().set_work_zero(Axis::x, 1).error().code, "busy");
  EXPECT_EQ(link().home().error().code, "busy");
  EXPECT_EQ(link().begin_program().error().code, "busy");
  link().end_jog();
  run();
  EXPECT_LT(link().status().position.x, 60) << "a jog that is ended brakes and stands";
}

TEST_F(StandInTest, HoldEndsHomingAndItIsNotHomed) {
  ASSERT_TRUE(link().home());
  machine_->advance(1);
  link().hold();
  EXPECT_EQ(link().status().state, MachineState::not_homed);
  EXPECT_FALSE(link().status().all_homed());
  EXPECT_FALSE(link().status().message.empty());
  home();
}

TEST_F(StandInTest, FeedOverrideScalesTheTimeAndStaysInItsRange) {
  home();
  const auto time_of = [&](double factor) {
    link().set_feed_override(factor);
    EXPECT_TRUE(link().begin_program());
    EXPECT_TRUE(link().send("G91 G1 X100 F1200", 1));
    EXPECT_TRUE(link().send("G1 X-100", 2));
    link().end_program();
    const double start = machine_->now_s();
    while (link().status().state != MachineState::ready) machine_->advance(0.01);
    return machine_->now_s() - start;
  };
  const double plain = time_of(1);
  EXPECT_NEAR(time_of(0.5) / plain, 2, 0.05);
  link().set_feed_override(99);
  EXPECT_EQ(link().status().feed_override, 2);
  link().set_feed_override(std::nan(""));
  EXPECT_EQ(link().status().feed_override, 2);
}

TEST_F(StandInTest, AbandonBrakesKeepsThePositionAndForgetsTheRest) {
  home();
  ASSERT_TRUE(link().begin_program());
  ASSERT_TRUE(link().send("S8000 M3", 1));
  ASSERT_TRUE(link().send("G1 X300 F6000", 2));
  ASSERT_TRUE(link().send("G1 X20", 3));
  machine_->advance(1);
  link().abandon();
  run();
  EXPECT_TRUE(link().status().all_homed());
  EXPECT_EQ(link().status().spindle_rpm, 0);
  const double place = machine_->true_place(Axis::x);
  machine_->advance(2);
  EXPECT_EQ(machine_->true_place(Axis::x), place);
  EXPECT_EQ(link().send("G1 X1", 4).error().code, "not_running");
}

TEST_F(StandInTest, TheLookAheadIsBounded) {
  home();
  ASSERT_TRUE(link().begin_program());
  int taken = 0;
  while (taken < 100000 && link().send(taken % 2 ? "G1 X20 F500" : "G1 X21 F500", 1)) ++taken;
  EXPECT_LT(taken, 1000);
  EXPECT_EQ(link().send("G1 X20", 1).error().code, "full");
  machine_->advance(2);
  EXPECT_TRUE(link().send("G1 X20", 1)) << "there is room again";
}

TEST_F(StandInTest, SettingsOutliveAPowerDown) {
  ASSERT_TRUE(link().set_setting("axis.y.steps_per_mm", 79.9));
  const std::string memory = machine_->settings();
  start(demo());
  machine_->restore_settings(memory);
  EXPECT_DOUBLE_EQ(link().setting("axis.y.steps_per_mm").value(), 79.9);
  machine_->restore_settings("not json");
  EXPECT_EQ(link().setting("axis.q.steps_per_mm").error().code, "unknown_setting");
  EXPECT_EQ(link().set_setting("axis.x.steps_per_mm", -1).error().code, "out_of_range");
}

TEST_F(StandInTest, WhatMakesItsPositionsMeanAnotherPlaceUnhomesAnAxis) {
  for (const char* what : {"steps_per_mm", "reversed", "home_coordinate_mm"}) {
    home();
    const std::string name = axis_setting(Axis::x, what);
    const double now = link().setting(name).value();
    ASSERT_TRUE(link().set_setting(name, now));
    EXPECT_TRUE(link().status().all_homed()) << name << ": the same again changes nothing";
    ASSERT_TRUE(link().set_setting(name, now == 0 ? 1 : now * 1.01));
    EXPECT_FALSE(link().status().homed[0]) << name;
    EXPECT_TRUE(link().status().homed[1]) << name;
    EXPECT_EQ(link().status().state, MachineState::not_homed);
    EXPECT_NE(link().status().message.find("X was set otherwise"), std::string::npos) << link().status().message;
    EXPECT_EQ(link().jog(Axis::x, 50, 1000).error().code, "not_homed");
    ASSERT_TRUE(link().set_setting(name, now));
  }
  home();
  ASSERT_TRUE(link().set_setting(axis_setting(Axis::x, "accel_mm_s2"), 150));
  EXPECT_TRUE(link().status().all_homed());
}

TEST_F(StandInTest, ADeadSwitchEndsHomingInWords) {
  Scenario s = demo();
  s.axes[0].switch_at = -50;  // behind the stop: it can never be reached
  start(s);
  ASSERT_TRUE(link().home());
  run(900);
  EXPECT_FALSE(link().status().all_homed());
  EXPECT_NE(link().status().message.find("X"), std::string::npos) << link().status().message;
}

// The time estimate and the machine plan with the same look-ahead, but the machine is fed a few blocks at a time.
TEST_F(StandInTest, ARunTakesAboutAsLongAsEstimated) {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/dial-blank.ngc");
  std::stringstream text;
  text << file.rdbuf();
  const std::string dial = text.str();
  home();
  ASSERT_TRUE(link().set_work_zero(Axis::x, 180));
  ASSERT_TRUE(link().set_work_zero(Axis::y, 120));
  ASSERT_TRUE(link().set_work_zero(Axis::z, -90));
  ProgramRun run_it;
  const double begin = machine_->now_s();
  ASSERT_TRUE(run_it.start(link(), dial));
  while (run_it.state() == RunState::running) {
    run_it.tick();
    machine_->advance(0.05);
  }
  ASSERT_EQ(run_it.state(), RunState::finished) << run_it.why();
  const Kinematics k{{{100, 400}, {100, 400}, {25, 200}}};
  const double estimated = estimate_time(read_program(dial).value(), k).total_s, took = machine_->now_s() - begin;
  EXPECT_NEAR(took / estimated, 1, 0.02) << took << " s against " << estimated << " s";
}

TEST(ScenarioFile, BadOnesAreRefused) {
  EXPECT_EQ(read_scenario("{").error().code, "not_json");
  EXPECT_EQ(read_scenario("{}").error().code, "not_a_scenario");
  EXPECT_EQ(read_scenario(R"({"format":"ypsilograph-scenario","version":2})").error().code, "later_version");
  EXPECT_EQ(read_scenario(R"({"format":"ypsilograph-scenario","version":1,"axes":{"X":{"true_steps_per_mm":"x"}}})")
                .error()
                .code,
            "wrong_type");
  EXPECT_EQ(read_scenario(R"({"format":"ypsilograph-scenario","version":1,"axes":{"X":{"true_steps_per_mm":0}}})")
                .error()
                .code,
            "out_of_range");
  EXPECT_TRUE(read_scenario(R"({"format":"ypsilograph-scenario","version":1})")) << "all of it is optional";
}

}  // namespace
}  // namespace ypsi::standin
