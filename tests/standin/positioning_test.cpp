// The positioning test run on the stand-in, whose screw and slack are known.
#include "core/procedures/positioning_test.h"

#include <numbers>

#include "core/program/interpreter.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class Positioning : public StandInTest {
 protected:
  /// Runs the whole test with this instrument; the first arrival is the reference.
  PositioningResult result_of(Axis axis, const std::vector<double>& targets, int runs) {
    PositioningTest test;
    const auto started = test.start(link(), axis, targets, runs, 6000);
    EXPECT_TRUE(started) << started.error().message;
    for (int i = 0; i < 400000 && test.running(); ++i) {
      if (test.waits_for() == WaitsFor::reading) {
        if (test.done() == 0) bench().mark(axis);
        const double read = test.done() == 0 ? 0 : bench().read_distance(axis, "scale").value();
        test.read(read - (test.target() - targets.front()));
      } else {
        machine_->advance(0.02);
        test.tick();
      }
    }
    EXPECT_EQ(test.phase(), Procedure::Phase::done) << test.error().message;
    EXPECT_EQ(test.done(), test.total());
    return evaluate_positioning(targets, test.readings()).value();
  }
  static Scenario with_scale() {
    Scenario s = demo();
    Instrument scale;
    scale.name = "scale";
    scale.resolution_mm = 0.001;
    scale.s_mm = 0.001;
    s.instruments["scale"] = scale;
    return s;
  }
};

TEST_F(Positioning, FindsSlackAndTheScrewsPeriodicError) {
  Scenario s = with_scale();
  s.axes[1].true_steps_per_mm = 80;  // no scale error, so that what is left is the screw's
  s.axes[1].screw = {{0.02, 5}};
  start(s);
  home();
  const auto result = result_of(Axis::y, positioning_targets(20, 570, 21), 5);
  EXPECT_NEAR(result.mean_reversal, -0.11, 0.002) << "the negative of the slack, after the standard's sign";
  EXPECT_NEAR(result.reversal, 0.11, 0.004);
  EXPECT_NEAR(result.mean_deviation_range, 0.04, 0.006) << "twice the amplitude, which even spacing would hide";
  EXPECT_LT(result.repeatability_plus, 0.01);
  EXPECT_GT(result.accuracy, 0.14);
}

TEST_F(Positioning, TargetsAtTheScrewsPeriodWouldHideIt) {
  const auto targets = positioning_targets(0, 100, 21);
  ASSERT_EQ(targets.size(), 21u);
  EXPECT_EQ(targets.front(), 0);
  EXPECT_LE(targets.back(), 100);
  double cosines = 0, sines = 0;
  for (std::size_t i = 0; i < targets.size(); ++i) {
    EXPECT_TRUE(i == 0 || targets[i] > targets[i - 1]);
    const double phase = 2 * std::numbers::pi * targets[i] / 5;
    cosines += std::cos(phase);
    sines += std::sin(phase);
  }
  EXPECT_LT(std::hypot(cosines, sines), 21 * 0.5) << "the phases of a 5 mm screw are spread out";
}

TEST_F(Positioning, WrongStartsAreRefusedAndAnEndedMoveIsNoReading) {
  PositioningTest test;
  EXPECT_EQ(test.start(link(), Axis::y, {100, 200}, 5, 3000).error().code, "not_homed");
  home();
  EXPECT_EQ(test.start(link(), Axis::y, {100}, 5, 3000).error().code, "too_few");
  EXPECT_EQ(test.start(link(), Axis::y, {100, 200}, 1, 3000).error().code, "too_few");
  EXPECT_EQ(test.start(link(), Axis::y, {6, 200}, 5, 3000).error().code, "limit");
  EXPECT_EQ(test.start(link(), Axis::y, {100, 592}, 5, 3000).error().code, "limit");
  ASSERT_TRUE(test.start(link(), Axis::y, {300, 500}, 2, 3000));
  EXPECT_EQ(test.start(link(), Axis::y, {300, 500}, 2, 3000).error().code, "busy");
  machine_->advance(1);
  link().hold();
  machine_->advance(2);
  test.tick();
  EXPECT_EQ(test.phase(), Procedure::Phase::failed);
}

TEST_F(Positioning, ItsProgramGoesTheSameWay) {
  const auto targets = positioning_targets(50, 250, 5);
  const std::string text = positioning_program(Axis::x, targets, 2, 3000, 3);
  const auto read = read_program(text);
  ASSERT_TRUE(read) << read.error().message;
  std::vector<double> ends;
  for (const auto& m : read->motions) ends.push_back(m.end.x);
  ASSERT_EQ(ends.size(), 2u * 2 * 6);
  EXPECT_DOUBLE_EQ(ends[0], -overrun_mm);
  EXPECT_DOUBLE_EQ(ends[1], 0);
  EXPECT_NEAR(ends[5], targets[4] - targets[0], 1e-3);
  EXPECT_NEAR(ends[6], targets[4] - targets[0] + overrun_mm, 1e-3);
  EXPECT_NEAR(ends[11], 0, 1e-3);
}

}  // namespace
}  // namespace ypsi::standin
