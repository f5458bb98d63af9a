// Procedures against a scripted machine: what they send, and what they do when it refuses, faults or stands still.
#include <gtest/gtest.h>

#include <deque>

#include "core/idle_link.h"
#include "core/procedures/go_to_zero.h"
#include "core/procedures/measured_move.h"
#include "core/procedures/run_program.h"
#include "core/quiet_bench.h"

namespace ypsi {
namespace {

/// Takes what it is sent at once; a test says how it answers.
class ScriptedMachine final : public IdleLink, public QuietBench {
 public:
  std::vector<std::string> sent;
  std::vector<std::pair<Axis, double>> jogs;
  std::size_t room = 1000;
  std::string refuse;  ///< code with which the next block is refused
  bool began = false, ended = false, abandoned = false, arrives = true;
  int marks = 0;

  ScriptedMachine() {
    now.position = {100, 100, -10};
    now.work_zero = {50, 60, -40};
  }
  Result<double> setting(std::string_view name) const override {
    if (name.ends_with("soft_min_mm")) return name[5] == 'z' ? -100.0 : 0.0;
    if (name.ends_with("soft_max_mm")) return name[5] == 'z' ? -2.0 : 500.0;
    return fail("unknown_setting", "There is no such setting.");
  }
  Result<void> jog(Axis axis, double distance, double) override {
    if (!refuse.empty()) return fail(refuse, "Refused.");
    jogs.emplace_back(axis, distance);
    if (arrives) now.position[axis] += distance;
    return {};
  }
  Result<void> begin_program() override {
    if (now.state != MachineState::ready) return fail("busy", "It moves.");
    began = true;
    now.state = MachineState::moving;
    return {};
  }
  Result<void> send(std::string_view block, std::uint32_t tag) override {
    if (sent.size() >= room) return fail("full", "Later.");
    if (!refuse.empty()) return fail(refuse, "Line 2: X would reach too far.");
    sent.emplace_back(block);
    now.block_in_hand = tag;
    return {};
  }
  void end_program() override { ended = true; }
  void hold() override { now.state = MachineState::held; }
  void abandon() override { abandoned = true; }
  void mark(Axis) override { ++marks; }
};

const std::string three_lines = "G21\nG1 X1 F100\nX2\n";

TEST(ProgramRun, FeedsAsMuchAsTheLookAheadTakesAndThenTheRest) {
  ScriptedMachine machine;
  machine.room = 2;
  ProgramRun run;
  ASSERT_TRUE(run.start(machine, three_lines));
  run.tick();
  EXPECT_EQ(machine.sent.size(), 2u);
  EXPECT_FALSE(machine.ended);
  EXPECT_EQ(run.state(), RunState::running);
  machine.room = 10;
  run.tick();
  EXPECT_EQ(machine.sent, (std::vector<std::string>{"G21", "G1 X1 F100", "X2"}));
  EXPECT_TRUE(machine.ended);
  EXPECT_EQ(run.line_in_hand(), 3u);
  machine.now.state = MachineState::ready;
  run.tick();
  EXPECT_EQ(run.state(), RunState::finished);
}

TEST(ProgramRun, ARefusedBlockEndsItWithTheReason) {
  ScriptedMachine machine;
  ProgramRun run;
  ASSERT_TRUE(run.start(machine, three_lines));
  machine.refuse = "limit";
  run.tick();
  EXPECT_EQ(run.state(), RunState::failed);
  EXPECT_TRUE(machine.abandoned) << "the machine must not go on with what it has";
  EXPECT_NE(run.why().find("Line 2"), std::string::npos);
}

TEST(ProgramRun, AFaultOfTheMachineEndsIt) {
  for (const MachineState fault :
       {MachineState::emergency_stop, MachineState::stopped, MachineState::offline, MachineState::not_homed}) {
    ScriptedMachine machine;
    ProgramRun run;
    ASSERT_TRUE(run.start(machine, three_lines));
    machine.now.state = fault;
    machine.now.message = "The emergency stop was pressed.";
    run.tick();
    EXPECT_EQ(run.state(), RunState::failed);
    EXPECT_EQ(run.why(), machine.now.message);
  }
}

TEST(ProgramRun, HoldAndToolChangeAreNoEnd) {
  for (const MachineState pause : {MachineState::held, MachineState::tool_change, MachineState::cutting}) {
    ScriptedMachine machine;
    ProgramRun run;
    ASSERT_TRUE(run.start(machine, three_lines));
    machine.now.state = pause;
    run.tick();
    EXPECT_EQ(run.state(), RunState::running);
  }
}

TEST(ProgramRun, MayStartAtALaterLineAndNotOnABusyMachine) {
  ScriptedMachine machine;
  ProgramRun run;
  ASSERT_TRUE(run.start(machine, three_lines, 3));
  run.tick();
  EXPECT_EQ(machine.sent, std::vector<std::string>{"X2"});
  EXPECT_EQ(run.line_in_hand(), 3u);
  ProgramRun second;
  EXPECT_EQ(second.start(machine, three_lines).error().code, "busy");
  EXPECT_EQ(second.state(), RunState::idle);
  run.abandon();
  EXPECT_EQ(run.state(), RunState::abandoned);
  EXPECT_TRUE(machine.abandoned);
}

TEST(MeasuredMove, TakesUpTheSlackThenMarksThenMoves) {
  ScriptedMachine machine;
  MeasuredMove move;
  ASSERT_TRUE(move.start(machine, &machine, Axis::x, 300, 6000));
  for (int i = 0; i < 5; ++i) move.tick();
  EXPECT_EQ(move.phase(), Procedure::Phase::done);
  ASSERT_EQ(machine.jogs.size(), 2u);
  EXPECT_EQ(machine.jogs[0].second, take_up_mm) << "there is room ahead: it starts where it stands";
  EXPECT_EQ(machine.jogs[1].second, 300);
  EXPECT_EQ(machine.marks, 1);
}

TEST(MeasuredMove, GoesBackWhereThereIsNoRoomAhead) {
  ScriptedMachine machine;
  machine.now.position.x = 400;
  MeasuredMove move;
  ASSERT_TRUE(move.start(machine, &machine, Axis::x, 300, 6000));
  EXPECT_DOUBLE_EQ(machine.jogs[0].second, 500 - 303 - 400);
  machine.now.position = {100, 100, -10};
  MeasuredMove down;
  ASSERT_TRUE(down.start(machine, &machine, Axis::z, -80, 600));
  for (int i = 0; i < 5; ++i) down.tick();
  EXPECT_EQ(machine.jogs.back(), std::pair(Axis::z, -80.0));
  EXPECT_EQ(machine.jogs[machine.jogs.size() - 2].second, -take_up_mm) << "in the direction it is measured";
}

TEST(MeasuredMove, RefusesWhatDoesNotFitAndEndsWhenItWasStopped) {
  ScriptedMachine machine;
  MeasuredMove move;
  EXPECT_EQ(move.start(machine, &machine, Axis::x, 499, 6000).error().code, "limit");
  EXPECT_EQ(move.start(machine, &machine, Axis::x, 0, 6000).error().code, "out_of_range");
  machine.now.homed[0] = false;
  EXPECT_EQ(move.start(machine, &machine, Axis::x, 100, 6000).error().code, "not_homed");
  machine.now.homed[0] = true;
  machine.now.state = MachineState::held;
  EXPECT_EQ(move.start(machine, &machine, Axis::x, 100, 6000).error().code, "busy");
  EXPECT_TRUE(machine.jogs.empty()) << "nothing has moved";
  machine.now.state = MachineState::ready;
  ASSERT_TRUE(move.start(machine, &machine, Axis::x, 100, 6000));
  machine.arrives = false;  // a hold ends each jog short of its end
  for (int i = 0; i < 5; ++i) move.tick();
  EXPECT_EQ(move.phase(), Procedure::Phase::failed);
  EXPECT_EQ(move.error().code, "stopped");
}

TEST(WayToZero, LiftsFirstAndNeverLowersOnTheWay) {
  ScriptedMachine machine;
  const auto way = plan_way_to_zero(machine, -5, 3).value();
  ASSERT_EQ(way.blocks.size(), 3u);
  EXPECT_EQ(way.blocks[0], "G90 G21 G0 Z35.0000") << "machine -5 is work 35";
  EXPECT_EQ(way.blocks[1], "G0 X0 Y0");
  EXPECT_EQ(way.blocks[2], "G0 Z3.0000");
  machine.now.position.z = -3;  // already higher than the safe height
  EXPECT_DOUBLE_EQ(plan_way_to_zero(machine, -5, 3)->safe_z, -3);
  EXPECT_DOUBLE_EQ(plan_way_to_zero(machine, 50, 3)->safe_z, -2) << "never beyond the limit";
}

TEST(WayToZero, IsRefusedInWordsWhereItCannotGo) {
  ScriptedMachine machine;
  machine.now.work_zero.x = 600;
  EXPECT_EQ(plan_way_to_zero(machine, -5, 3).error().code, "limit");
  machine.now.work_zero = {50, 60, -4};
  EXPECT_EQ(plan_way_to_zero(machine, -20, 3).error().code, "limit");
  machine.now.work_zero.z = -40;
  machine.now.state = MachineState::cutting;
  EXPECT_EQ(plan_way_to_zero(machine, -5, 3).error().code, "busy");
  machine.now.homed[2] = false;
  EXPECT_EQ(plan_way_to_zero(machine, -5, 3).error().code, "not_homed");
}

}  // namespace
}  // namespace ypsi
