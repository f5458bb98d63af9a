// Work zero by every way at the stand-in: each corner, inner corners, holes and bosses, top and bed, and after tool
// changes by the setter and by the zero spot.
#include <fmt/format.h>

#include <random>
#include <sstream>

#include "core/book/tool_change.h"
#include "core/calibration/surface_map.h"
#include "core/calibration/tool_setter.h"
#include "core/metrology/spread.h"
#include "core/procedures/probe_grid.h"
#include "core/program/following_copy.h"
#include "standin/references_fixture.h"

namespace ypsi::standin {
namespace {

class ZeroWays : public References {
 protected:
  /// Where a physical place is in the controller's machine frame now.
  MachinePosition as_counted(const Point3& place) const {
    const Point3 tip = machine_->plant().tip();
    const auto at = machine_->link().status().position;
    return {at.x + place[0] - tip[0], at.y + place[1] - tip[1], at.z + place[2] - tip[2]};
  }
  void over(double u, double v, double above_top) {
    const auto& stock = machine_->scenario().stock;
    const auto move = [&](Axis axis, double by) {
      if (std::fabs(by) > 1e-6) jog(axis, by);
    };
    move(Axis::z, -5 - link().status().position.z);
    move(Axis::x, stock.x + u - machine_->plant().tip()[0]);
    move(Axis::y, stock.y + v - machine_->plant().tip()[1]);
    move(Axis::z, machine_->plant().top_height(stock.x + u, stock.y + v) + above_top - machine_->plant().tip()[2]);
  }
};

TEST_F(ZeroWays, EachOuterCornerIsFoundThePlateTurnedToIt) {
  std::mt19937 random(21);
  std::uniform_real_distribution<double> diameter(2, 10), wall(6, 14), thickness(8, 16);
  for (int i = 0; i < 12; ++i) {
    const bool right = i % 2 == 1, back = i % 4 >= 2;
    Scenario s = plain();
    s.tools = {{1, diameter(random), 26, 0}};
    s.plate = {thickness(random), wall(random), wall(random)};
    s.stock.conductive = false;
    s.stock.thickness_variation = 0.3;
    start(s);
    home();
    const double u = right ? s.stock.size[0] : 0, v = back ? s.stock.size[1] : 0;
    over(u + (right ? -9 : 9), v + (back ? -9 : 9), s.plate.thickness + 5);
    bench().lay_plate(PlatePlace::on_corner);
    CornerWay way = way_for(s);
    way.x_towards_plus = !right;
    way.y_towards_plus = !back;
    if (right != back) std::swap(way.wall_x, way.wall_y);
    const auto started = corner_.start(link(), way);
    ASSERT_TRUE(started) << started.error().message;
    run_corner();
    ASSERT_EQ(corner_.phase(), Procedure::Phase::done) << corner_.error().message;
    const auto truth = as_counted({s.stock.x + u, s.stock.y + v, machine_->plant().stock_top(u, v)});
    // A step is 1/80 mm along X and Y, 1/800 along Z; place and touch are each rounded to one.
    EXPECT_NEAR(corner_.corner().x, truth.x, 3 * 0.0051) << i;
    EXPECT_NEAR(corner_.corner().y, truth.y, 3 * 0.0051) << i;
    EXPECT_NEAR(corner_.corner().z, truth.z, 0.005) << i;
  }
}

TEST_F(ZeroWays, AnInnerCornerIsTouchedByTheToolItself) {
  std::mt19937 random(3);
  std::uniform_real_distribution<double> diameter(3, 10), size(40, 90);
  for (int i = 0; i < 8; ++i) {
    const bool right = i % 2 == 1, back = i % 4 >= 2;
    Scenario s = plain();
    s.tools = {{1, diameter(random), 26, 0}};
    s.stock.recess = PhysicalRecess{150, 140, size(random), size(random), 8};
    start(s);
    home();
    const double u = 150 + (right ? 1 : -1) * s.stock.recess->width / 2,
                 v = 140 + (back ? 1 : -1) * s.stock.recess->height / 2;
    over(u + (right ? -9 : 9), v + (back ? -9 : 9), -4);
    CornerWay way;
    way.inner = true;
    way.tool_diameter = s.tools[0].diameter;
    way.x_towards_plus = right;
    way.y_towards_plus = back;
    way.touch.touches = 3;
    const auto started = corner_.start(link(), way);
    ASSERT_TRUE(started) << started.error().message;
    run_corner();
    ASSERT_EQ(corner_.phase(), Procedure::Phase::done) << corner_.error().message;
    const auto truth = as_counted({s.stock.x + u, s.stock.y + v, machine_->plant().stock_top(u, v) - 8});
    EXPECT_NEAR(corner_.corner().x, truth.x, 0.02);
    EXPECT_NEAR(corner_.corner().y, truth.y, 0.02);
    EXPECT_NEAR(corner_.corner().z, truth.z, 0.01);
  }
}

TEST_F(ZeroWays, TheMiddleOfAHoleAndOfABossIsFound) {
  std::mt19937 random(13);
  std::uniform_real_distribution<double> diameter(3, 8), size(30, 80), off(-4, 4);
  for (const bool hole : {true, false})
    for (int i = 0; i < 6; ++i) {
      Scenario s = plain();
      s.tools = {{1, diameter(random), 30, 0}};
      double u = 120, v = 130, d = size(random);
      if (hole) {
        s.stock.recess = PhysicalRecess{u, v, d, 0, 12};
      } else {
        s.stock.round = true;
        s.stock.size = {d, d, 18};
        u = v = d / 2;
      }
      start(s);
      home();
      std::vector<Point2> points;
      const double r = hole ? 0 : d / 2 + s.tools[0].diameter / 2 + 5, dx = off(random), dy = off(random);
      const struct {
        double u, v;
        Axis axis;
        bool plus;
      } ways[] = {{-r, 0, Axis::x, !hole}, {r, 0, Axis::x, hole}, {0, -r, Axis::y, !hole}, {0, r, Axis::y, hole}};
      for (const auto& w : ways) {
        over(u + w.u + dx, v + w.v + dy, 20);
        // Beside or inside, below the rim.
        const double rim = machine_->plant().stock_top(u, v);
        jog(Axis::z, rim - 4 - machine_->plant().tip()[2]);
        const auto at = link().status().position;
        const auto triggers = touched(w.axis, w.plus, 60);
        ASSERT_FALSE(triggers.empty());
        points.push_back(w.axis == Axis::x ? Point2{mean(triggers), at.y} : Point2{at.x, mean(triggers)});
      }
      const auto circle = fit_circle(points, s.tools[0].diameter, hole);
      ASSERT_TRUE(circle) << circle.error().message;
      const auto truth = as_counted({s.stock.x + u, s.stock.y + v, 0});
      EXPECT_NEAR(circle->center.x, truth.x, 0.02);
      EXPECT_NEAR(circle->center.y, truth.y, 0.02);
      EXPECT_NEAR(circle->diameter, d, 0.04);
    }
}

TEST_F(ZeroWays, TopAndBedTouchedTellTheStocksRealThickness) {
  std::mt19937 random(4);
  std::uniform_real_distribution<double> thickness(8, 25), uneven(0, 0.4), place(40, 200);
  for (int i = 0; i < 8; ++i) {
    Scenario s = plain();
    s.stock.size = {240, 240, thickness(random)};
    s.stock.thickness_variation = uneven(random);
    s.stock.conductive = false;
    s.bed_tilt = {};
    s.bed_waviness = 0;
    start(s);
    home();
    const double u = place(random), v = place(random);
    over(u, v, s.plate.thickness + 4);
    bench().lay_plate(PlatePlace::on_stock);
    const auto top = touched(Axis::z, false);
    over(-25, v, s.plate.thickness + 4);
    bench().lay_plate(PlatePlace::on_bed);
    const auto bed = touched(Axis::z, false);
    const double t = s.plate.thickness, truth = machine_->plant().stock_top(u, v) - s.bed_z;
    EXPECT_NEAR(mean(top) - mean(bed), truth, 0.005);
    // Either carried to the other by that thickness is the other.
    EXPECT_NEAR(touch_plate(mean(top), t, true, true, truth).work_zero_z,
                touch_plate(mean(bed), t, false, true, truth).work_zero_z, 0.005);
    EXPECT_NEAR(touch_plate(mean(bed), t, false, false, truth).work_zero_z,
                touch_plate(mean(top), t, true, false, truth).work_zero_z, 0.005);
  }
}

/// Four tools cut pockets of one depth side by side on an uneven board; heights of their floors.
class FourTools : public ZeroWays {
 protected:
  static constexpr double depth = 3, first_u = 60, apart = 22, spot_u = 30, spot_v = 30;
  Scenario board(std::uint64_t seed) {
    Scenario s = plain();
    s.seed = seed;
    std::mt19937 random(static_cast<unsigned>(seed));
    std::uniform_real_distribution<double> length(20, 36), diameter(3, 8);
    s.tools.clear();
    for (int n = 1; n <= 4; ++n) s.tools.push_back({n, diameter(random), length(random), 0});
    s.stock.size = {240, 200, 18};
    s.stock.thickness_variation = 0.4;
    s.stock.conductive = false;
    s.stock.rotation = 0;
    s.setter->x = 700;
    s.setter->y = 40;
    return s;
  }
  double touch_spot() {
    over(spot_u, spot_v, machine_->scenario().plate.thickness + 4);
    bench().lay_plate(PlatePlace::on_stock);
    const double z = mean(touched(Axis::z, false));
    bench().lay_plate(PlatePlace::away);
    return z;
  }
  void zero(double z) { ASSERT_TRUE(link().set_work_zero(Axis::z, z)); }
  void cut_pocket(int n) {
    const auto& stock = machine_->scenario().stock;
    const auto corner = as_counted({stock.x, stock.y, 0});
    ASSERT_TRUE(link().set_work_zero(Axis::x, corner.x));
    ASSERT_TRUE(link().set_work_zero(Axis::y, corner.y));
    const double x = first_u + apart * (n - 1);
    program({"G21 G90 S9000 M3", "G0 Z6", fmt::format("G0 X{} Y80", x), fmt::format("G1 Z-{} F300", depth),
             "G1 Y110 F900", "G0 Z20", "M5"});
  }
  double floor(int n) {
    const auto zero = link().status().work_zero;
    const double u = first_u + apart * (n - 1), v = 95;
    const auto found =
        bench().true_size({CutFeature::Kind::depth, Axis::z, {zero.x + u, zero.y + v, zero.z}, {}, depth});
    EXPECT_TRUE(found) << found.error().message;
    return machine_->plant().stock_top(u, v) - found.value_or(0);
  }
  void expect_even() {
    double low = 1e9, high = -1e9;
    for (int n = 1; n <= 4; ++n) {
      low = std::min(low, floor(n));
      high = std::max(high, floor(n));
    }
    EXPECT_LT(high - low, 0.03);
  }
};

TEST_F(FourTools, BySetterCutPocketsOfOneDepth) {
  for (const std::uint64_t seed : {5u, 6u, 7u, 8u}) {
    const Scenario s = board(seed);
    start(s);
    home();
    const double plate = s.plate.thickness;
    const SetterWay way = setter_way(s);
    Book book;
    for (const auto& t : s.tools) {
      Tool tool;
      tool.number = t.number;
      book.tools.push_back(tool);
    }
    book.setter = ToolSetter{way.x, way.y, 1, coordinates(on_the_setter(way))};
    FrameZero& frame = book.job.frames[0];
    frame.z_mm = touch_spot() - plate;
    frame.z_tool = 1;
    EXPECT_EQ(zero_after_change(book, 1), ZeroAfterChange::holds);
    EXPECT_EQ(zero_after_change(book, 2), ZeroAfterChange::by_touch) << "neither measured nor marked";
    zero(*frame.z_mm);
    cut_pocket(1);
    for (int n = 2; n <= 4; ++n) {
      ASSERT_TRUE(bench().put_tool(n));
      const auto found =
          evaluate_setter(ypsi::plain(book.setter->reference), {{n, on_the_setter(way)}}, std::nullopt, 0);
      ASSERT_TRUE(found);
      book.tools[static_cast<std::size_t>(n - 1)].offset = found->tools[0].offset;
      ASSERT_EQ(zero_after_change(book, n), ZeroAfterChange::by_length);
      // From whichever tool was zeroed last, not from the reference alone.
      frame.z_mm = zero_by_length(book, n);
      frame.z_tool = n;
      zero(*frame.z_mm);
      cut_pocket(n);
    }
    expect_even();
  }
}

TEST_F(FourTools, ByTheZeroSpotCutPocketsOfOneDepth) {
  for (const std::uint64_t seed : {15u, 16u, 17u, 18u}) {
    const Scenario s = board(seed);
    start(s);
    home();
    const double plate = s.plate.thickness;
    Book book;
    FrameZero& frame = book.job.frames[0];
    // Zero at another place of the uneven board than the spot: the spot's own height is kept.
    over(150, 150, plate + 4);
    bench().lay_plate(PlatePlace::on_stock);
    frame.z_mm = mean(touched(Axis::z, false)) - plate;
    frame.z_tool = 1;
    bench().lay_plate(PlatePlace::away);
    zero(*frame.z_mm);
    const double trigger = touch_spot();
    book.job.zero_spot = ZeroSpot{0, 0, spot_height(trigger, plate, *frame.z_mm)};
    EXPECT_GT(std::fabs(book.job.zero_spot->height_mm), 0.02) << "the board is uneven";
    cut_pocket(1);
    for (int n = 2; n <= 4; ++n) {
      ASSERT_TRUE(bench().put_tool(n));
      ASSERT_EQ(zero_after_change(book, n), ZeroAfterChange::by_spot);
      frame.z_mm = zero_by_spot(touch_spot(), plate, *book.job.zero_spot);
      frame.z_tool = n;
      zero(*frame.z_mm);
      cut_pocket(n);
    }
    expect_even();
  }
}

TEST_F(ZeroWays, AFrameInUseIsTheControllersOwnAndAProgramsWordsComeFirst) {
  start(plain());
  home();
  ASSERT_TRUE(link().set_setting("work.g54.x_mm", 100));
  ASSERT_TRUE(link().set_setting("work.g55.x_mm", 250));
  ASSERT_TRUE(link().set_setting("work.g59.3.x_mm", 300));
  ASSERT_TRUE(link().set_setting("work.frame", 1));
  EXPECT_EQ(link().status().work_frame, 1);
  EXPECT_DOUBLE_EQ(link().status().work_zero.x, 250);
  program({"G90 G0 X10"});
  EXPECT_NEAR(link().status().position.x, 260, 0.02);
  program({"G54 G90 G0 X10"});
  EXPECT_NEAR(link().status().position.x, 110, 0.02);
  EXPECT_EQ(link().status().work_frame, 1) << "the owner's choice comes back at the end";
  EXPECT_EQ(link().set_setting("work.frame", 9).error().code, "out_of_range");
  EXPECT_EQ(link().set_setting("work.g60.x_mm", 1).error().code, "unknown_setting");
}

/// An uneven board, touched through the plate on a grid: a program that follows it is as deep all along.
TEST_F(ZeroWays, AProgramFollowsWhatWasTouched) {
  Scenario s = plain();
  s.tools = {{1, 3, 26, 0}};
  s.stock.size = {100, 57, 6};
  s.stock.thickness_variation = 0.3;
  s.stock.rotation = 0;
  s.stock.conductive = false;
  start(s);
  home();
  over(50, 28, s.plate.thickness + 4);
  bench().lay_plate(PlatePlace::on_stock);
  const auto corner = as_counted({s.stock.x, s.stock.y, 0});
  GridPlan plan{corner.x + 4, corner.y + 4, corner.x + 96, corner.y + 53, 6, 4, 3000, {}};
  plan.touch.touches = 2;
  ProbeGrid grid;
  const auto started = grid.start(link(), plan);
  ASSERT_TRUE(started) << started.error().message;
  for (int i = 0; i < 400000 && grid.running(); ++i) {
    machine_->advance(0.02);
    grid.tick();
  }
  ASSERT_EQ(grid.phase(), Procedure::Phase::done) << grid.error().message;
  bench().lay_plate(PlatePlace::away);
  auto top = height_grid(grid.points());
  ASSERT_TRUE(top) << top.error().message;
  const double middle = height_at(*top, corner.x + 50, corner.y + 28);
  for (double& x : top->xs) x -= corner.x;
  for (double& y : top->ys) y -= corner.y;
  for (double& z : top->heights) z -= middle;
  const auto copy = following_copy(
      "G21 G90\nG0 Z6\nG0 X10 Y10\nS9000 M3\nG1 Z-0.5 F300\nG1 X90 Y45 F900\nG1 Y20\nG3 X20 Y20 I-35 J0\nG0 "
      "Z20\nM5\nM2\n",
      *top, 0.005);
  ASSERT_TRUE(copy) << copy.error().message;
  for (const auto& [axis, zero] :
       {std::pair{Axis::x, corner.x}, {Axis::y, corner.y}, {Axis::z, middle - s.plate.thickness}})
    ASSERT_TRUE(link().set_work_zero(axis, zero));
  std::vector<std::string> lines;
  std::istringstream in(copy->text);
  for (std::string line; std::getline(in, line);) lines.push_back(line);
  program(lines);
  ASSERT_FALSE(link().status().refusal) << link().status().refusal->message;
  int seen = 0;
  double highest = -1e9, lowest = 1e9;
  for (const Sweep& sweep : machine_->plant().cut().sweeps()) {
    if (std::hypot(sweep.to[0] - sweep.from[0], sweep.to[1] - sweep.from[1]) < 1e-3) continue;  // down and up
    const double top_here = machine_->plant().stock_top(sweep.to[0], sweep.to[1]);
    EXPECT_NEAR(top_here - sweep.to[2], 0.5, 0.02);
    highest = std::max(highest, top_here);
    lowest = std::min(lowest, top_here);
    ++seen;
  }
  EXPECT_GT(seen, 20);
  EXPECT_GT(highest - lowest, 0.1) << "counted from one height it would have come out so much deeper here than there";
}

}  // namespace
}  // namespace ypsi::standin
