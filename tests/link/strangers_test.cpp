// What is not believed, who is not taken, who starts anew, and what goes along.
#include <cmath>
#include <fstream>
#include <random>
#include <thread>

#include "link/in_process.h"
#include "link/messages.h"
#include "link_fixture.h"

namespace ypsi::link {
namespace {

/// Changes what a controller says, as JSON, and gives it the checksum of what it says then.
Mangle lying(const std::function<void(json&)>& lie) {
  return [lie](const std::string& bytes) {
    std::string out;
    UpDecoder decoder;
    for (const std::string& text : decoder.feed(bytes)) {
      json said = json::parse(text);
      lie(said);
      out += up_line(said.dump());
    }
    return out;
  };
}

TEST_F(LinkTest, WhatNoMachineCanBeIsNotBelieved) {
  open();
  home();
  const MachinePosition at = client_->status().position;
  line_->up = lying([](json& said) {
    if (said.contains("state")) said["state"]["machine_mm"][0] = -1e9;
  });
  pass(0.5);
  EXPECT_EQ(client_->status().position, at) << "it is passed over like a line that was garbled";
  for (const auto& [name, value] : {std::pair{"axis.x.accel_mm_s2", 1e-308},
                                    {"axis.x.soft_min_mm", -1e9},
                                    {"axis.x.steps_per_mm", 0.0},
                                    {"axis.x.max_rate_mm_min", -5.0},
                                    {"axis.x.reversed", 7.0}}) {
    line_->up = lying([name = name, value = value](json& said) {
      if (said.contains("answer") && said.contains("value")) said["value"][name] = value;
    });
    open();
    const auto told = client_->setting(name);
    ASSERT_FALSE(told) << name;
    EXPECT_EQ(told.error().code, "unbelievable") << told.error().message;
  }
}

TEST_F(LinkTest, AnAnswerToWhatWasNotAskedChangesNothing) {
  open();
  line_->up = [](const std::string& bytes) {
    return bytes + up_line(R"({"answer":99,"value":3})") + up_line(R"({"answer":0,"value":3})") +
           up_line(R"({"done":4000000,"credits":9})");
  };
  EXPECT_GT(client_->setting("axis.x.steps_per_mm").value(), 3);
  pass(0.5);
  EXPECT_TRUE(client_->wire().up());
}

TEST_F(LinkTest, WithoutTheTokenNobodyIsTakenAndWhoIsConnectedDoesNotNotice) {
  machine_->require_token("k3y");
  EXPECT_NE(client_->open(0.5).error().message.find("token"), std::string::npos);
  client_->set_token("k3y");
  open();
  home();
  ASSERT_TRUE(client_->jog(Axis::x, 50, 600));
  machine_->receive("\n" + down_line(0, R"({"hello":{"link":2,"name":"a web page"}})"));
  machine_->receive("\n" + down_line(0, R"({"hello":{"link":2,"name":"a web page","token":"guess"}})"));
  pass(0.2);
  EXPECT_EQ(client_->status().state, MachineState::moving);
  EXPECT_TRUE(client_->wire().up());
}

/// The two clocks are compared by the hello: one that came before this end had looked at its clock says nothing.
TEST(Server, WhatFollowsAHelloBeforeTheFirstPollIsNotLate) {
  auto machine = standin::ServedMachine::from_scenario(demo_scenario()).value();
  const auto say = [&](std::uint32_t number, const std::string& payload) {
    machine->receive(down_line(number, payload));
  };
  say(0, R"({"hello":{"link":2,"name":"a host","at":86400}})");
  machine->poll(90000);
  say(1, R"({"do":"settings","at":86400.1,"within_s":2})");
  EXPECT_EQ(machine->take_output().find("\"late\""), std::string::npos);
  machine->poll(90003);
  say(2, R"({"do":"settings","at":86400.2,"within_s":2})");
  EXPECT_NE(machine->take_output().find("\"late\""), std::string::npos);
}

TEST_F(LinkTest, AHostThatStartsAnewStopsWhatRan) {
  open();
  home();
  ASSERT_TRUE(client_->begin_program());
  ASSERT_TRUE(client_->send("G1 X500 F2000", 2));
  pass(1);
  open();
  pass(1);
  EXPECT_EQ(client_->status().state, MachineState::stopped);
}

TEST_F(LinkTest, ControllersThatStartAgainSayHelloAgain) {
  std::string scenario = demo_scenario();
  scenario.insert(scenario.rfind('}'), R"(,"faults":[{"at_s":100,"kind":"brownout"}])");
  start(scenario);
  open();
  home();
  EXPECT_EQ(client_->wire().identity().boot, 1u);
  line_->machine_speed = 20;
  pass(2);
  EXPECT_EQ(client_->wire().identity().boot, 2u);
  EXPECT_EQ(client_->status().state, MachineState::not_homed);
  EXPECT_EQ(client_->wire().greetings(), 2u) << "greeted anew, since it counts from 1 again";
  home();
}

// Nobody looked at the machine for a while; then something was asked of it before the next look. What is asked after
// that is not late for it.
TEST_F(LinkTest, AComputerThatStoodStillForAWhileIsNotLateEverAfter) {
  client_ = std::make_unique<Client>(std::make_unique<InProcess>(*machine_, "a machine in this process"));
  open();
  std::this_thread::sleep_for(std::chrono::duration<double>(request_holds_s + 0.2));
  EXPECT_TRUE(client_->spot("A"));
  machine_->poll(client_->wire().now_s());
  const auto spotted = client_->spot("B");
  EXPECT_TRUE(spotted) << spotted.error().message;
}

TEST_F(LinkTest, TheBenchReadsThroughTheSameLine) {
  open();
  home();
  client_->mark(Axis::x);
  line_->machine_speed = 20;
  ASSERT_TRUE(client_->jog(Axis::x, 100, 6000));
  pass(1);
  EXPECT_NEAR(read([&] { return client_->read_distance(Axis::x, "ruler"); }).value(), 99.5, 1.2);
  EXPECT_EQ(read([&] { return client_->read_distance(Axis::x, "laser"); }).error().code, "unknown_instrument");
  client_->set_clip(false);
  client_->hold_switch(Axis::y, true);
  client_->lay_plate(PlatePlace::on_corner);
  client_->lay_clamp(200, 100);
  pass(0.1);
  Surroundings s = client_->surroundings();
  EXPECT_FALSE(s.clip_on);
  EXPECT_TRUE(s.switch_held[1]);
  EXPECT_EQ(s.plate, PlatePlace::on_corner);
  ASSERT_EQ(s.clamps.size(), 1u);
  EXPECT_NEAR(s.clamps[0][0], 200, 1);
  EXPECT_TRUE(client_->status().inputs.home_switch[1]);
  EXPECT_TRUE(client_->stock_seen());
  EXPECT_GT(client_->gap_seen(), 10);
  EXPECT_EQ(client_->put_tool(99).error().code, "unknown_tool");
  EXPECT_TRUE(client_->spot("A"));
  EXPECT_NEAR(read([&] { return client_->read_between("A", "A", "ruler"); }).value(), 0, 1);
  EXPECT_EQ(read([&] { return client_->measure({}, "caliper"); }).error().code, "no_feature");
  EXPECT_TRUE(read([&] { return client_->read_sweep(100, 30, "indicator"); }));
  EXPECT_TRUE(read([&] { return client_->read_blade(Axis::y, 100, true, "indicator"); }));
  EXPECT_EQ(read([&] { return client_->read_blade(Axis::z, 100, true, "indicator"); }).error().code, "out_of_range");
  EXPECT_TRUE(read([&] { return client_->read_square(200, true, "indicator"); }));
  EXPECT_EQ(client_->pointer_from("A", 5).error().code, "not_seen");
  EXPECT_NEAR(client_->pointer_from("A", 50).value()[0], -42.3, 0.2);
  client_->move_rail_end(RailEnd::right, 0.5);
  client_->take_clamps_away();
  EXPECT_TRUE(client_->setter_seen()) << "the demo has one";
  // Both ways together are the axis between its stops: 3 mm and 817 mm from the switch.
  EXPECT_NEAR(read([&] { return client_->read_free_way(Axis::x, true, "ruler"); }).value() +
                  read([&] { return client_->read_free_way(Axis::x, false, "ruler"); }).value(),
              820, 2.5);
  client_->lay_fresh_stock();
  client_->adjust_nut(Axis::x);
  client_->press_emergency_stop(true);
  pass(0.1);
  EXPECT_EQ(client_->status().state, MachineState::emergency_stop);
}

TEST_F(LinkTest, ARequestOfAnotherShapeIsAnsweredAndHarmless) {
  open();
  Wire& wire = client_->wire();
  for (const char* bad :
       {"{}", R"({"do":7})", R"({"do":"fly"})", R"({"do":"jog","axis":"q","distance_mm":1,"rate_mm_min":1})",
        R"({"do":"jog","axis":"x","distance_mm":"far","rate_mm_min":1})", R"({"do":"set","name":"axis.x.reversed"})",
        R"({"do":"jog","axis":"x","distance_mm":1e300,"rate_mm_min":1})", R"({"do":"put_tool","tool":1e99})",
        R"({"do":"plate","place":"moon"})", R"({"do":"get","name":"axis.x.)"}) {
    const auto asked = wire.ask(json::parse(bad, nullptr, false).is_discarded() ? json(bad) : json::parse(bad));
    std::optional<Result<json>> answer;
    for (int i = 0; i < 100 && !(answer = wire.answer_to(asked)); ++i) pass(0.01);
    ASSERT_TRUE(answer) << bad;
    EXPECT_FALSE(*answer) << bad;
  }
  EXPECT_TRUE(wire.up());
  EXPECT_EQ(client_->status().state, MachineState::not_homed);
}

TEST_F(LinkTest, FarSwitchesAndWhatHomingFoundGoAlong) {
  json scenario = json::parse(demo_scenario());
  scenario["axes"]["Y"]["far_switch"] = {{"at_mm", 590}};
  start(scenario.dump());
  open();
  EXPECT_EQ(client_->status().homing.count, 0u);
  home();
  EXPECT_EQ(client_->status().homing.count, 1u);
  home();
  EXPECT_EQ(client_->status().homing.count, 2u);
  EXPECT_LT(std::fabs(client_->status().homing.shift.x), 0.1);
  client_->hold_far_switch(Axis::y, true);
  pass(0.1);
  EXPECT_EQ(client_->status().inputs.far_switch, (std::array<bool, 3>{false, true, false}));
  EXPECT_EQ(client_->surroundings().has_far_switch, (std::array<bool, 3>{false, true, false}));
  EXPECT_TRUE(client_->surroundings().far_switch_held[1]);
  client_->tool_changed(3);
  pass(0.1);
  EXPECT_EQ(client_->status().tool, 3) << "put in by hand while it stands";
}

TEST(Messages, AControllerWithoutFarSwitchesLeavesThemOut) {
  MachineStatus status;
  status.inputs.far_switch = {true, true, true};
  status.homing = {4, {0.1, 0.2, 0.3}};
  json sent = to_json(status);
  EXPECT_EQ(status_from(sent).homing, status.homing);
  EXPECT_EQ(status_from(sent).inputs, status.inputs);
  sent.erase("homing");
  sent["inputs"].erase("far");
  const MachineStatus read = status_from(sent);
  EXPECT_EQ(read.homing, HomingFound{});
  EXPECT_EQ(read.inputs.far_switch, (std::array<bool, 3>{}));
}

}  // namespace
}  // namespace ypsi::link
