// Homing repeated at the stand-in: what the procedure reports is the scatter of the switches.
#include "core/procedures/homing_repeat.h"

#include <cmath>

#include "core/calibration/homing.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class Repeat : public StandInTest {
 protected:
  void start_with(double switch_s) {
    Scenario s = demo();
    for (auto& a : s.axes) {
      a.switch_s = switch_s;
      a.lost_motion = 0;
    }
    start(s);
    home();
  }
  void wait() {
    for (int i = 0; i < 100000 && repeat_.waits_for() == WaitsFor::machine; ++i) {
      machine_->advance(0.02);
      repeat_.tick();
    }
  }
  HomingRepeat repeat_;
};

TEST_F(Repeat, TheSwitchesTellTheirOwnScatterOnEveryAxis) {
  for (const double s : {0.004, 0.03}) {
    start_with(s);
    HomingRepeatWay way;
    way.trials = 40;
    ASSERT_TRUE(repeat_.start(link(), way));
    wait();
    ASSERT_EQ(repeat_.phase(), Procedure::Phase::done) << repeat_.error().message;
    ASSERT_EQ(repeat_.met().size(), 40u);
    EXPECT_EQ(repeat_.met()[0].x, 0) << "told against the first";
    for (const Axis a : all_axes) {
      std::vector<double> places;
      for (const auto& p : repeat_.met()) places.push_back(p[a]);
      const auto found = evaluate_homing(places, 0.05, 1.0 / 80);
      ASSERT_TRUE(found);
      // chi-squared of 39 degrees of freedom: s within 0.7 to 1.35 of the truth at 99.9 %, a step's rounding apart
      EXPECT_GT(found->s, 0.7 * s - 0.004) << letter(a);
      EXPECT_LT(found->s, 1.35 * s + 0.004) << letter(a);
    }
  }
}

TEST_F(Repeat, AnIndicatorReadsTheSameScatterAfterTheSameApproach) {
  start_with(0.02);
  HomingRepeatWay way;
  way.trials = 25;
  way.indicator_axis = Axis::x;
  way.indicator_at = 60;
  ASSERT_TRUE(repeat_.start(link(), way));
  std::vector<double> read;
  while (repeat_.running()) {
    wait();
    if (repeat_.waits_for() != WaitsFor::reading) break;
    EXPECT_NEAR(link().status().position.x, 60, 0.01);
    if (read.empty()) bench().mark(Axis::x);
    read.push_back(bench().read_distance(Axis::x, "indicator").value());
    repeat_.go_on();
  }
  ASSERT_EQ(repeat_.phase(), Procedure::Phase::done) << repeat_.error().message;
  ASSERT_EQ(read.size(), 25u);
  const auto by_indicator = evaluate_homing(read, 0.05, 0.001);
  EXPECT_GT(by_indicator->s, 0.6 * 0.02);
  EXPECT_LT(by_indicator->s, 1.5 * 0.02);
  // The carriage stands where the switch was met: both ways see the same trials.
  for (std::size_t i = 0; i < read.size(); ++i) EXPECT_NEAR(read[i] - read[0], repeat_.met()[i].x, 0.02);
}

TEST_F(Repeat, WrongStartsAreRefusedAndAnEndedHomingKeepsWhatWasFound) {
  HomingRepeatWay way;
  EXPECT_EQ(repeat_.start(link(), way).error().code, "not_homed");
  home();
  way.trials = 4;
  EXPECT_EQ(repeat_.start(link(), way).error().code, "out_of_range");
  way.trials = 6;
  way.indicator_axis = Axis::x;
  way.indicator_at = 5;
  EXPECT_EQ(repeat_.start(link(), way).error().code, "limit") << "no room for the run-up";
  way.indicator_at = std::nan("");
  EXPECT_EQ(repeat_.start(link(), way).error().code, "limit");
  way.indicator_axis.reset();
  ASSERT_TRUE(repeat_.start(link(), way));
  for (int i = 0; i < 4000 && repeat_.met().size() < 3; ++i) {
    machine_->advance(0.05);
    repeat_.tick();
  }
  link().stop();
  repeat_.tick();
  EXPECT_EQ(repeat_.phase(), Procedure::Phase::failed);
  EXPECT_EQ(repeat_.met().size(), 3u);
  EXPECT_FALSE(repeat_.error().message.empty());
}

}  // namespace
}  // namespace ypsi::standin
