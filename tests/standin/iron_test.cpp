// What the machine is like, found by measuring: lost motion, switches, beam, spindle, bed. The truth is in the
// scenario.
#include "core/calibration/squareness.h"
#include "core/calibration/tram.h"
#include "standin/standin_fixture.h"

namespace ypsi::standin {
namespace {

TEST_F(StandInTest, LostMotionAppearsOnlyOnReversal) {
  std::mt19937_64 random(5);
  std::uniform_real_distribution<double> slack(0.02, 0.6), way(2, 60);
  for (int trial = 0; trial < 12; ++trial) {
    Scenario s = demo();
    s.axes[0].lost_motion = slack(random);
    const double per = s.controller[0].steps_per_mm / s.axes[0].true_steps_per_mm, B = s.axes[0].lost_motion;
    start(s);
    home();
    jog(Axis::x, 200);
    double direction = 1;
    for (int move = 0; move < 12; ++move) {
      const double sign = random() % 2 ? 1 : -1, told = sign * way(random);
      const double from = machine_->true_place(Axis::x), counted = link().status().position.x;
      jog(Axis::x, told);
      const double lost =
          sign * (link().status().position.x - counted) * per - sign * (machine_->true_place(Axis::x) - from);
      EXPECT_NEAR(lost, sign == direction ? 0 : B, 1.5 / 80) << "trial " << trial << " move " << move;
      direction = sign;
    }
  }
}

TEST_F(StandInTest, AHomedMachineReturnsWithinItsSwitchesScatter) {
  for (const double scatter : {0.0, 0.004, 0.03}) {
    Scenario s = demo();
    for (auto& a : s.axes) a.switch_s = scatter;
    start(s);
    home();
    std::vector<double> at;
    for (int i = 0; i < 12; ++i) {
      jog(Axis::x, 20 + 7 * i);
      home();
      jog(Axis::x, 100 - link().status().position.x);
      at.push_back(machine_->true_place(Axis::x));
    }
    double mean = 0, squares = 0;
    for (const double a : at) mean += a / static_cast<double>(at.size());
    for (const double a : at) squares += (a - mean) * (a - mean);
    const double spread = std::sqrt(squares / static_cast<double>(at.size() - 1)), step = 1 / 80.0;
    EXPECT_LT(spread, 1.8 * scatter + step);
    EXPECT_GT(spread, 0.3 * scatter) << "a switch that scatters must be felt";
  }
}

TEST_F(StandInTest, AScrewsErrorComesBackEveryTurn) {
  Scenario s = demo();
  s.axes[0].screw = {{0.05, 8}};
  s.axes[0].true_steps_per_mm = 80;
  start(s);
  home();
  jog(Axis::x, 15);
  const auto error = [&] { return machine_->true_place(Axis::x) - link().status().position.x; };
  double low = 1, high = -1;
  std::vector<double> first;
  for (int i = 0; i < 16; ++i) {
    jog(Axis::x, 1);
    first.push_back(error());
    low = std::min(low, error());
    high = std::max(high, error());
  }
  EXPECT_NEAR(high - low, 0.1, 0.01);
  for (std::size_t i = 0; i < 8; ++i) EXPECT_NEAR(first[i], first[i + 8], 0.002) << "one period of 8 mm later";
}

TEST_F(StandInTest, AnInvertedMotorGoesTheOtherWayUntilReversed) {
  Scenario s = demo();
  s.axes[0].inverted = true;
  start(s);
  const double before = machine_->true_place(Axis::x);
  jog(Axis::x, 5);
  EXPECT_LT(machine_->true_place(Axis::x), before - 4);
  ASSERT_TRUE(link().set_setting("axis.x.reversed", 1));
  const double there = machine_->true_place(Axis::x);
  jog(Axis::x, 5);
  EXPECT_GT(machine_->true_place(Axis::x), there + 4);
}

// Handbook, section 7: what the diagonals of a spotted rectangle say is what the beam was set to.
TEST_F(StandInTest, SpottedDiagonalsTellTheLeanOfTheBeam) {
  for (const double lean : {-3e-3, 0.0, 1.7e-3}) {
    Scenario s = demo();
    s.skew = lean;
    for (auto& a : s.axes) a.lost_motion = 0;
    s.instruments["tape"] = {"tape", 0.001, 2, 0.0, 0, 0};
    start(s);
    home();
    SquareInput in;
    in.points = {{"A", {50, 50}}, {"B", {650, 50}}, {"C", {650, 450}}, {"D", {50, 450}}};
    for (const auto& [name, at] : in.points) {
      jog(Axis::x, at.x - link().status().position.x);
      jog(Axis::y, at.y - link().status().position.y);
      ASSERT_TRUE(bench().spot(name));
    }
    in.instrument = s.instruments["tape"];
    for (const auto& [from, to] : {std::pair<std::size_t, std::size_t>{0, 2}, {1, 3}, {0, 1}, {0, 3}})
      in.distances.push_back(
          {from, to, bench().read_between(in.points[from].name, in.points[to].name, "tape").value()});
    const auto found = fit_square(in);
    ASSERT_TRUE(found && found->fit);
    EXPECT_NEAR(found->fit->skew, lean, 1.2e-4);  // half a step of the motors over 400 mm
  }
}

TEST_F(StandInTest, ABeamEndMovedOrASwitchOffsetSquaresTheMachine) {
  Scenario s = demo();
  s.skew = 2e-3;
  s.rail_spacing = 860;
  start(s);
  // Handbook, section 7: gamma > 0, the right end goes towards -Y by S tan(gamma).
  bench().move_rail_end(RailEnd::right, -860 * std::tan(2e-3));
  EXPECT_NEAR(machine_->plant().skew(), 0, 1e-8);
  bench().move_rail_end(RailEnd::left, 1.0);
  EXPECT_NEAR(machine_->plant().skew(), -1.0 / 860, 1e-9);
  ASSERT_TRUE(link().set_setting("axis.y.second_switch_offset_mm", 1.0));
  EXPECT_NEAR(machine_->plant().skew(), -1.0 / 860, 1e-9) << "a switch is met when it homes, not before";
  home();
  EXPECT_NEAR(machine_->plant().skew(), 0, 1e-9);
}

TEST_F(StandInTest, ACarpentersSquareTurnedOverTellsItsOwnError) {
  Scenario s = demo();
  s.skew = 1.5e-3;
  s.instruments["indicator"] = {"indicator", 0.001, 1, 0.0, 0, 0};
  start(s);
  const double one = bench().read_square(300, false, "indicator").value(),
               other = bench().read_square(300, true, "indicator").value();
  EXPECT_NEAR((one + other) / 2, 300 * 1.5e-3, 0.0015);
  EXPECT_NE(one, other) << "no square is square";
}

// Handbook, section 12: the sweep sees the spindle against the bed.
TEST_F(StandInTest, ASweepTellsTheSpindlesTiltAgainstTheBed) {
  Scenario s = demo();
  s.spindle_tilt = {0.8e-3, -0.3e-3};
  s.bed_tilt = {0.4e-3, 0.2e-3};
  s.instruments["indicator"] = {"indicator", 0.001, 1, 0.0, 0, 0};
  start(s);
  TramInput in;
  in.radius = 120;
  in.bolt_spacing_x = in.bolt_spacing_y = 100;
  in.cutter_diameter = 25;
  in.stepover = 10;
  for (int angle = 0; angle < 360; angle += 45)
    in.sweep.push_back({angle * M_PI / 180, bench().read_sweep(120, angle, "indicator").value()});
  const auto found = evaluate_tram(in);
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->tilt_x, 1.2e-3, 1e-5);
  EXPECT_NEAR(found->tilt_y, -0.1e-3, 1e-5);
}

TEST_F(StandInTest, AWavyBedAndUnevenStockAreAsHighAsTheScenarioSays) {
  Scenario s = demo();
  s.bed_waviness = 0.3;
  s.stock.thickness_variation = 0.4;
  s.stock.rotation = 0.02;
  start(s);
  double bed_low = 1e9, bed_high = -1e9, low = 1e9, high = -1e9;
  for (double x = 0; x < 800; x += 5)
    for (double y = 0; y < 600; y += 5) {
      const double bed = machine_->plant().bed_height(x, y) - s.bed_z;
      bed_low = std::min(bed_low, bed);
      bed_high = std::max(bed_high, bed);
      if (machine_->plant().over_stock(x, y)) {
        const double t = machine_->plant().top_height(x, y) - s.bed_z - bed;
        low = std::min(low, t);
        high = std::max(high, t);
      }
    }
  EXPECT_NEAR(bed_high - bed_low, 0.3, 0.01);
  EXPECT_NEAR(high - low, 0.4, 0.06);
  EXPECT_NEAR((high + low) / 2, 18, 0.05);
}

TEST_F(StandInTest, AClampInTheWayCostsStepsThatTheNextHomingTells) {
  home();
  bench().lay_clamp(link().status().position.x + 60, link().status().position.y);
  jog(Axis::z, -90);  // as low as the clamp is high
  const double before = machine_->true_place(Axis::x);
  jog(Axis::x, 100);
  EXPECT_LT(machine_->true_place(Axis::x), before + 45) << "it stands against the clamp";
  EXPECT_EQ(link().status().state, MachineState::ready) << "no controller notices by itself";
  bench().take_clamps_away();
  home();
  EXPECT_NE(link().status().message.find("lost steps"), std::string::npos) << link().status().message;
}

TEST_F(StandInTest, APointerShowsOnlyAboveItsThreshold) {
  Scenario s = demo();
  s.pointer = PhysicalPointer{-42.3, 11.8, 7.4};
  start(s);
  EXPECT_EQ(bench().pointer_from("A", 10).error().code, "no_mark");
  ASSERT_TRUE(bench().spot("A"));
  EXPECT_EQ(bench().pointer_from("A", 7.3).error().code, "not_seen");
  const auto off = bench().pointer_from("A", 7.5).value();
  EXPECT_NEAR(off[0], -42.3, 0.06);
  EXPECT_NEAR(off[1], 11.8, 0.06);
}

TEST_F(StandInTest, InstrumentsReachNoFurtherThanTheyAreLong) {
  home();
  bench().mark(Axis::x);
  jog(Axis::x, 300);
  EXPECT_EQ(bench().read_distance(Axis::x, "indicator").error().code, "out_of_reach");
  EXPECT_EQ(bench().read_distance(Axis::x, "caliper").error().code, "out_of_reach");
  EXPECT_NEAR(bench().read_distance(Axis::x, "tape").value(), 300 * 80 / 80.37, 2.5);
}

}  // namespace
}  // namespace ypsi::standin
