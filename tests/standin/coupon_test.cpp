// A first cut made on stand-ins with random errors, measured with a caliper, and read: what is told is the machine's
// own, within the U that goes with it; and the cut that follows the corrections has its sizes.
#include <fmt/format.h>

#include <map>
#include <random>
#include <set>

#include "core/book/worksheets/cut.h"
#include "core/program/coupon.h"
#include "core/tasks/coupon_choice.h"
#include "core/tasks/cut_reading.h"
#include "standin/references_fixture.h"

namespace ypsi::standin {
namespace {

class FirstCuts : public References {
 protected:
  CouponSetting setting() const {
    CouponSetting s;
    s.stock_width = 260;
    s.stock_height = 300;
    s.thickness = 18;
    s.tool_diameter = 6;
    return s;
  }
  void zero_on_the_stock(double too_deep) {
    home();
    const auto at = link().status().position;
    const auto tip = machine_->plant().tip();
    const auto& stock = machine_->scenario().stock;
    // What the controller counts for a way that is so long in truth.
    const auto counted = [this](Axis a, double way) {
      const auto& scenario = machine_->scenario();
      return way * scenario.axes[index(a)].true_steps_per_mm / scenario.controller[index(a)].steps_per_mm;
    };
    ASSERT_TRUE(link().set_work_zero(Axis::x, at.x + counted(Axis::x, stock.x - tip[0])));
    ASSERT_TRUE(link().set_work_zero(Axis::y, at.y + counted(Axis::y, stock.y - tip[1])));
    ASSERT_TRUE(link().set_work_zero(Axis::z,
                                     at.z + counted(Axis::z, machine_->plant().stock_top(50, 50) - tip[2]) - too_deep));
  }
  void cut(const Coupon& coupon) {
    std::vector<std::string> blocks;
    for (std::size_t at = 0; at < coupon.text.size();) {
      const std::size_t end = coupon.text.find('\n', at);
      blocks.push_back(coupon.text.substr(at, end - at));
      at = end + 1;
    }
    program(blocks);
  }
  std::vector<Feature> measured(const Coupon& coupon) {
    std::vector<Feature> all;
    const auto zero = link().status().work_zero;
    for (const CouponFeature& f : coupon.features) {
      const CutFeature laid{static_cast<CutFeature::Kind>(f.kind), f.axis, to_machine(f.at, zero),
                            to_machine(f.other, zero), f.nominal};
      const auto read = bench().measure(laid, "caliper");
      EXPECT_TRUE(read) << f.name << " " << read.error().message;
      if (read) all.push_back({f.kind, f.axis, f.nominal, *read});
    }
    return all;
  }
};

TEST_F(FirstCuts, TellTheMachinesErrorsWithinTheirU) {
  std::mt19937 random(23);
  std::uniform_real_distribution<double> scale(-0.006, 0.006), play(0, 0.5), cutter(-0.25, 0.25), deep(-0.15, 0.15);
  std::map<CutQuantity, std::pair<int, int>> held;  // of how many
  for (int i = 0; i < 12; ++i) {
    Scenario s = plain();
    s.seed = 900 + static_cast<std::uint64_t>(i);
    s.stock.size = {260, 300, 18};
    s.stock.rotation = s.bed_waviness = s.stock.thickness_variation = 0;
    s.bed_tilt = {};
    s.instruments["caliper"] = {"caliper", 0.01, 1, 0.01, 0.0, 0};
    const double ex = scale(random), ey = scale(random), ez = scale(random), bx = play(random), by = play(random),
                 dd = cutter(random), z0 = deep(random);
    s.axes[0].true_steps_per_mm = s.controller[0].steps_per_mm / (1 + ex);
    s.axes[1].true_steps_per_mm = s.controller[1].steps_per_mm / (1 + ey);
    s.axes[2].true_steps_per_mm = s.controller[2].steps_per_mm / (1 + ez);
    s.axes[0].lost_motion = bx;
    s.axes[1].lost_motion = by;
    s.tools = {{1, 6 + dd, 26, 0}};
    start(s);
    CouponSetting way = setting();
    way.rest = last_pass_rest(std::max(bx, by), 0.01);
    const auto coupon = make_coupon(CouponKind::frame, way);
    ASSERT_TRUE(coupon) << coupon.error().message;
    zero_on_the_stock(z0);
    cut(*coupon);
    FirstCutInput input;
    input.tool_diameter = 6;
    input.instrument = s.instruments["caliper"];
    input.features = measured(*coupon);
    // As measured before on the sheet Lost motion.
    input.lost_motion = {Known{bx, 0.005}, Known{by, 0.005}};
    const auto result = read_first_cut(input);
    ASSERT_TRUE(result) << result.error().message;
    EXPECT_TRUE(result->undetermined.empty());
    const std::map<CutQuantity, double> truth{{CutQuantity::scale_x, ex},          {CutQuantity::scale_y, ey},
                                              {CutQuantity::tool_diameter, dd},    {CutQuantity::lost_motion_x, bx},
                                              {CutQuantity::lost_motion_y, by},    {CutQuantity::scale_z, ez},
                                              {CutQuantity::z_zero, z0 * (1 + ez)}};
    for (const CutEstimate& e : result->estimates) {
      auto& [within, all] = held[e.quantity];
      const double step =
          e.quantity == CutQuantity::scale_x || e.quantity == CutQuantity::scale_y ? 1.0 / 80 / 100 : 0.003;
      within += std::fabs(e.value - truth.at(e.quantity)) <= e.U + step ? 1 : 0;
      ++all;
    }
  }
  for (const auto& [quantity, count] : held) EXPECT_GE(count.first, count.second - 1) << name(quantity);
  EXPECT_EQ(held.size(), static_cast<std::size_t>(cut_quantity_count));
}

// The other test cuts on a machine with errors: each tells what it was made for.
TEST_F(FirstCuts, ByHolesCirclesAndLinesTellTheLeanLostMotionAndScale) {
  Scenario s = plain();
  s.stock.size = {260, 300, 18};
  s.stock.rotation = s.bed_waviness = s.stock.thickness_variation = 0;
  s.bed_tilt = {};
  s.instruments["caliper"] = {"caliper", 0.01, 1, 0.005, 0.0, 0};
  const double lean = 0.0031, ex = 0.004, bx = 0.18, by = 0.07;
  s.skew = lean;
  s.axes[0].true_steps_per_mm = s.controller[0].steps_per_mm / (1 + ex);
  s.axes[0].lost_motion = bx;
  s.axes[1].lost_motion = by;
  s.tools = {{1, 6, 26, 0}};
  Book book;
  book.instruments = {s.instruments["caliper"]};
  for (const CouponKind kind : {CouponKind::square, CouponKind::circle, CouponKind::lines}) {
    start(s);
    const auto coupon = make_coupon(kind, setting());
    ASSERT_TRUE(coupon) << coupon.error().message;
    zero_on_the_stock(0);
    cut(*coupon);
    book.worksheets[cut_worksheet] = worksheet_of(*coupon, kind, setting(), "caliper");
    const auto sizes = measured(*coupon);
    ASSERT_EQ(sizes.size(), book.worksheets[cut_worksheet].sizes.size()) << name(kind);
    for (std::size_t i = 0; i < sizes.size(); ++i)
      book.worksheets[cut_worksheet].sizes[i].measured_mm = sizes[i].measured;
    const auto reading = read_cut(book);
    ASSERT_TRUE(reading) << reading.error().message;
    int told = 0;
    for (const CutCause& c : reading->causes) {
      constexpr double steps_mm = 0.0125;
      if (c.kind == CutCauseKind::lean) {
        EXPECT_NEAR(c.value, lean, c.U + steps_mm / 100);
        EXPECT_TRUE(c.significant);
        ++told;
      } else if (c.kind == CutCauseKind::steps && c.axis == Axis::x) {
        EXPECT_NEAR(c.value, ex, c.U + steps_mm / 80) << name(kind);
        ++told;
      } else if (c.kind == CutCauseKind::lost_motion) {
        EXPECT_NEAR(c.value, c.axis == Axis::x ? bx : by, c.U + steps_mm) << name(kind);
        ++told;
      }
    }
    EXPECT_EQ(told, kind == CouponKind::circle ? 3 : 1) << name(kind);
  }
}

TEST_F(FirstCuts, OfAnExactMachineHaveTheirSizes) {
  Scenario s = plain();
  s.stock.size = {260, 300, 18};
  s.stock.rotation = s.bed_waviness = s.stock.thickness_variation = 0;
  s.bed_tilt = {};
  s.tools = {{1, 6, 26, 0}};
  start(s);
  const auto coupon = make_coupon(CouponKind::frame, setting());
  ASSERT_TRUE(coupon) << coupon.error().message;
  EXPECT_EQ(coupon->features.size(), 13u) << "four insides, four outsides, two spacings, three depths";
  zero_on_the_stock(0);
  cut(*coupon);
  const auto zero = link().status().work_zero;
  for (const CouponFeature& f : coupon->features) {
    const auto size = bench().true_size(
        {static_cast<CutFeature::Kind>(f.kind), f.axis, to_machine(f.at, zero), to_machine(f.other, zero), f.nominal});
    ASSERT_TRUE(size) << f.name << " " << size.error().message;
    EXPECT_NEAR(*size, f.nominal, 0.03) << f.name;  // two steps of 1/80 mm
  }
}

TEST_F(FirstCuts, StayOnTheStockOrSayWhatTheyNeed) {
  for (const double width : {120.0, 150.0, 200.0, 400.0, 900.0})
    for (const double height : {90.0, 150.0, 220.0, 600.0})
      for (const double d : {1.0, 3.0, 6.0, 12.0}) {
        CouponSetting s = setting();
        s.stock_width = width;
        s.stock_height = height;
        s.tool_diameter = d;
        for (const CouponKind kind : coupon_kinds(MachineSetup{})) {
          const auto coupon = make_coupon(kind, s);
          if (!coupon) {
            EXPECT_EQ(coupon.error().code, "no_room");
            continue;
          }
          const Extents& e = coupon->program.cut;
          EXPECT_GE(e.low.x, d / 2);
          EXPECT_GE(e.low.y, d / 2);
          EXPECT_LE(e.high.x, width - d / 2);
          EXPECT_LE(e.high.y, height - d / 2);
          EXPECT_NEAR(e.low.z, -s.depth, 1e-9);
        }
      }
  // Each material gives a program within its own depth of a pass.
  for (int m = 0; m < cut_material_count; ++m) {
    CouponSetting by = setting();
    set_for(static_cast<CutMaterial>(m), by);
    EXPECT_GT(by.plunge, 0);
    EXPECT_LT(by.plunge, by.feed);
    const auto coupon = make_coupon(CouponKind::depths, by);
    ASSERT_TRUE(coupon) << coupon.error().message;
    std::set<double> levels{0};
    for (const Motion& motion : coupon->program.motions)
      if (motion.end.z < 0) levels.insert(motion.end.z);
    for (auto level = std::next(levels.begin()); level != levels.end(); ++level)
      EXPECT_LE(*level - *std::prev(level), by.pass + 1e-4) << name(static_cast<CutMaterial>(m));
    EXPECT_NEAR(*levels.begin(), -by.depth, 1e-9);
  }
  CouponSetting s = setting();
  s.depth = 18;
  EXPECT_EQ(make_coupon(CouponKind::frame, s).error().code, "out_of_range");
  s = setting();
  s.tool_diameter = 0;
  EXPECT_EQ(make_coupon(CouponKind::depths, s).error().code, "out_of_range");
}

}  // namespace
}  // namespace ypsi::standin
