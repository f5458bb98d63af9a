// Inputs and directions against machines that are wired wrong.
#include "core/procedures/direction_check.h"
#include "core/procedures/input_watch.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class FirstPowerUp : public StandInTest {
 protected:
  void look() {
    machine_->advance(0.02);
    watch_.see(link().status().inputs);
  }
  void press(InputId input, bool on) {
    switch (input) {
      case InputId::emergency_stop:
        bench().press_emergency_stop(on);
        break;
      case InputId::probe:
        if (on) machine_->plant().short_probe();  // plate and cutter held together
        break;
      default:
        bench().hold_switch(all_axes[static_cast<std::size_t>(input)], on);
    }
    look();
  }
  /// Asks for an input, presses it, lets go, and says so if nothing settled it.
  InputVerdict try_out(InputId input) {
    look();
    watch_.ask(input);
    press(input, true);
    press(input, false);
    if (watch_.asked()) watch_.pressed();
    return watch_[input].verdict;
  }
  InputWatch watch_;
  DirectionCheck check_;
};

TEST_F(FirstPowerUp, ASoundMachinesInputsAreAllSeenOffAndOn) {
  for (const InputId i : {InputId::switch_x, InputId::switch_y, InputId::switch_z, InputId::emergency_stop}) {
    EXPECT_EQ(try_out(i), InputVerdict::works) << input_key(i);
    EXPECT_TRUE(watch_[i].off && watch_[i].on) << input_key(i);
  }
  EXPECT_EQ(watch_.next(), InputId::probe);
  EXPECT_FALSE(watch_.complete());
}

/// Which axes are homed when the first, the second and the third are.
TEST_F(FirstPowerUp, AxesAreHomedInTheirTurn) {
  for (const auto& [turns, first] : {std::pair{std::array{0.0, 0.0, 0.0}, Axis::z}, {{2.0, 1.0, 3.0}, Axis::y}}) {
    start(demo());
    for (const Axis a : all_axes) ASSERT_TRUE(link().set_setting(axis_setting(a, "home_turn"), turns[index(a)]));
    ASSERT_TRUE(link().home());
    std::array<bool, axis_count> homed{};
    for (int i = 0; i < 20000 && homed == std::array<bool, axis_count>{}; ++i) {
      machine_->advance(0.02);
      homed = link().status().homed;
    }
    for (const Axis a : all_axes) EXPECT_EQ(homed[index(a)], a == first) << letter(a);
    run();
    EXPECT_TRUE(link().status().all_homed());
  }
  EXPECT_EQ(link().set_setting("axis.x.home_turn", 4).error().code, "out_of_range");
}

TEST_F(FirstPowerUp, WhatIsWrongIsNamed) {
  wire(Axis::y, Wiring::never);
  EXPECT_EQ(try_out(InputId::switch_y), InputVerdict::stuck_off);
  watch_ = {};
  wire(Axis::x, Wiring::reversed);
  EXPECT_EQ(try_out(InputId::switch_x), InputVerdict::reversed);
  ASSERT_TRUE(link().set_setting(inverting_setting(InputId::switch_x), 1));
  EXPECT_EQ(try_out(InputId::switch_x), InputVerdict::works) << "turned round in the controller";
  watch_ = {};
  Scenario s = demo();
  s.axes[0].wired = s.axes[2].wired = Wiring::swapped;
  start(s);
  EXPECT_EQ(try_out(InputId::switch_x), InputVerdict::swapped);
  EXPECT_EQ(watch_[InputId::switch_x].answered_by, InputId::switch_z);
  EXPECT_EQ(try_out(InputId::switch_y), InputVerdict::works);
  watch_ = {};
  start(demo());
  machine_->plant().jam_switch(Axis::z);
  EXPECT_EQ(try_out(InputId::switch_z), InputVerdict::stuck_on);
  EXPECT_FALSE(watch_.sound());
  EXPECT_EQ(try_out(InputId::probe), InputVerdict::stuck_on) << "it came on and never went off";
}

TEST_F(FirstPowerUp, AnOwnerWhoTouchesAnotherFirstIsNotMisled) {
  look();
  watch_.ask(InputId::switch_x);
  press(InputId::switch_x, true);
  press(InputId::switch_y, true);  // a sleeve brushes Y as well
  press(InputId::switch_y, false);
  press(InputId::switch_x, false);
  EXPECT_EQ(watch_[InputId::switch_x].verdict, InputVerdict::works);
}

TEST_F(FirstPowerUp, AnInvertedAxisIsReversedAndAskedAgain) {
  Scenario s = demo();
  s.axes[2].inverted = true;
  start(s);
  EXPECT_EQ(check_.next(), Axis::z);
  const auto nudge = [&](Axis a) {
    const double before = bench().tool_seen()[index(a)];
    ASSERT_TRUE(check_.nudge(link(), a));
    run();
    const bool as_told = (bench().tool_seen()[index(a)] - before) * check_.way() > 0;
    ASSERT_TRUE(check_.answer(link(), true, as_told));
  };
  nudge(Axis::z);
  EXPECT_TRUE(check_.again());
  EXPECT_FALSE(check_.complete());
  EXPECT_EQ(link().setting("axis.z.reversed").value(), 1);
  nudge(Axis::z);
  EXPECT_EQ(check_[Axis::z].verdict, DirectionVerdict::reversed_now_right);
  nudge(Axis::x);
  nudge(Axis::y);
  EXPECT_TRUE(check_.complete());
  EXPECT_TRUE(check_.sound());
  home();
}

TEST_F(FirstPowerUp, NudgesAreShortSlowAndTurnBackAtALimit) {
  const double start_s = machine_->now_s();
  ASSERT_TRUE(check_.nudge(link(), Axis::x));
  run();
  EXPECT_GT(machine_->now_s() - start_s, 1.1) << "4 mm at 200 mm/min";
  ASSERT_TRUE(check_.answer(link(), false, false));
  EXPECT_EQ(check_[Axis::x].verdict, DirectionVerdict::wrong_axis);
  home();
  ASSERT_TRUE(check_.nudge(link(), Axis::z));
  EXPECT_EQ(check_.way(), -1) << "it stands near the upper limit";
  run();
  bench().press_emergency_stop(true);
  machine_->advance(0.01);
  EXPECT_EQ(check_.nudge(link(), Axis::y).error().code, "stopped");
}

}  // namespace
}  // namespace ypsi::standin
