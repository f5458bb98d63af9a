// Travel measured to a switch at the far end, limits proved by refusal: what is wrong is found before a stop is met.
#include "core/procedures/travel.h"

#include <cmath>

#include "core/calibration/limits.h"
#include "core/idle_link.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class Travel : public StandInTest {
 protected:
  void start_with_far_switch(Wiring wired, double at = 810) {
    Scenario s = demo();
    s.axes[0].far = SwitchTruth{false, at, 0.004, 0.6, wired};
    s.axes[0].far->at_max = true;
    start(s);
    home();
    machine_->plant().hold_far_switch(Axis::x, false);
  }
  /// Presses the switch by hand as it is asked for, and lets the search run.
  void search(double travel) {
    const auto started = search_.start(link(), Axis::x, travel);
    ASSERT_TRUE(started) << started.error().message;
    bench().hold_far_switch(Axis::x, true);
    tick(0.2);
    bench().hold_far_switch(Axis::x, false);
    for (int i = 0; i < 40000 && search_.running(); ++i) tick(0.02);
  }
  void tick(double seconds) {
    machine_->advance(seconds);
    search_.tick();
    reached_ = std::max(reached_, machine_->true_place(Axis::x));
  }
  double setting(std::string_view name) { return link().setting(name).value(); }
  FarSwitchSearch search_;
  double reached_ = 0;
};

TEST_F(Travel, TheFarSwitchIsFoundAtASlowRateAndTheMachineHomesAgain) {
  for (const double at : {780.0, 810.0, 815.5}) {
    start_with_far_switch(Wiring::ok, at);
    search(820.5);  // by its own count of steps
    ASSERT_EQ(search_.phase(), Procedure::Phase::done) << search_.error().message;
    // The controller counts 80 steps to its millimetre, the carriage needs 80.37.
    EXPECT_NEAR(search_.far_end(), at * 80.37 / 80, 0.15);
    EXPECT_EQ(setting("axis.x.soft_max_mm"), 808) << "as it was found";
    EXPECT_TRUE(link().status().all_homed());
    EXPECT_LT(reached_, machine_->scenario().axes[0].stop_high - 0.5) << "no stop was met";
  }
}

TEST_F(Travel, AFarSwitchThatNeverTriggersIsFoundBeforeTheStop) {
  start_with_far_switch(Wiring::never);
  const auto before = link().status().position;
  ASSERT_TRUE(search_.start(link(), Axis::x, 820));
  bench().hold_far_switch(Axis::x, true);
  for (int i = 0; i < 50; ++i) tick(0.1);
  EXPECT_EQ(search_.stage(), FarSwitchSearch::Stage::press) << "it waits for the owner's finger, and nothing moves";
  EXPECT_EQ(link().status().position, before);
  search_.cancel();
  EXPECT_EQ(search_.phase(), Procedure::Phase::failed);

  // One that answers the finger but is not met by the carriage: the way ends where the book says the stop is.
  start_with_far_switch(Wiring::ok, 860);
  search(816.5);
  ASSERT_EQ(search_.phase(), Procedure::Phase::failed);
  EXPECT_EQ(search_.error().code, "no_switch");
  EXPECT_NE(search_.error().message.find("never came"), std::string::npos) << search_.error().message;
  EXPECT_LT(reached_, machine_->scenario().axes[0].stop_high);
  EXPECT_EQ(setting("axis.x.soft_max_mm"), 808);
  EXPECT_TRUE(link().status().all_homed());
}

TEST_F(Travel, WrongStartsMoveNothing) {
  EXPECT_EQ(search_.start(link(), Axis::x, 800).error().code, "not_homed");
  start_with_far_switch(Wiring::reversed);
  EXPECT_EQ(search_.start(link(), Axis::x, 800).error().code, "on_at_rest");
  start_with_far_switch(Wiring::ok);
  EXPECT_EQ(search_.start(link(), Axis::x, -5).error().code, "out_of_range");
  EXPECT_EQ(search_.start(link(), Axis::x, std::nan("")).error().code, "out_of_range");
  ASSERT_TRUE(link().set_setting("limits.hard", 0));
  EXPECT_EQ(search_.start(link(), Axis::x, 800).error().code, "unguarded");
}

TEST_F(Travel, HoldEndsTheSearchAndPutsTheLimitBack) {
  start_with_far_switch(Wiring::ok);
  ASSERT_TRUE(search_.start(link(), Axis::x, 818));
  bench().hold_far_switch(Axis::x, true);
  tick(0.2);
  bench().hold_far_switch(Axis::x, false);
  for (int i = 0; i < 100; ++i) tick(0.1);
  ASSERT_EQ(search_.stage(), FarSwitchSearch::Stage::creeping);
  EXPECT_GT(setting("axis.x.soft_max_mm"), 808);
  search_.cancel();
  for (int i = 0; i < 100; ++i) tick(0.1);
  EXPECT_EQ(search_.phase(), Procedure::Phase::failed);
  EXPECT_EQ(setting("axis.x.soft_max_mm"), 808);
  EXPECT_TRUE(link().status().all_homed()) << "a hold loses no place";
}

TEST_F(Travel, ALiftedLimitIsPutBackAndNeverLowered) {
  home();
  LiftedLimit limit;
  ASSERT_TRUE(limit.start(link(), Axis::z, 111));
  EXPECT_EQ(limit.farthest(), -111);
  EXPECT_EQ(setting("axis.z.soft_min_mm"), -111);
  EXPECT_EQ(limit.waits_for(), WaitsFor::act) << "the owner brings it to its end";
  limit.cancel();
  EXPECT_FALSE(limit.running());
  EXPECT_EQ(setting("axis.z.soft_min_mm"), -108);
  ASSERT_TRUE(limit.start(link(), Axis::z, 50));
  EXPECT_EQ(setting("axis.z.soft_min_mm"), -108) << "nearer than the limit: left as it is";
  limit.cancel();
  limit.cancel();  // nothing to put back
  EXPECT_EQ(setting("axis.z.soft_min_mm"), -108);
}

TEST_F(Travel, LimitsAreProvedByAMoveThatIsRefused) {
  LimitProof proof;
  EXPECT_EQ(proof.start(link(), Axis::x, 0, 100).error().code, "not_homed");
  home();
  const auto before = link().status().position;
  for (const Axis a : all_axes) {
    const double low = setting(axis_setting(a, "soft_min_mm")), high = setting(axis_setting(a, "soft_max_mm"));
    ASSERT_TRUE(proof.start(link(), a, low + 1, high - 1));
    while (proof.running()) proof.tick();
    EXPECT_EQ(proof.phase(), Procedure::Phase::done) << proof.error().message;
    EXPECT_EQ(setting(axis_setting(a, "soft_min_mm")), low) << "what was lent is back";
    EXPECT_EQ(setting(axis_setting(a, "soft_max_mm")), high);
  }
  EXPECT_EQ(link().status().position, before);
  EXPECT_EQ(link().status().state, MachineState::ready);
}

/// A controller that takes every move.
class Careless final : public IdleLink {
 public:
  Result<double> setting(std::string_view name) const override { return name.find("min") != name.npos ? -10 : 10; }
  Result<void> jog(Axis, double, double) override { return ++moves, Result<void>(); }
  void end_jog() override { ++ended; }
  int moves = 0, ended = 0;
};

TEST_F(Travel, AControllerThatTakesAMoveBeyondItsLimitIsNamedAndStopped) {
  Careless careless;
  LimitProof proof;
  ASSERT_TRUE(proof.start(careless, Axis::y, -10, 10));
  while (proof.running()) proof.tick();
  EXPECT_EQ(proof.error().code, "not_refused");
  EXPECT_NE(proof.error().message.find("beyond its limit at -10.0"), std::string::npos) << proof.error().message;
  EXPECT_EQ(careless.moves, 1);
  EXPECT_EQ(careless.ended, 1);
}

// The approach is checked before it is made: with the rate that is named as the largest safe one the carriage stops
// behind its switch with room to spare, above it the stand-in is at its stop.
TEST_F(Travel, TheLargestSafeApproachStopsBeforeTheStopAndAFasterOneDoesNot) {
  const auto left_behind = [&](double seek) {
    Scenario s = demo();
    s.axes[0].stop_low = -1;  // one millimetre behind the switch
    s.controller[0].max_rate = 20000;
    s.controller[0].home_seek = seek;
    start(s);
    double lowest = 1e9;
    EXPECT_TRUE(link().home());
    for (int i = 0; i < 200000 && link().status().state == MachineState::moving; ++i) {
      machine_->advance(0.002);
      lowest = std::min(lowest, machine_->true_place(Axis::x));
    }
    return lowest - s.axes[0].stop_low;
  };
  LimitsInput in;
  in.travel = 800;
  in.overtravel_home = 1;
  in.seek_rate = in.unguarded_rate = in.max_rate = 6000;
  in.acceleration = 400;
  in.latency = 0.002;
  const double safe = evaluate_limits(in).max_safe_seek;
  EXPECT_GT(left_behind(safe * 0.97), 0.0);
  EXPECT_NEAR(left_behind(safe * 1.3), 0.0, 1e-9) << "the stop was hit: this is what the sheet warns of";
}

}  // namespace
}  // namespace ypsi::standin
