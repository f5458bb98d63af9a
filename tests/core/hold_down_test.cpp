// What a vacuum bed holds, against shapes whose areas are known and against points thrown at them.
#include "core/outline/hold_down.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "core/book/changes.h"
#include "core/drawing_in/freed_pieces.h"
#include "core/drawing_in/mend.h"
#include "core/drawing_text.h"

namespace ypsi {
namespace hold_down_test {

using namespace drawing_text;

VacuumBed two_zones() {
  VacuumBed bed;
  bed.zones = {{"left", 0, 0, 100, 100}, {"right", 100, 0, 100, 100}};
  bed.pressure_kPa = 18;
  return bed;
}

TEST(HoldDown, OpensWhatIsCoveredAndNamesWhatToMask) {
  // 100 x 100 and 85 x 100 of the two zones; 0.0185 m^2 x 18000 Pa x 0.3.
  const auto held = hold_down(two_zones(), rectangle(0, {185, 100}), {});
  ASSERT_TRUE(held) << held.error().message;
  EXPECT_TRUE(held->zones[0].open && held->zones[1].open);
  EXPECT_NEAR(held->zones[1].covered, 0.85, 1e-9);
  EXPECT_NEAR(held->zones[1].to_mask, 1500, 1e-3);
  EXPECT_NEAR(held->held, 18500, 1e-3);
  EXPECT_NEAR(held->force_N.value(), 99.9, 1e-6);
  const auto less = hold_down(two_zones(), rectangle(0, {179, 100}), {});
  EXPECT_FALSE(less->zones[1].open) << "79 % is less than the owner's share";
  EXPECT_EQ(less->zones[1].to_mask, 0) << "its valve is shut";
  EXPECT_NEAR(less->held, 10000, 1e-3);
  VacuumBed any = two_zones();
  any.open_share = 0;
  EXPECT_TRUE(hold_down(any, rectangle(0, {101, 100}), {})->zones[1].open);
  EXPECT_FALSE(hold_down(any, rectangle(0, {99, 100}), {})->zones[1].open) << "nothing lies over it";
  any.pressure_kPa = 0;
  EXPECT_FALSE(hold_down(any, rectangle(0, {101, 100}), {})->force_N) << "the pressure is not known";
}

TEST(HoldDown, ASquareOnItsTipCoversHalfOfTheZoneAroundIt) {
  VacuumBed bed = two_zones();
  bed.open_share = 0.5;
  const double side = 100 / std::numbers::sqrt2;
  const auto held = hold_down(bed, rectangle(PlanPoint(50, 0), {side, side}, std::numbers::pi / 4, {50, 0}), {});
  ASSERT_TRUE(held);
  EXPECT_NEAR(held->zones[0].covered, 0.5, 1e-6);
  EXPECT_TRUE(held->zones[0].open);
  EXPECT_NEAR(held->zones[1].covered, 0, 1e-6);
}

TEST(HoldDown, APieceHoldsByItsOwnAreaOverOpenZones) {
  VacuumBed bed = two_zones();
  bed.smallest_piece_cm2 = 20;
  const FreedPiece ring{rectangle(PlanPoint(10, 10), {60, 60}), {rectangle(PlanPoint(20, 20), {40, 40})}},
      small{rectangle(PlanPoint(20, 20), {40, 40}), {}}, beyond{rectangle(PlanPoint(150, 0), {60, 60}), {}},
      across{rectangle(PlanPoint(80, 0), {60, 60}), {}};
  const auto held = hold_down(bed, rectangle(0, {110, 100}), {ring, small, beyond, across});
  ASSERT_TRUE(held);
  ASSERT_FALSE(held->zones[1].open);
  EXPECT_NEAR(held->pieces[0].area, 3600 - 1600, 1e-3);
  EXPECT_NEAR(held->pieces[0].force_N.value(), 2000e-6 * 18e3 * 0.3, 1e-6);
  EXPECT_FALSE(held->pieces[0].too_small) << "20 cm^2, not less";
  EXPECT_TRUE(held->pieces[1].too_small);
  EXPECT_NEAR(held->pieces[2].held, 0, 1e-3);
  EXPECT_TRUE(held->pieces[2].too_small) << "large, and over a zone that is shut";
  EXPECT_NEAR(held->pieces[3].held, 20 * 60, 1e-3) << "the part over the open zone";
}

/// Stocks that lie anyhow over zones that lie anyhow: what is covered is as many of the points thrown at it.
TEST(HoldDown, CoversWhatPointsThrownAtItSay) {
  std::mt19937_64 random(28);
  const auto between = [&](double low, double high) { return std::uniform_real_distribution(low, high)(random); };
  constexpr int points = 20000;
  for (int n = 0; n < 20; ++n) {
    VacuumBed bed;
    bed.open_share = 0;
    bed.zones = {{"z", between(0, 50), between(0, 50), between(50, 150), between(50, 150)}};
    const PlanPoint corner(between(-20, 60), between(-20, 60)), size(between(40, 200), between(40, 200));
    const double turn = between(-1.5, 1.5);
    const auto held = hold_down(bed, rectangle(corner, size, turn, corner), {});
    ASSERT_TRUE(held);
    int within = 0;
    for (int i = 0; i < points; ++i) {
      const VacuumZone& z = bed.zones[0];
      const PlanPoint p(z.x_mm.mm + between(0, z.width_mm), z.y_mm.mm + between(0, z.depth_mm));
      const PlanPoint back = (p - corner) * std::polar(1.0, -turn);
      within += back.real() > 0 && back.real() < size.real() && back.imag() > 0 && back.imag() < size.imag() ? 1 : 0;
    }
    EXPECT_NEAR(held->zones[0].covered, static_cast<double>(within) / points, 0.02);
  }
}

TEST(HoldDown, WhatIsMissingIsAskedFor) {
  EXPECT_EQ(hold_down({}, rectangle(0, {10, 10}), {}).error().code, "no_zones");
  EXPECT_EQ(hold_down(two_zones(), rectangle(0, {0, 10}), {}).error().code, "no_stock");
  EXPECT_EQ(hold_down(two_zones(), {}, {}).error().code, "no_stock");
  Book book;
  book.machine.vacuum = two_zones();
  book.job.stock_size = {100, 100, 1};
  EXPECT_EQ(held_on_bed(book, {}, 0).error().code, "no_zero");
}

/// A wheel presses through, a spindle only where it goes as deep as the stock is thick.
TEST(FreedPieces, AreWhatLiesBetweenOutlinesThatAreCutThrough) {
  Book book;
  Head wheel, spindle;
  wheel.name = "wheel";
  wheel.kind = HeadKind::wheel;
  wheel.lower = "M171";
  spindle.name = "spindle";
  book.machine.heads = {wheel, spindle};
  book.job.stock_size = {500, 500, 6};
  auto drawing = read_drawing(
      dxf(square(0, 0, 100, "a") + square(20, 20, 50, "a") + square(30, 30, 20, "a") + square(200, 0, 40, "b")));
  ASSERT_TRUE(drawing);
  (void)mend(*drawing);
  DrawingJob job;
  LayerAct a, b;
  a.layer = "a";
  a.act = DrawnAct::on_line;
  b = a;
  b.layer = "b";
  b.head = "spindle";
  b.depth_mm = 3;
  job.acts = {a, b};
  const auto areas = [&] {
    std::vector<double> all;
    for (const FreedPiece& p : freed_pieces(book, *drawing, job)) all.push_back(area_without(p.outline, p.holes));
    std::sort(all.begin(), all.end());
    return all;
  };
  const auto one = areas();
  ASSERT_EQ(one.size(), 3u) << "the spindle goes half through";
  EXPECT_NEAR(one[0], 400, 1e-3) << "the one within the hole";
  EXPECT_NEAR(one[1], 2500 - 400, 1e-3);
  EXPECT_NEAR(one[2], 10000 - 2500, 1e-3);
  job.acts[1].passes = 2;
  EXPECT_EQ(areas().size(), 3u) << "as deep in two passes as in one";
  job.acts[1].depth_mm = 6;
  EXPECT_EQ(areas().size(), 4u);
  job.acts[1].tabs = 2;
  job.acts[1].tab_mm = 5;
  EXPECT_EQ(areas().size(), 3u) << "held by its tabs";
  job.acts[1].tab_mm = 41;
  EXPECT_EQ(areas().size(), 4u) << "too short a line for them: they are left out, and it comes loose";
  job.acts[1].tabs = 0;
  job.columns = 3;
  EXPECT_EQ(areas().size(), 12u);
  job.acts[0].act = DrawnAct::crease;
  EXPECT_EQ(areas().size(), 3u) << "a crease frees nothing";
}

TEST(FreedPieces, LieWhereWorkZeroAndTheTurnPutThem) {
  Book book;
  book.machine.vacuum = two_zones();
  book.machine.vacuum.open_share = 0.2;
  book.job.stock_size = {80, 40, 1};
  book.job.zero(Axis::x) = 100;
  book.job.zero(Axis::y) = 0;
  // Turned by a quarter about work zero the stock lies over the left zone alone.
  const FreedPiece piece{rectangle(0, {80, 40}), {}};
  const auto flat = held_on_bed(book, {piece}, 0), turned = held_on_bed(book, {piece}, std::numbers::pi / 2);
  ASSERT_TRUE(flat && turned);
  EXPECT_TRUE(!flat->zones[0].open && flat->zones[1].open);
  EXPECT_TRUE(turned->zones[0].open && !turned->zones[1].open);
  EXPECT_NEAR(turned->pieces[0].held, 3200, 1e-3);
  // Zones are places of the machine: they are carried over with its steps.
  ASSERT_TRUE(change_steps_per_mm(book, Axis::x, book.machine.axis(Axis::x).steps_per_mm * 2));
  EXPECT_NEAR(book.machine.vacuum.zones[1].x_mm, 50, 1e-9);
}

}  // namespace hold_down_test
}  // namespace ypsi
