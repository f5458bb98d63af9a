// Lost motion by indicator, from the procedure and the stand-in's own slack.
#include "core/procedures/two_approaches.h"
#include "core/calibration/lost_motion.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class Approaches : public StandInTest {
 protected:
  void wait() {
    for (int i = 0; i < 40000 && two_.waits_for() == WaitsFor::machine; ++i) {
      machine_->advance(0.02);
      two_.tick();
    }
  }
  double reading_at(Axis axis, double place) {
    const auto started = two_.start(link(), axis, place, 4000);
    EXPECT_TRUE(started) << started.error().message;
    wait();
    EXPECT_EQ(two_.stage(), TwoApproaches::Stage::read_plus);
    bench().mark(axis);
    two_.go_on();
    wait();
    EXPECT_EQ(two_.stage(), TwoApproaches::Stage::read_minus);
    const double read = bench().read_distance(axis, "indicator").value();
    two_.go_on();
    return read;
  }
  TwoApproaches two_;
};

TEST_F(Approaches, TheIndicatorFindsTheSlackWithinItsU) {
  for (const double slack : {0.0, 0.05, 0.11, 0.4}) {
    Scenario s = demo();
    s.axes[1].lost_motion = slack;
    start(s);
    home();
    std::vector<TurnRound> turns;
    for (const double place : {60.0, 171.0, 288.0, 411.0, 520.0}) turns.push_back({reading_at(Axis::y, place), 0});
    const auto found = evaluate_lost_motion(turns, s.instruments["indicator"]);
    ASSERT_TRUE(found);
    // The motors stand on whole steps, and both arrivals on the same one.
    EXPECT_NEAR(found->mean, slack, found->U + 1e-9) << slack;
    EXPECT_LT(found->U, 0.006);
  }
}

TEST_F(Approaches, APlaceWithoutRoomOrAMachineThatIsNotReadyIsRefused) {
  EXPECT_EQ(two_.start(link(), Axis::x, 100, 3000).error().code, "not_homed");
  home();
  EXPECT_EQ(two_.start(link(), Axis::x, 6, 3000).error().code, "limit");
  EXPECT_EQ(two_.start(link(), Axis::x, 807, 3000).error().code, "limit");
  EXPECT_EQ(two_.start(link(), Axis::x, std::nan(""), 3000).error().code, "limit");
  ASSERT_TRUE(link().jog(Axis::x, 50, 1000));
  EXPECT_EQ(two_.start(link(), Axis::x, 100, 3000).error().code, "busy");
}

TEST_F(Approaches, AMoveThatWasEndedIsNoReading) {
  home();
  ASSERT_TRUE(two_.start(link(), Axis::x, 400, 3000));
  machine_->advance(1);
  link().hold();
  machine_->advance(2);
  two_.tick();
  EXPECT_EQ(two_.phase(), Procedure::Phase::failed);
  EXPECT_NE(two_.error().message.find("nothing was measured"), std::string::npos);
}

}  // namespace
}  // namespace ypsi::standin
