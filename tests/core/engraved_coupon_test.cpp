// An engraver's first engraving as a program, and what its lines say, against a plate whose errors are laid out here by
// plain geometry: where each line lies, how deep, hence how wide.
#include "core/program/engraved_coupon.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

#include "core/book/record.h"
#include "core/book/worksheets/cut.h"
#include "core/book/worksheets/trials.h"
#include "core/calibration/depth_plane.h"
#include "core/engraver_book.h"
#include "core/tasks/coupon_choice.h"
#include "core/tasks/engraved_cut.h"
#include "core/tasks/engraving.h"
#include "core/tasks/measure_cut.h"

namespace ypsi {
namespace engraved_coupon_test {

constexpr double plate_mm_x = 100, plate_mm_y = 57;
const double slope = 2 * std::tan(std::numbers::pi / 6);  // of a width for a depth, 60 degrees

Instrument exact(const char* name) {
  Instrument i;
  i.name = name;
  i.resolution_mm = 1e-4;
  i.s_mm = 1e-4;
  return i;
}

/// An engraver whose nose was tried: 12 ticks for 0.28 mm, 0.025 mm a tick.
Book engraver() {
  Book b = engraver_book();
  Tool flat;
  flat.number = 1;
  flat.diameter = 3;
  b.tools.insert(b.tools.begin(), flat);
  b.instruments = {exact("caliper"), exact(magnifier)};
  b.job.stock_corner = {5, 10};
  DepthSheet& s = b.worksheets[trials_worksheet].depth;
  for (const double tick : {4.0, 8.0, 12.0, 16.0}) s.grooves.push_back({tick, 0.28 + 0.025 * (tick - 12)});
  keep_engraving(b, *evaluate_engraving(b), "2026-11-28T12:00:00+00:00");
  return b;
}

struct Errors {
  double scale_x = 0, scale_y = 0, lost_x = 0, lost_y = 0, lean = 0;
  double deeper = 0, right = 0, back = 0, tip = 0;  ///< right, back: deeper over the whole plate, mm
};

double deeper_at(const Errors& e, double x, double y) {
  return e.deeper + e.right * (x - 5 - plate_mm_x / 2) / plate_mm_x + e.back * (y - 10 - plate_mm_y / 2) / plate_mm_y;
}

void measure(Book& b, const Errors& e) {
  for (CutSize& s : b.worksheets[cut_worksheet].sizes) {
    const bool y = s.axis == Axis::y;
    const double depth = 0.28 + deeper_at(e, (*s.at_mm)[0], (*s.at_mm)[1]);
    switch (s.kind) {
      case FeatureKind::spacing:
        s.measured_mm = s.nominal_mm * (1 + (y ? e.scale_y : e.scale_x));
        break;
      case FeatureKind::between:
        s.measured_mm = s.nominal_mm * (1 + (y ? e.scale_y : e.scale_x)) - (y ? e.lost_y : e.lost_x);
        break;
      case FeatureKind::diagonal: {
        const double dy = ((*s.other_mm)[1] - (*s.at_mm)[1]) * (1 + e.scale_y);
        s.measured_mm = std::hypot(((*s.other_mm)[0] - (*s.at_mm)[0]) * (1 + e.scale_x) + dy * std::sin(e.lean),
                                   dy * std::cos(e.lean));
        break;
      }
      case FeatureKind::width:
        s.measured_mm = 0.2 + e.tip + slope * depth;
        break;
      case FeatureKind::depth:
        s.measured_mm = depth;
        break;
      default:
        FAIL() << "no such size is engraved";
    }
  }
}

std::optional<CutCause> of_kind(const CutReading& said, CutCauseKind kind, std::optional<Axis> axis = {}) {
  for (const CutCause& c : said.causes)
    if (c.kind == kind && c.axis == axis) return c;
  return std::nullopt;
}

Book engraved(const Errors& e) {
  Book b = engraver();
  b.worksheets[cut_worksheet] = make_test_cut(b, CouponKind::plate, "caliper")->worksheet;
  measure(b, e);
  return b;
}

TEST(EngravedCoupon, IsWhatAnEngraverIsOfferedFirst) {
  EXPECT_EQ(choose_coupon(engraver()).kind, CouponKind::plate);
  EXPECT_EQ(coupon_kinds(engraver().machine).front(), CouponKind::plate);
  Book router = engraver();
  router.machine.kind = "moving_gantry";
  router.machine.heads.clear();
  EXPECT_EQ(choose_coupon(router).kind, CouponKind::frame);
}

TEST(EngravedCoupon, StaysOnThePlateAndAsksForTheNoseFirst) {
  const auto made = make_test_cut(engraver(), CouponKind::plate, "caliper");
  ASSERT_TRUE(made) << made.error().message;
  const CutWorksheet& sheet = made->worksheet;
  EXPECT_EQ(sheet.tool, 3);
  EXPECT_NEAR(sheet.depth_mm, 0.28, 1e-12);
  EXPECT_NEAR(sheet.set_to.value_or(0), 12, 1e-6);
  EXPECT_EQ(sheet.short_instrument, magnifier);
  double low_x = 1e9, high_x = -1e9, low_y = 1e9, high_y = -1e9, deepest = 0;
  for (const Motion& m : made->coupon.program.motions) {
    if (m.kind != MotionKind::line) continue;
    low_x = std::min(low_x, m.end.x);
    high_x = std::max(high_x, m.end.x);
    low_y = std::min(low_y, m.end.y);
    high_y = std::max(high_y, m.end.y);
    deepest = std::min(deepest, m.end.z);
  }
  EXPECT_GE(low_x, 5);
  EXPECT_LE(high_x, 105);
  EXPECT_GE(low_y, 10);
  EXPECT_LE(high_y, 67);
  EXPECT_NEAR(deepest, -1, 1e-9) << "so that the nose rides";
  const std::string& text = made->coupon.text;
  EXPECT_NE(text.find("T3 M6"), std::string::npos);
  EXPECT_LT(text.find("turn the nose to 12.0 ticks"), text.find("M0"));
  EXPECT_LT(text.find("M0"), text.find("G1 Z-1.000"));
}

TEST(EngravedCoupon, OneErrorAfterTheOtherIsToldAndNothingElse) {
  const Errors all[] = {
      {.scale_x = 0.003},
      {.scale_y = -0.002},
      {.lost_x = 0.06},
      {.lost_y = 0.05},
      {.lean = 0.003},
      {.deeper = 0.05},
      {.right = 0.08},
      {.back = -0.07},
      {.tip = 0.04},
      {.tip = -0.05},
      {.scale_x = -0.004, .lost_y = 0.04, .lean = -0.002, .deeper = -0.03, .back = 0.05, .tip = 0.03}};
  for (const Errors& e : all) {
    const Book b = engraved(e);
    const auto said = read_cut(b);
    ASSERT_TRUE(said) << said.error().message;
    EXPECT_TRUE(said->sizes->undetermined.empty());
    constexpr double near = 2e-5;
    EXPECT_NEAR(of_kind(*said, CutCauseKind::steps, Axis::x)->value, e.scale_x, near);
    EXPECT_NEAR(of_kind(*said, CutCauseKind::steps, Axis::y)->value, e.scale_y, near);
    EXPECT_NEAR(of_kind(*said, CutCauseKind::lost_motion, Axis::x)->value, e.lost_x, near);
    EXPECT_NEAR(of_kind(*said, CutCauseKind::lost_motion, Axis::y)->value, e.lost_y, near);
    EXPECT_NEAR(of_kind(*said, CutCauseKind::lean)->value, e.lean, near);
    EXPECT_FALSE(of_kind(*said, CutCauseKind::z_zero)) << "a nose does not go by Z zero";
    EXPECT_NEAR(of_kind(*said, CutCauseKind::plate_lie)->off_x, e.right, 1e-4);
    EXPECT_NEAR(of_kind(*said, CutCauseKind::plate_lie)->off_y, e.back, 1e-4);
    EXPECT_NEAR(of_kind(*said, CutCauseKind::tip)->value, e.tip, 1e-4);
    // Told in the middle of the places, which lie about the plate's own.
    EXPECT_NEAR(of_kind(*said, CutCauseKind::nose)->value, e.deeper, 5e-3);
    for (const auto& left : said->residuals) EXPECT_NEAR(left.value_or(0), 0, 1e-4);
  }
}

TEST(EngravedCoupon, WithoutADepthTheTipIsTakenAsTheBookHasIt) {
  Book b = engraved({.deeper = 0.05});
  for (CutSize& s : b.worksheets[cut_worksheet].sizes)
    if (s.kind == FeatureKind::depth) s.measured_mm.reset();
  const auto said = read_cut(b);
  ASSERT_TRUE(said);
  EXPECT_FALSE(of_kind(*said, CutCauseKind::tip));
  EXPECT_NEAR(of_kind(*said, CutCauseKind::nose)->value, 0.05, 1e-4);
}

TEST(EngravedCoupon, ByZItIsZZeroThatIsTooLow) {
  Book b = engraver();
  b.worksheets[trials_worksheet].depth.by_z = true;
  const auto made = make_test_cut(b, CouponKind::plate, "caliper");
  ASSERT_TRUE(made);
  EXPECT_FALSE(made->worksheet.set_to);
  EXPECT_EQ(made->coupon.text.find("M0"), std::string::npos);
  b.worksheets[cut_worksheet] = made->worksheet;
  measure(b, {.deeper = 0.05});
  const auto said = read_cut(b);
  ASSERT_TRUE(said);
  EXPECT_FALSE(of_kind(*said, CutCauseKind::nose));
  EXPECT_NEAR(of_kind(*said, CutCauseKind::z_zero)->value, 0.05, 1e-4);
}

TEST(EngravedCoupon, NoseAndTipArePutRightOnce) {
  Book b = engraved({.deeper = 0.05, .tip = 0.04});
  const auto said = read_cut(b);
  ASSERT_TRUE(said);
  const CutCause nose = *of_kind(*said, CutCauseKind::nose), tip = *of_kind(*said, CutCauseKind::tip);
  Entry e;
  e.time = "2026-11-29T10:00:00+00:00";
  e.readings = cut_readings(b.worksheets[cut_worksheet]);
  ASSERT_TRUE(nose.significant && tip.significant);
  EXPECT_FALSE(already_applied(b, nose));
  correct_depth_setting(b, nose, e);
  EXPECT_TRUE(already_applied(b, nose));
  // At 12 ticks it is 0.33 deep, 0.025 a tick: 0.28 is two ticks less.
  EXPECT_NEAR(*engraving_for(b, "red over white", 3)->set, 10, 1e-2);
  EXPECT_NEAR(*engraving_for(b, "red over white", 3)->depth, 0.28, 1e-9);
  EXPECT_FALSE(already_applied(b, tip));
  e.sheet = measure_cut_id;
  e.subject = "T3";
  correct_tip(b, tip, e);
  EXPECT_TRUE(already_applied(b, tip));
  EXPECT_NEAR(b.tool(3)->tip, 0.24, 1e-4);
  EXPECT_NEAR(*finding_of<MeasuredEntry>(b.history.back()).tip, 0.24, 1e-4);
  const auto again = read_cut(b);
  ASSERT_TRUE(again);
  EXPECT_NEAR(of_kind(*again, CutCauseKind::tip)->value, 0, 1e-4) << "read with the tip as it is now";
}

TEST(EngravedCoupon, SaysWhatItNeeds) {
  const auto refused = [](const Book& b) {
    const auto made = make_test_cut(b, CouponKind::plate, "caliper");
    return made ? std::string("made") : made.error().code;
  };
  Book b = engraver();
  b.tools = {b.tools[0]};
  b.worksheets[trials_worksheet].tool = 0;
  EXPECT_EQ(refused(b), "no_tool") << "widths of a flat tool tell no depth";
  b = engraver();
  b.history.clear();
  EXPECT_EQ(refused(b), "no_depth");
  b = engraver();
  b.job.stock_size = {30, 30, 1.6};
  EXPECT_EQ(refused(b), "no_room");
  b.job.stock_size = {0, 0, 0};
  EXPECT_EQ(refused(b), "no_stock");
  EXPECT_EQ(make_coupon(CouponKind::plate, {}).error().code, "out_of_range");
  b = engraved({});
  b.tools = {b.tools[0]};
  EXPECT_EQ(read_cut(b).error().code, "no_shape") << "the point was taken out of the book since";
}

TEST(DepthPlane, HoldsWhatItWasDrawnWith) {
  std::mt19937_64 random(4);
  std::normal_distribution<double> normal;
  std::uniform_real_distribution<double> any(-1, 1);
  Instrument lens = exact(magnifier);
  lens.resolution_mm = 0.02;
  lens.s_mm = 0.01;
  lens.u_cal_mm = 0.005;
  const double per = 1 / slope;
  int held_middle = 0, held_x = 0, held_tip = 0, machines = 400;
  for (int m = 0; m < machines; ++m) {
    const double deeper = 0.05 * any(random), right = 0.002 * any(random), tip = 0.05 * any(random);
    const double off_width = lens.u_cal_mm * normal(random), off_depth = lens.u_cal_mm * normal(random);
    std::vector<DepthTold> told;
    const auto round = [&](double v) { return std::round(v / lens.resolution_mm) * lens.resolution_mm; };
    for (const auto& [x, y] : {std::pair{7.0, 7.0}, {93, 7}, {93, 50}, {7, 50}, {50, 28}}) {
      const double depth = 0.28 + deeper + right * (x - 50);
      const double width = round(0.2 + tip + slope * depth + off_width + lens.scatter_mm() * normal(random));
      told.push_back({x, y, (width - 0.2) * per - 0.28, per});
    }
    told.push_back({48, 28, round(0.28 + deeper + off_depth + lens.scatter_mm() * normal(random)) - 0.28, {}});
    const auto plane = fit_depth_plane(told, lens);
    ASSERT_TRUE(plane);
    double middle = 0;
    for (const DepthTold& t : told) middle += t.x / static_cast<double>(told.size());
    const double k = plane->coverage.k;
    held_middle += std::fabs(plane->middle.value - deeper - right * (middle - 50)) <= k * plane->middle.u ? 1 : 0;
    held_x += std::fabs(plane->along_x->value - right) <= k * plane->along_x->u ? 1 : 0;
    held_tip += std::fabs(plane->wider_tip->value - tip) <= k * plane->wider_tip->u ? 1 : 0;
  }
  for (const int held : {held_middle, held_x, held_tip}) EXPECT_GE(held, 0.93 * machines);
}

TEST(DepthPlane, SaysOnlyWhatItsPlacesTell) {
  const Instrument with = exact("depth rod");
  EXPECT_EQ(fit_depth_plane({}, with).error().code, "too_few");
  EXPECT_EQ(fit_depth_plane({{0, 0, NAN, {}}}, with).error().code, "out_of_range");
  const auto one = fit_depth_plane({{3, 4, 0.1, {}}}, with);
  ASSERT_TRUE(one);
  EXPECT_NEAR(one->middle.value, 0.1, 1e-12);
  EXPECT_FALSE(one->along_x);
  EXPECT_FALSE(one->wider_tip);
  const auto row = fit_depth_plane({{0, 0, 0.1, {}}, {1, 0, 0.2, {}}, {2, 0, 0.3, {}}, {3, 0, 0.4, {}}}, with);
  ASSERT_TRUE(row);
  EXPECT_FALSE(row->along_y) << "places in a row tell nothing across it";
  EXPECT_NEAR(row->middle.value, 0.25, 1e-12);
}

}  // namespace engraved_coupon_test
}  // namespace ypsi
