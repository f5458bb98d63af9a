// What a screw repeats with every turn, read on the stand-in, whose screw is known.
#include "core/procedures/stroke_readings.h"

#include "core/calibration/periodic_error.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

class Strokes : public StandInTest {
 protected:
  static Scenario with(std::vector<ScrewError> screw) {
    Scenario s = demo();
    s.axes[0].true_steps_per_mm = 80.3;
    s.axes[0].screw = std::move(screw);
    return s;
  }
  /// Goes over the stops and reads each with the demo's indicator, set anew at each stroke.
  std::vector<PeriodicReading> read(const std::vector<StrokeStop>& stops) {
    StrokeReadings strokes;
    const auto started = strokes.start(link(), Axis::x, stops, 3000);
    EXPECT_TRUE(started) << started.error().message;
    std::vector<PeriodicReading> all;
    for (int i = 0; i < 400000 && strokes.running(); ++i) {
      if (strokes.waits_for() == WaitsFor::reading) {
        if (strokes.begins_a_stroke()) bench().mark(Axis::x);
        const double shown = strokes.begins_a_stroke() ? 0 : bench().read_distance(Axis::x, "indicator").value();
        all.push_back({link().status().position.x, shown, strokes.stop().stroke});
        strokes.go_on();
      } else {
        machine_->advance(0.02);
        strokes.tick();
      }
    }
    EXPECT_EQ(strokes.phase(), Procedure::Phase::done) << strokes.error().message;
    return all;
  }
};

TEST_F(Strokes, FindAScrewsErrorWhoseTurnIsLongerThanTheIndicator) {
  for (const double turn : {5.0, 20.0, 40.0}) {
    start(with({{0.03, turn}}));
    home();
    const auto stops = stroke_stops(50, turn, 8);
    const auto found = evaluate_periodic(read(stops), turn, machine_->scenario().instruments.at("indicator"));
    ASSERT_TRUE(found) << found.error().message;
    EXPECT_NEAR(found->amplitude, 0.03, found->U) << turn;
    EXPECT_LT(found->U, 0.012) << turn;
  }
}

TEST_F(Strokes, OfATrueScrewTellNothing) {
  start(with({}));
  home();
  const auto found =
      evaluate_periodic(read(stroke_stops(50, 5, 8)), 5, machine_->scenario().instruments.at("indicator"));
  ASSERT_TRUE(found) << found.error().message;
  EXPECT_LT(found->amplitude, 0.003);
}

TEST_F(Strokes, GoOverTwoTurnsInStrokesThatOverlapAndAreUneven) {
  for (const double turn : {2.0, 5.0, 12.7, 100.0}) {
    const auto stops = stroke_stops(10, turn, 8);
    double low = 1e9, high = -1e9, before = 0;
    for (std::size_t i = 0; i < stops.size(); ++i) {
      const bool fresh = i == 0 || stops[i].stroke != stops[i - 1].stroke;
      if (!fresh) {
        EXPECT_GT(stops[i].place, stops[i - 1].place) << "each is arrived at from below";
      } else if (i > 0) {
        EXPECT_LT(stops[i].place, stops[i - 1].place - 0.2 * std::min(8.0, 2.2 * turn)) << "strokes overlap";
      }
      if (fresh) before = stops[i].place;
      EXPECT_LE(stops[i].place - before, 8 + 1e-9) << "within the indicator's way";
      low = std::min(low, stops[i].place);
      high = std::max(high, stops[i].place);
    }
    EXPECT_NEAR(low, 10, 1e-9);
    EXPECT_NEAR(high, 10 + 2.2 * turn, 1e-9);
  }
}

TEST_F(Strokes, BeginOnlyWhereTheyFit) {
  start(with({}));
  StrokeReadings strokes;
  EXPECT_EQ(strokes.start(link(), Axis::x, {}, 3000).error().code, "too_few");
  EXPECT_EQ(strokes.start(link(), Axis::x, stroke_stops(50, 5, 8), 3000).error().code, "not_homed");
  home();
  EXPECT_EQ(strokes.start(link(), Axis::x, stroke_stops(6, 5, 8), 3000).error().code, "limit") << "no run-up";
  EXPECT_EQ(strokes.start(link(), Axis::x, stroke_stops(795, 20, 8), 3000).error().code, "limit");
  EXPECT_FALSE(strokes.running());
}

}  // namespace
}  // namespace ypsi::standin
