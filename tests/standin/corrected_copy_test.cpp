// A corrected copy cut on a machine with a lean and wrong scales leaves the true figure.
#include "core/program/corrected_copy.h"

#include <cmath>
#include <sstream>

#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

constexpr double arc_tolerance = 0.003;

class Corrected : public StandInTest {
 protected:
  /// Runs a program from a work zero over the stock and returns the places of its cutting path, in the true frame,
  /// from the first.
  std::vector<std::array<double, 2>> cut(const std::string& text) {
    home();
    for (const auto& [axis, at] : {std::pair{Axis::x, 200.0}, {Axis::y, 140.0}, {Axis::z, -85.0}})
      jog(axis, at - link().status().position[axis]);
    for (const Axis a : {Axis::x, Axis::y}) EXPECT_TRUE(link().set_work_zero(a, link().status().position[a]));
    EXPECT_TRUE(link().set_work_zero(Axis::z, -92));  // in the board, two millimetres down
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) lines.push_back(line);
    program(lines);
    EXPECT_FALSE(link().status().refusal) << link().status().refusal->message;
    const auto sweeps = machine_->plant().cut().sweeps();
    std::vector<std::array<double, 2>> path;
    for (const auto& s : sweeps) path.push_back({s.to[0] - sweeps[0].from[0], s.to[1] - sweeps[0].from[1]});
    return path;
  }
  Scenario leaning(double mrad, double scale_x, double scale_y) {
    Scenario s = demo();
    s.skew = mrad / 1000;
    s.axes[0].lost_motion = s.axes[1].lost_motion = 0;
    s.axes[0].screw = s.axes[1].screw = {};
    s.axes[0].true_steps_per_mm = 80 / scale_x;
    s.axes[1].true_steps_per_mm = 80 / scale_y;
    s.stock.rotation = 0;
    return s;
  }
};

TEST_F(Corrected, ALeaningMachineCutsATrueRectangleAndATrueCircle) {
  const std::string rectangle =
      "G21 G90\nS9000 M3\nG0 Z5\nG0 X10 Y10\nG1 Z-1.5 F300\nG1 X210 F2400\nG1 Y130\nG1 X10\nG1 Y10\nG0 Z5\nM5\nM2\n";
  const std::string circle =
      "G21 G90\nS9000 M3\nG0 Z5\nG0 X150 Y80\nG1 Z-1.5 F300\nG3 X150 Y80 I-60 J0 F2400\nG0 Z5\nM5\nM2\n";
  for (const auto& [mrad, sx, sy] : {std::array{-4.0, 1.0, 1.0}, {2.5, 1.004, 0.997}, {4.0, 0.99, 1.01}}) {
    const PlaneErrors errors{sx, sy, mrad / 1000};
    const auto straight = corrected_copy(rectangle, errors, arc_tolerance);
    ASSERT_TRUE(straight) << straight.error().message;
    start(leaning(mrad, sx, sy));
    const auto corners = cut(straight->text);
    // Every place of the path lies on one of the true rectangle's four sides.
    double widest = 0, highest = 0;
    for (const auto& p : corners) {
      const double off = std::min({std::fabs(p[0]), std::fabs(p[0] - 200), std::fabs(p[1]), std::fabs(p[1] - 120)});
      EXPECT_LT(off, 0.02) << p[0] << " " << p[1] << " at " << mrad;
      widest = std::max(widest, p[0]);
      highest = std::max(highest, p[1]);
    }
    EXPECT_NEAR(widest, 200, 0.02);
    EXPECT_NEAR(highest, 120, 0.02);

    const auto round = corrected_copy(circle, errors, arc_tolerance);
    ASSERT_TRUE(round) << round.error().message;
    EXPECT_EQ(round->arcs, 1u);
    start(leaning(mrad, sx, sy));
    const auto around = cut(round->text);
    ASSERT_GT(around.size(), 60u);
    for (const auto& p : around) EXPECT_NEAR(std::hypot(p[0] + 60, p[1]), 60, 0.02) << "at " << mrad;
  }
}

TEST_F(Corrected, UncorrectedItWouldBeOutBySeveralTenths) {
  start(leaning(4, 1, 1));
  double off = 0;
  for (const auto& p : cut("G21 G90\nS9000 M3\nG0 Z5\nG0 X10 Y10\nG1 Z-1.5 F300\nG1 Y130 F2400\nG0 Z5\nM5\nM2\n"))
    off = std::max(off, std::fabs(p[0]));
  EXPECT_NEAR(off, 120 * std::sin(0.004), 0.02);
}

}  // namespace
}  // namespace ypsi::standin
