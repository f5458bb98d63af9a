// What cutting leaves, exactly, and as instruments read it.
#include <fmt/format.h>

#include "link/frame.h"
#include "standin/standin_fixture.h"
#include "standin/truth.h"

namespace ypsi::standin {
namespace {

class Cutting : public StandInTest {
 protected:
  /// A machine without errors but its tool's, so that what is cut is what was told.
  Scenario exact() {
    Scenario s = demo();
    for (const Axis a : all_axes) {
      s.axes[index(a)].true_steps_per_mm = s.controller[index(a)].steps_per_mm = a == Axis::z ? 800 : 100;
      s.axes[index(a)].lost_motion = s.axes[index(a)].switch_s = 0;
    }
    s.skew = 0;
    s.tools = {{1, 5.93, 30, 0}, {2, 3.0, 25, 0.04}};
    s.instruments["caliper"] = {"caliper", 0.01, 1, 0.01, 0.0, 0};
    return s;
  }
  /// Work zero at the stock's front left corner, on its top.
  void zero_on_the_stock() {
    home();
    const Plant& plant = machine_->plant();
    const auto at = link().status().position;
    const auto tip = plant.tip();
    const auto& stock = machine_->scenario().stock;
    ASSERT_TRUE(link().set_work_zero(Axis::x, at.x + stock.x - tip[0]));
    ASSERT_TRUE(link().set_work_zero(Axis::y, at.y + stock.y - tip[1]));
    ASSERT_TRUE(link().set_work_zero(Axis::z, at.z + plant.stock_top(0, 0) - tip[2]));
  }
  CutFeature feature(CutFeature::Kind kind, Axis along, double x, double y, double z, double nominal) {
    const WorkZero zero = link().status().work_zero;
    return {kind, along, {zero.x + x, zero.y + y, zero.z + z}, {}, nominal};
  }
  double size(const CutFeature& f) {
    const auto found = bench().true_size(f);
    EXPECT_TRUE(found) << found.error().message;
    return found.value_or(-1);
  }
};

using Kind = CutFeature::Kind;

TEST_F(Cutting, AStraightSlotIsAsWideAsTheToolAndNothingMore) {
  start(exact());
  zero_on_the_stock();
  program({"G21 G90 S9000 M3", "G0 Z5", "G0 X20 Y40", "G1 Z-3 F300", "G1 X120 F1200", "G0 Z5", "G0 X200 Y20",
           "G1 Z-3 F300", "G1 Y140 F1200", "G0 Z5", "M5"});
  EXPECT_NEAR(size(feature(Kind::inside, Axis::y, 70, 40, -1, 5.93)), 5.93, 1e-9);
  EXPECT_NEAR(size(feature(Kind::inside, Axis::x, 200, 80, -1, 5.93)), 5.93, 1e-9);
  EXPECT_NEAR(size(feature(Kind::depth, Axis::z, 70, 40, 0, 3)), 3, 1.5 / 800);
  EXPECT_EQ(bench().true_size(feature(Kind::depth, Axis::z, 150, 150, 0, 3)).error().code, "no_feature");
  EXPECT_EQ(bench().true_size(feature(Kind::inside, Axis::y, 70, 40, -5, 5.93)).error().code, "no_feature")
      << "below the slot's floor";
}

TEST_F(Cutting, RunoutWidensWhatIsCut) {
  start(exact());
  zero_on_the_stock();
  ASSERT_TRUE(bench().put_tool(2));
  zero_on_the_stock();
  program({"S9000 M3", "G0 Z5", "G0 X20 Y40", "G1 Z-2 F300", "G1 X120 F1200", "G0 Z5"});
  EXPECT_NEAR(size(feature(Kind::inside, Axis::y, 70, 40, -1, 3)), 3.04, 1e-9);
}

TEST_F(Cutting, ASlantedPathIsTheToolsWidthToAStep) {
  start(exact());
  zero_on_the_stock();
  program({"S9000 M3", "G0 Z5", "G0 X20 Y20", "G1 Z-2 F300", "G1 X120 Y120 F1200", "G0 Z5"});
  EXPECT_NEAR(size(feature(Kind::inside, Axis::x, 70, 70, -1, 5.93 * std::sqrt(2))), 5.93 * std::sqrt(2), 0.03);
}

// The handbook's model of a first cut (section 16): a closed contour comes out narrower by the lost motion, inside and
// outside alike, and scale and cutter act as it says.
TEST_F(Cutting, PocketsTenonsAndSpacingsFollowTheHandbooksModel) {
  Scenario s = exact();
  const double B = 0.2, e = 0.004;
  s.axes[0].lost_motion = B;
  s.axes[0].true_steps_per_mm = 100 / (1 + e);
  start(s);
  zero_on_the_stock();
  const double D = 6, r = D / 2, dD = 5.93 - 6;
  // Round the inside of a 60 mm pocket and the outside of a 60 mm tenon, as CAM output does for a 6 mm cutter.
  const auto frame = [&](double x, double y, double half) {
    const auto go = [&](double dx, double dy) { return fmt::format("G1 X{} Y{} F900", x + dx, y + dy); };
    return std::vector<std::string>{fmt::format("G0 X{} Y{}", x - half, y - half),
                                    "G1 Z-2 F300",
                                    go(half, -half),
                                    go(half, half),
                                    go(-half, half),
                                    go(-half, -half),
                                    go(half, -half),
                                    "G0 Z5"};
  };
  std::vector<std::string> blocks{"G21 G90 S9000 M3", "G0 Z5"};
  for (const auto& b : frame(60, 60, 30 - r)) blocks.push_back(b);
  for (const auto& b : frame(180, 60, 30 + r)) blocks.push_back(b);
  program(blocks);
  // A pocket's outline alone was cut, so its width is from the outside of one groove to the outside of the other.
  const auto sweeps = machine_->plant().cut().sweeps();
  const auto at = [&](double x, double y) {
    const auto f = feature(Kind::inside, Axis::x, x, y, -1, 1);
    const auto now = link().status().position;
    const auto tip = machine_->plant().tip();
    return machine_->plant().in_stock(tip[0] + f.at.x - now.x, tip[1] + f.at.y - now.y);
  };
  const auto line = at(60, 60);
  const auto gaps = gaps_along(sweeps, {0, line[1]}, {1, 0}, machine_->plant().stock_top(0, 0) - 1);
  ASSERT_EQ(gaps.size(), 4u);
  const double inside = gaps[1].high - gaps[0].low, outside = gaps[3].low - gaps[2].high;
  EXPECT_NEAR(inside - 60, e * (60 - D) + dD - B, 0.012);
  EXPECT_NEAR(outside - 60, e * (60 + D) - dD - B, 0.012);
  auto tenon = feature(Kind::outside, Axis::x, 180, 60, -1, 60);
  EXPECT_NEAR(size(tenon), outside, 1e-9);
  auto spacing = feature(Kind::spacing, Axis::x, 60 - 27, 60, -1, 114);
  spacing.other = feature(Kind::spacing, Axis::x, 180 - 33, 60, -1, 114).at;
  EXPECT_NEAR(size(spacing), 114 * (1 + e), 0.012) << "like edges are cut in the same sense";
}

TEST_F(Cutting, AReadingOfTheCutIsTheSizeThroughTheInstrument) {
  start(exact());
  zero_on_the_stock();
  program({"S9000 M3", "G0 Z5", "G0 X20 Y40", "G1 Z-3 F300", "G1 X120 F1200", "G0 Z5"});
  const auto slot = feature(Kind::inside, Axis::y, 70, 40, -1, 5.93);
  double sum = 0;
  for (int i = 0; i < 400; ++i) {
    const double r = bench().measure(slot, "caliper").value();
    EXPECT_NEAR(std::remainder(r, 0.01), 0, 1e-9);
    sum += r / 400;
  }
  EXPECT_NEAR(sum, 5.93, 0.002);
  EXPECT_EQ(bench().measure(slot, "laser").error().code, "unknown_instrument");
}

TEST(GapsAlong, ClosedForms) {
  // A round hole of radius 2: chords at heights 0 and 1.2 (3-4-5: half chord 1.6).
  const std::vector<Sweep> hole{{{10, 10, -5}, {10, 10, -5}, 2}};
  auto gaps = gaps_along(hole, {0, 10}, {1, 0}, -1);
  ASSERT_EQ(gaps.size(), 1u);
  EXPECT_DOUBLE_EQ(gaps[0].high - gaps[0].low, 4);
  gaps = gaps_along(hole, {0, 11.2}, {1, 0}, -1);
  EXPECT_NEAR(gaps[0].high - gaps[0].low, 3.2, 1e-12);
  EXPECT_TRUE(gaps_along(hole, {0, 12.1}, {1, 0}, -1).empty());
  EXPECT_TRUE(gaps_along(hole, {0, 10}, {1, 0}, -6).empty()) << "below the floor";
  // A ramp from 0 to -4 over 8 mm is below -1 from a quarter of its way on: it begins at 2 - r.
  const std::vector<Sweep> ramp{{{0, 0, 0}, {8, 0, -4}, 0.5}};
  gaps = gaps_along(ramp, {-10, 0}, {1, 0}, -1);
  EXPECT_NEAR(gaps[0].low - 10, 2 - 0.5, 1e-12);
  EXPECT_NEAR(gaps[0].high - 10, 8.5, 1e-12);
  // The straight side of a slanted stretch, met away from its round ends: width / sin of the slant.
  const std::vector<Sweep> slant{{{0, 0, -1}, {30, 40, -1}, 1}};
  gaps = gaps_along(slant, {0, 20}, {1, 0}, 0);
  EXPECT_NEAR(gaps[0].high - gaps[0].low, 2 / 0.8, 1e-12);
  EXPECT_NEAR((gaps[0].high + gaps[0].low) / 2, 15, 1e-12);
  EXPECT_DOUBLE_EQ(floor_at(ramp, 4, 0.3, 9), -2.2) << "at 0.3 aside the disc reaches 0.4 further along";
}

/// A job over the link, bytes and all, as a program outside would see it.
std::string replay(std::uint64_t seed, std::vector<Sweep>* sweeps) {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.scenario.json");
  std::stringstream text;
  text << file.rdbuf();
  std::string scenario = text.str();
  const auto at = scenario.find("20261123");
  scenario.replace(at, 8, std::to_string(seed));
  auto machine = ServedMachine::from_scenario(scenario).value();
  std::string bytes;
  double wall = 0;
  const auto pass = [&](double seconds) {
    for (double t = 0; t < seconds; t += 0.02) {
      machine->advance(0.02);
      machine->receive("\x05\xfa");
      machine->poll(wall += 0.02);
      bytes += machine->take_output();
    }
  };
  std::uint32_t number = 0;
  const auto say = [&](const std::string& payload) { machine->receive(link::down_line(number++, payload)); };
  say(R"({"hello":{"link":2,"name":"replay"}})");
  say(R"({"do":"home"})");
  pass(40);
  say(R"({"do":"begin"})");
  for (const char* block : {"1:G21 G91 S9000 M3", "2:G0 X250 Y200", "3:G0 Z-98", "4:G1 Z-6 F300", "5:G1 X40 Y25 F900",
                            "6:G2 X20 Y0 I10 J0", "7:G0 Z30", "8:M5"})
    say(block);
  say(R"({"do":"end"})");
  pass(60);
  say(R"({"do":"mark","axis":"x"})");
  say(R"({"do":"jog","axis":"x","distance_mm":100,"rate_mm_min":3000})");
  pass(10);
  say(R"({"do":"read_distance","axis":"x","instrument":"ruler"})");
  pass(1);
  const auto cut = truth_of(*machine).plant().cut().sweeps();
  sweeps->assign(cut.begin(), cut.end());
  return bytes;
}

TEST(Replay, AJobReplaysToTheSameBytesWithTheSameSeed) {
  std::vector<Sweep> one, again, other;
  const std::string first = replay(7, &one);
  EXPECT_EQ(first, replay(7, &again));
  EXPECT_EQ(one, again);
  EXPECT_GT(one.size(), 3u) << "something was cut";
  EXPECT_NE(first.find("\"value\""), std::string::npos);
  EXPECT_NE(replay(8, &other), first);
  EXPECT_NE(one, other) << "another seed scatters otherwise";
}

}  // namespace
}  // namespace ypsi::standin
