// How deep engravings come out: ladders, margins in a plate, what is kept, and a nose at the machine.
#include "core/tasks/engraving.h"
#include "core/book/worksheets/trials.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

#include "core/book/book_json.h"
#include "core/book/record.h"
#include "core/engraver_book.h"
#include "core/program/checks.h"
#include "core/tasks/certificate.h"

namespace ypsi {
namespace engraving_test {

const std::string today = "2026-11-28T12:00:00+00:00";
/// Ticks and depths of six grooves; what a line through them tells was reckoned apart, t(0.975; 4) from a table.
constexpr std::array<std::array<double, 2>, 6> grooves{
    {{4, 0.072}, {6, 0.118}, {8, 0.172}, {10, 0.221}, {12, 0.271}, {14, 0.327}}};

/// The plate of two layers, a ladder typed.
Book engraver() {
  Book b = engraver_book();
  Instrument exact;
  exact.name = "caliper";
  exact.resolution_mm = 1e-6;
  exact.s_mm = 0;
  b.instruments = {exact};
  DepthSheet& s = b.worksheets[trials_worksheet].depth;
  for (const auto& [tick, depth] : grooves) s.grooves.push_back({tick, depth});
  b.job.materials = {{.name = "red over white", .cap_mm = 0.2, .total_mm = 1.6}};
  return b;
}

TEST(DepthTicks, TellTheTickAndHowFarTheNextGrooveIsFromIt) {
  std::vector<Groove> ladder;
  for (const auto& [tick, depth] : grooves) ladder.push_back({tick, depth});
  const auto t = evaluate_ticks(ladder, 0.28);
  ASSERT_TRUE(t);
  EXPECT_NEAR(t->mm_per_tick, 0.025471428571428572, 1e-12);
  EXPECT_NEAR(t->zero_tick, 1.2723873621237611, 1e-9);
  EXPECT_NEAR(t->tick, 12.265096279678444, 1e-9);
  EXPECT_NEAR(t->u_next, 0.0029990135474258456, 1e-10);
  EXPECT_NEAR(t->U_next, 0.008326596484172374, 1e-9);
  EXPECT_NEAR(t->U_depth, 0.004094700863306046, 1e-9);
  const auto coarse = evaluate_ticks(ladder, 0.28, 0.02);
  EXPECT_NEAR(coarse->s, 0.02, 1e-12) << "never better than its instrument";
  EXPECT_NEAR(coarse->U_next / t->U_next, 0.02 / 0.002611330622316453, 1e-6);
}

TEST(DepthMargins, NameWhatIsWrongFirst) {
  const PlateLayers plate{0.2, 1.6, 1};
  const struct {
    double depth, U;
    DepthVerdict verdict;
  } cases[] = {{0.28, 0.02, DepthVerdict::clears},      {0.2, 0.02, DepthVerdict::misses_cap},
               {0.1, 0.02, DepthVerdict::misses_cap},   {0.21, 0.02, DepthVerdict::unsure_cap},
               {0.59, 0.02, DepthVerdict::unsure_core}, {0.61, 0.02, DepthVerdict::too_deep}};
  for (const auto& c : cases) EXPECT_EQ(depth_margins(plate, c.depth, c.U).verdict, c.verdict) << c.depth;
  const auto m = depth_margins(plate, 0.28, 0.02);
  EXPECT_NEAR(m.below_cap, 0.08, 1e-12);
  EXPECT_NEAR(m.left, 1.32, 1e-12);
  EXPECT_NEAR(m.least, 0.22, 1e-12);
  EXPECT_NEAR(m.most, 0.58, 1e-12);
  EXPECT_EQ(depth_margins({}, 0.01, 0.5).verdict, DepthVerdict::clears) << "of one piece, its thickness not said";
}

/// With one degree of freedom Student's t is Cauchy's: P(T < t) = 1/2 + atan(t)/pi.
TEST(DepthMargins, AChanceIsThatOfStudentsT) {
  for (const double t : {-3.0, -0.5, 0.0, 1.0, 10.0})
    EXPECT_NEAR(chance_above(0.3, 0.3 + 0.01 * t, 0.01, 1), 0.5 + std::atan(t) / std::numbers::pi, 1e-12);
  EXPECT_EQ(chance_above(0.3, 0.2, 0, 5), 0);
  EXPECT_EQ(chance_above(0.1, 0.2, 0, 5), 1);
}

/// Plates engraved by what a ladder said: a groove lies within U as often as it is said, and misses the cap as often.
TEST(DepthMargins, HoldOverManyPlates) {
  std::mt19937_64 random(23);
  std::normal_distribution<double> normal;
  constexpr int plates = 4000;
  constexpr double mm_per_tick = 0.0254, zero_tick = 1.3, s = 0.006;
  int within = 0, missed = 0;
  double said = 0;
  for (int i = 0; i < plates; ++i) {
    std::vector<Groove> ladder;
    for (int g = 0; g < 6; ++g)
      ladder.push_back({4.0 + 2 * g, mm_per_tick * (4.0 + 2 * g - zero_tick) + s * normal(random)});
    const double depth = std::uniform_real_distribution<double>(0.15, 0.3)(random),
                 cap = depth + 0.006 * std::uniform_real_distribution<double>(-3, 1)(random);
    const auto t = evaluate_ticks(ladder, depth);
    ASSERT_TRUE(t);
    const double next = mm_per_tick * (t->tick - zero_tick) + s * normal(random);
    within += std::fabs(next - depth) <= t->U_next ? 1 : 0;
    missed += next <= cap ? 1 : 0;
    said += chance_above(depth, cap, t->u_next, t->dof);
  }
  EXPECT_GE(within, plates * 0.935);
  EXPECT_LE(within, plates * 0.965);
  EXPECT_NEAR(missed, said, 0.03 * plates) << "as often as it was said";
}

TEST(Engraving, IsToldWithItsMarginsAndTheWidthOfItsLine) {
  const auto f = evaluate_engraving(engraver());
  ASSERT_TRUE(f) << f.error().message;
  EXPECT_NEAR(f->ticks.tick, 12.265, 1e-3);
  EXPECT_NEAR(f->U_next, 0.0083266, 1e-6);
  EXPECT_EQ(f->margins.verdict, DepthVerdict::clears);
  EXPECT_LT(f->chance_missed, 1e-4);
  // A line is as wide as the tip and twice the depth times the tangent of half the angle.
  const double slope = 2 * std::tan(std::numbers::pi / 6);
  EXPECT_NEAR(*f->width, 0.2 + 0.28 * slope, 1e-12);
  EXPECT_NEAR(*f->U_width, f->U_next * slope, 1e-9);

  Book b = engraver();
  b.instruments[0].u_cal_mm = 0.015;
  EXPECT_NEAR(evaluate_engraving(b)->U_next, std::hypot(f->U_next, 1.959964 * 0.015), 1e-6) << "common to all grooves";
  b.worksheets[trials_worksheet].depth.instrument = "loupe";
  EXPECT_EQ(evaluate_engraving(b).error().code, "no_instrument");
  b = engraver();
  b.worksheets[trials_worksheet].depth.grooves.resize(2);
  EXPECT_EQ(evaluate_engraving(b).error().code, "too_few");
}

TEST(Engraving, WidthsTellDepthsByTheToolsShapeAlone) {
  Book b = engraver();
  DepthSheet& s = b.worksheets[trials_worksheet].depth;
  const auto by_depth = evaluate_engraving(b);
  s.by_width = true;
  for (TickGroove& g : s.grooves) g.measured_mm = 0.2 + 2 * g.measured_mm * std::tan(std::numbers::pi / 6);
  const auto by_width = evaluate_engraving(b);
  ASSERT_TRUE(by_width) << by_width.error().message;
  EXPECT_NEAR(by_width->ticks.tick, by_depth->ticks.tick, 1e-9);
  b.instruments[0].s_mm = 0.02;  // of a width: less of a depth, by the slope of the tool
  EXPECT_NEAR(evaluate_engraving(b)->ticks.s, 0.02 / (2 * std::tan(std::numbers::pi / 6)), 1e-5);
  b.tools[0].angle = b.tools[0].tip = 0;
  EXPECT_EQ(evaluate_engraving(b).error().code, "no_shape");
  b.worksheets[trials_worksheet].tool = 0;
  EXPECT_EQ(evaluate_engraving(b).error().code, "no_shape");
}

TEST(Engraving, IsKeptByMaterialAndToolAndNotTakenForALook) {
  Book b = engraver();
  const auto f = evaluate_engraving(b);
  keep_engraving(b, *f, today);
  ASSERT_EQ(b.history.size(), 1u);
  EXPECT_EQ(b.history[0].readings.get().size(), 6u);
  EXPECT_TRUE(b.worksheets[trials_worksheet].depth.grooves.empty());
  EXPECT_EQ(plate_material(b).cap_mm, 0.2) << "the plate is the same";
  const auto kept = engraving_for(b, "red over white", 3);
  ASSERT_TRUE(kept);
  EXPECT_NEAR(*kept->set, 12.265, 1e-3);
  EXPECT_EQ(kept->gauge, "ticks");
  EXPECT_EQ(kept->cap, 0.2);
  EXPECT_FALSE(engraving_for(b, "red over white", 4));
  EXPECT_FALSE(setting_for(b, "red over white", 3)) << "nobody looked whether it went through";
  b.job.stock_name = "red over white";
  EXPECT_TRUE(kept_settings(b).empty());
  const auto lines = trials_task().certificate(b);
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_EQ(lines[0].code, "certified_depth");
  EXPECT_NEAR(*lines[0].value(b.history[0]), 0.28, 1e-12);
  EXPECT_EQ(trials_task().summary(b.history[0]).front().code, "depth_set");
  // Through the file and back, a ladder in hand with it.
  b.worksheets[trials_worksheet].depth.grooves.push_back({7, 0.14});
  b.worksheets[trials_worksheet].depth.by_z = true;
  const auto again = read_book(write_book(b));
  ASSERT_TRUE(again) << again.error().message;
  EXPECT_EQ(again->book.worksheets[trials_worksheet].depth, b.worksheets[trials_worksheet].depth);
  EXPECT_TRUE(engraving_for(again->book, "red over white", 3));
}

TEST(Engraving, APlainSpindleIsToldByZ) {
  Book b = engraver();
  EXPECT_TRUE(by_nose(b));
  b.worksheets[trials_worksheet].depth.by_z = true;
  EXPECT_FALSE(by_nose(b));
  b.machine.heads.clear();
  b.worksheets[trials_worksheet].depth.by_z = false;
  EXPECT_FALSE(by_nose(b));
  EXPECT_TRUE(trials_task().applies_to(b.machine));
  DepthSheet& s = b.worksheets[trials_worksheet].depth;
  s.grooves.clear();
  for (const double z : {0.1, 0.2, 0.3, 0.4}) s.grooves.push_back({z, z - 0.03});  // Z zero stands 0.03 too high
  const auto f = evaluate_engraving(b);
  ASSERT_TRUE(f);
  EXPECT_NEAR(f->ticks.mm_per_tick, 1, 1e-9);
  EXPECT_NEAR(f->ticks.zero_tick, 0.03, 1e-9);
  EXPECT_NEAR(f->ticks.tick, 0.31, 1e-9);
  b.machine.kind = "moving_gantry";
  EXPECT_FALSE(trials_task().applies_to(b.machine));
}

TEST(Engraving, ALadderLiesOverThePlateAndStopsWhereTheNoseIsTurned) {
  Book b = engraver();
  b.worksheets[trials_worksheet].depth.grooves.clear();
  const auto ladder = engraving_ladder(b);
  ASSERT_TRUE(ladder) << ladder.error().message;
  ASSERT_EQ(ladder->ticks.size(), 6u);
  EXPECT_TRUE(std::is_sorted(ladder->ticks.begin(), ladder->ticks.end()));
  EXPECT_LE(ladder->ticks.back(), 25);
  EXPECT_GT(ladder->lines.back().y0 - ladder->lines.front().y0, 40) << "an uneven plate is told too";
  for (const HeadLine& l : ladder->lines)
    EXPECT_TRUE(l.x0 >= 0 && l.x1 <= 100 && l.y0 >= 0 && l.y0 <= 57) << l.x1 << " " << l.y0;
  const auto made = head_lines_program(b, ladder->lines, {});
  ASSERT_TRUE(made) << made.error().message;
  std::size_t pauses = 0;
  for (const Event& e : made->program.events) pauses += e.kind == EventKind::stop ? 1 : 0;
  EXPECT_EQ(pauses, 6u) << "the nose is turned by hand";
  b.worksheets[trials_worksheet].depth.by_z = true;
  const auto by_z = engraving_ladder(b);
  ASSERT_TRUE(by_z);
  EXPECT_TRUE(by_z->lines.front().before.empty());
  EXPECT_NEAR(*by_z->lines.back().depth, 0.56, 1e-9) << "to twice what is wanted";
  EXPECT_LT(*by_z->lines.front().depth, *by_z->lines.back().depth);
  b.job.stock_size = {15, 57, 1.6};
  EXPECT_EQ(engraving_ladder(b).error().code, "no_stock");
}

}  // namespace engraving_test
}  // namespace ypsi
