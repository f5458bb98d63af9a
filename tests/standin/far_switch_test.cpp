// Switches at the far ends: an input of their own, stops that they make, and what homing tells of itself.
#include <cmath>

#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class FarSwitch : public StandInTest {
 protected:
  void start_with(double at) {
    Scenario s = demo();
    s.axes[0].far = SwitchTruth{true, at, 0.003, 0.6, Wiring::ok};
    start(s);
  }
};

TEST_F(FarSwitch, AFingerIsSeenOnItsOwnInput) {
  start_with(810);
  EXPECT_EQ(bench().surroundings().has_far_switch, (std::array<bool, 3>{true, false, false}));
  bench().hold_far_switch(Axis::x, true);
  bench().hold_far_switch(Axis::y, true);  // there is none
  EXPECT_EQ(link().status().inputs.far_switch, (std::array<bool, 3>{true, false, false}));
  EXPECT_EQ(link().status().inputs.home_switch, (std::array<bool, 3>{false, false, false}));
  EXPECT_TRUE(bench().surroundings().far_switch_held[0]);
  EXPECT_FALSE(bench().surroundings().far_switch_held[1]);
  bench().hold_far_switch(Axis::x, false);
  EXPECT_FALSE(link().status().inputs.far_switch[0]);
}

TEST_F(FarSwitch, ItStopsAMoveAndAProgramAndLetsOnlyTheWayBack) {
  start_with(500);  // well inside the soft limits
  home();
  ASSERT_TRUE(link().jog(Axis::x, 600, 6000));
  run();
  auto s = link().status();
  EXPECT_EQ(s.state, MachineState::stopped);
  EXPECT_NE(s.message.find("X's far switch came on"), std::string::npos) << s.message;
  EXPECT_NEAR(machine_->true_place(Axis::x), 500, 0.3);
  EXPECT_FALSE(s.all_homed()) << "a stop at speed loses the place";
  EXPECT_EQ(link().jog(Axis::x, 2, 300).error().code, "limit");
  ASSERT_TRUE(link().jog(Axis::x, -5, 300));
  run();
  EXPECT_FALSE(link().status().inputs.far_switch[0]);
  home();
  ASSERT_TRUE(link().begin_program());
  ASSERT_TRUE(link().send("G21 G90 G1 X550 F6000", 1));
  link().end_program();
  run();
  EXPECT_EQ(link().status().state, MachineState::stopped);
  ASSERT_TRUE(link().jog(Axis::x, -5, 300));
  run();
  home();
  ASSERT_TRUE(link().set_setting("limits.hard", 0));
  ASSERT_TRUE(link().jog(Axis::x, 600, 6000));
  run();
  EXPECT_EQ(link().status().state, MachineState::ready) << "told not to look at its switches";
}

TEST_F(FarSwitch, HomingTellsHowFarFromItsCountItMetTheSwitch) {
  EXPECT_EQ(link().status().homing.count, 0u);
  home();
  EXPECT_EQ(link().status().homing.count, 1u);
  EXPECT_EQ(link().status().homing.shift, MachinePosition{}) << "nothing was counted before";
  machine_->plant().lose_steps(Axis::x, 40);  // half a millimetre
  home();
  EXPECT_EQ(link().status().homing.count, 2u);
  EXPECT_NEAR(std::fabs(link().status().homing.shift.x), 0.5, 0.05);
  EXPECT_LT(std::fabs(link().status().homing.shift.y), 0.05);
  ASSERT_TRUE(link().home());
  machine_->advance(0.5);
  link().stop();
  EXPECT_EQ(link().status().homing.count, 2u) << "one that was ended does not count";
}

TEST_F(FarSwitch, TheScenarioSaysWhereItIsAndRefusesWhatCannotBe) {
  const auto read = [](const char* far) {
    return read_scenario(
        R"({"format":"ypsilograph-scenario","version":1,"axes":{"X":{"stops_mm":[-3,700],"far_switch":)" +
        std::string(far) + "}}}");
  };
  const auto usual = read("{}");
  ASSERT_TRUE(usual) << usual.error().message;
  ASSERT_TRUE(usual->axes[0].far);
  EXPECT_EQ(usual->axes[0].far->at, 698) << "just before the stop";
  EXPECT_TRUE(usual->axes[0].far->at_max);
  EXPECT_FALSE(usual->axes[1].far);
  EXPECT_EQ(read(R"({"at_mm":650,"wired":"never"})")->axes[0].far->wired, Wiring::never);
  EXPECT_EQ(read(R"({"at_mm":"far"})").error().code, "wrong_type");
  EXPECT_FALSE(read(R"({"wired":"swapped"})")) << "an input of its own cannot be another's";
}

}  // namespace
}  // namespace ypsi::standin
