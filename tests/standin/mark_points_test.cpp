// Marks put down by the stand-in: slack is in none of them, and what cannot be reached is refused before it moves.
#include "core/procedures/mark_points.h"
#include "core/calibration/squareness.h"

#include <cmath>

#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

const std::vector<MarkedPoint> square_marks{{"A", {110, 110}}, {"B", {710, 110}}, {"C", {710, 510}}, {"D", {110, 510}}};
constexpr MarkingWay marking_way{-5, -60, 6000, 1000};

class Marking : public StandInTest {
 protected:
  void run(MarkPoints& marks) {
    for (int i = 0; i < 400000 && marks.running(); ++i) {
      if (marks.on_mark()) {
        EXPECT_TRUE(bench().spot(marks.point().name));
        marks.go_on();
      }
      machine_->advance(0.02);
      marks.tick();
    }
  }
};

TEST_F(Marking, ALeanComesOutOfTheMarksAndLostMotionDoesNot) {
  for (const double mrad : {-4.0, 1.7, 4.0}) {
    Scenario s = demo();
    s.skew = mrad / 1000;
    s.axes[0].lost_motion = s.axes[1].lost_motion = 0.3;
    s.axes[0].true_steps_per_mm = s.axes[1].true_steps_per_mm = 80;
    Instrument fine;
    fine.name = "fine";
    fine.resolution_mm = 0.001;
    s.instruments["fine"] = fine;
    start(s);
    home();
    MarkPoints marks;
    const auto started = marks.start(link(), square_marks, marking_way);
    ASSERT_TRUE(started) << started.error().message;
    run(marks);
    ASSERT_EQ(marks.phase(), Procedure::Phase::done) << marks.error().message;
    EXPECT_NEAR(machine_->link().status().position.z, marking_way.lift_z, 0.01) << "it ends lifted";
    SquareInput in;
    in.points = square_marks;
    in.instrument = fine;
    for (const auto& [a, b] : {std::pair<std::size_t, std::size_t>{0, 2}, {1, 3}, {0, 1}, {0, 3}})
      in.distances.push_back({a, b, bench().read_between(square_marks[a].name, square_marks[b].name, "fine").value()});
    const auto fit = fit_square(in)->fit;
    ASSERT_TRUE(fit);
    EXPECT_NEAR(fit->skew, s.skew, 2e-5);
    EXPECT_NEAR(fit->scale_y, 1, 5e-5);
  }
}

TEST_F(Marking, WhatCannotBeReachedIsRefusedBeforeItMoves) {
  start(demo());
  MarkPoints marks;
  EXPECT_EQ(marks.start(link(), square_marks, marking_way).error().code, "not_homed");
  home();
  const auto before = link().status().position;
  auto far = square_marks;
  far[2].commanded.x = 5000;
  const auto refused = marks.start(link(), far, marking_way);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, "limit");
  EXPECT_NE(refused.error().message.find("Mark C needs X at 5000.0"), std::string::npos) << refused.error().message;
  EXPECT_EQ(marks.start(link(), square_marks, {-5, -500, 6000, 1000}).error().code, "limit") << "through the bed";
  EXPECT_EQ(marks.start(link(), square_marks, {-60, -5, 6000, 1000}).error().code, "limit") << "a mark above the lift";
  EXPECT_EQ(marks.start(link(), {}, marking_way).error().code, "too_few");
  EXPECT_EQ(link().status().position, before);
  ASSERT_TRUE(marks.start(link(), square_marks, marking_way));
  EXPECT_EQ(marks.start(link(), square_marks, marking_way).error().code, "busy");
  link().stop();
  run(marks);
  EXPECT_EQ(marks.phase(), Procedure::Phase::failed);
  EXPECT_FALSE(marks.error().message.empty());
}

}  // namespace
}  // namespace ypsi::standin
