// What a part is off by, and what of it is known.
#include <gtest/gtest.h>

#include <cmath>

#include "core/demo_book.h"
#include "core/tasks/budget.h"

namespace ypsi {
namespace {

Entry steps_found(const char* axis, double scale, double U_scale, double new_steps) {
  Entry e = change("steps_per_unit", axis, 80, 80);
  e.result = {{"scale", scale}, {"U_scale", U_scale}, {"new_steps_per_mm", new_steps}};
  return e;
}

// Numbers on paper: 300 mm at a scale of 1.0025 and 0.11 mm of slack are 0.75 - 0.11 long.
TEST(Budget, SizesAreSignedAndKindByKind) {
  Book book;
  book.job.part_width = 300;
  book.job.part_height = 300;
  EXPECT_FALSE(error_budget(book).sizes.headline) << "never measured is unknown, not zero";
  EXPECT_FALSE(error_budget(book).sizes.square);
  book.machine.axis(Axis::y).steps_per_mm = 80.2;
  book.history.push_back(steps_found("Y", 1.0, 0.001, 80.0));
  Entry lost = change("lost_motion", "Y", 0, 0);
  lost.result = {{"lost_motion_mm", 0.11}, {"U_lost_motion_mm", 0.02}};
  book.history.push_back(lost);
  Entry square = change("squareness", "", 0, 0);
  square.result = {{"skew_mrad", -2.0}, {"U_skew_mrad", 0.5}};
  book.history.push_back(square);
  const Budget budget = error_budget(book);
  const auto& y = budget.sizes.axes[1];
  EXPECT_NEAR(y.spacing->bias, 0.75, 1e-9);
  EXPECT_NEAR(y.outside->bias, 0.64, 1e-9);
  EXPECT_NEAR(y.inside->bias, 0.64, 1e-9);
  const double warm = 1.959964 * 300 * 23e-6 * 3;  // the shed
  EXPECT_NEAR(y.spacing->U, std::hypot(0.3, warm), 1e-6);
  EXPECT_NEAR(y.outside->U, std::hypot(std::hypot(0.3, warm), 0.02), 1e-6);
  EXPECT_EQ(budget.sizes.worst_axis, 1U);
  EXPECT_EQ(budget.sizes.worst_kind, SizeKind::spacing);
  EXPECT_NEAR(*budget.sizes.headline, 0.75 + y.spacing->U * 2.241403 / 1.959964, 1e-5);
  EXPECT_FALSE(budget.sizes.axes[0].spacing) << "nobody measured X";
  EXPECT_NEAR(budget.sizes.square->bias, 0.6, 1e-5);
  EXPECT_NEAR(budget.sizes.square->U, 0.15, 1e-9);
  EXPECT_FALSE(budget.parts.back().off) << "unknown parts stand last, without a number";
  ASSERT_TRUE(largest_cause(budget));
  EXPECT_EQ(std::string(largest_cause(budget)->task->id()), "steps_per_unit");
}

// By hand: 300 mm, 23 against 11.5 millionths per K, from 8 to 24 degrees: 0.0552 too long where nothing else is off.
TEST(Budget, AScaleThatWasFoundInTheColdIsOffInTheWarm) {
  Book book;
  book.job.part_width = book.job.part_height = 300;
  Entry entry = steps_found("X", 1.0, 0.001, 80.0);
  entry.temperature_C = 8;
  book.history.push_back(entry);
  book.machine.axis(Axis::x).steps_per_mm = 80;
  EXPECT_NEAR(error_budget(book).sizes.axes[0].spacing->bias, 0, 1e-9) << "nobody said how warm it is now";
  book.workshop_C = 24;
  const auto warm = error_budget(book).sizes.axes[0].spacing;
  EXPECT_NEAR(warm->bias, 300 * (23e-6 - 11.5e-6) * 16, 1e-9);
  EXPECT_NEAR(warm->U, std::hypot(0.3, 1.959964 * 300 * 23e-6 * 1.4), 1e-6) << "by a thermometer, twice";
  const auto row = [&] {
    for (const BudgetPart& part : error_budget(book).parts)
      if (part.code == "budget_warmth") return part.off.value_or(OffBy{});
    return OffBy{};
  };
  EXPECT_NEAR(row().U, 1.959964 * 300 * 23e-6 * 1.4, 1e-9);
  book.workshop_C.reset();
  EXPECT_NEAR(row().U, 1.959964 * 300 * 23e-6 * 3, 1e-9) << "a shed";
  book.workshop_C = 24;
  Entry undated = entry;
  undated.subject = "Y";
  undated.temperature_C.reset();
  book.machine.axis(Axis::y).steps_per_mm = 80;
  book.history.push_back(undated);
  EXPECT_NEAR(error_budget(book).sizes.axes[1].spacing->U, std::hypot(0.3, 1.959964 * 300 * 23e-6 * 3), 1e-6)
      << "nobody said how warm it was that day";
  // Kept and read again; a file of before has none.
  const Book again = read_book(write_book(book)).value().book;
  EXPECT_EQ(again.workshop_C, 24);
  EXPECT_EQ(again.history.front().temperature_C, 8);
  EXPECT_FALSE(read_book(write_book(Book{})).value().book.workshop_C);
}

TEST(Budget, AnErrorThatWasFoundAndLeftCountsInFull) {
  Book book;
  book.job.part_width = 300;
  book.history.push_back(steps_found("X", 0.99, 0.001, 80 / 0.99));
  book.machine.axis(Axis::x).steps_per_mm = 80;
  EXPECT_NEAR(error_budget(book).sizes.axes[0].spacing->bias, -3.0, 1e-9) << "300 told, 297 gone";
  book.machine.axis(Axis::x).steps_per_mm = 80 / 0.99;
  EXPECT_NEAR(error_budget(book).sizes.axes[0].spacing->bias, 0, 1e-9);
  // One that is smaller than its uncertainty is a bias all the same.
  book.machine.axis(Axis::x).steps_per_mm = 80 / 0.99 * 1.0005;
  EXPECT_NEAR(error_budget(book).sizes.axes[0].spacing->bias, 0.15, 1e-9);
}

TEST(Budget, AnEnteredCutterIsUnknownUntilACutToldIt) {
  Book book = demo();
  const auto cutter = [&](int tool) {
    for (const auto& p : error_budget(book, tool).parts)
      if (p.code == "budget_cutter") return p;
    return BudgetPart{};
  };
  EXPECT_EQ(cutter(2).tool, 2);
  EXPECT_FALSE(cutter(2).off) << "6.00 was typed, never measured";
  Entry cut = change("measure_cut", "T2", 0, 0);
  cut.result = {{"tool_diameter_mm", 5.94}, {"U_tool_diameter_mm", 0.02}};
  book.history.push_back(cut);
  EXPECT_NEAR(cutter(2).off->bias, -0.06, 1e-12) << "found and left";
  EXPECT_NEAR(cutter(2).off->U, 0.02, 1e-12);
  EXPECT_FALSE(cutter(1).off) << "another tool's cut";
  // It makes outside sizes wider and inside ones narrower.
  const auto sizes = error_budget(book, 2).sizes.axes[1];
  EXPECT_NEAR(sizes.outside->bias - sizes.inside->bias, 0.12, 1e-9);
}

TEST(Budget, ANewerMapDoesNotHideTheTram) {
  Book book;
  Entry tram = change("bed_spindle", "tram", 0, 0);
  tram.result = {{"ridge_mm", 0.04}};
  Entry map = change("bed_spindle", "map", 0, 0);
  map.result = {{"peak_to_valley_mm", 0.5}};
  book.history = {tram, map};
  for (const auto& part : error_budget(book).parts)
    if (part.task->id() == std::string("bed_spindle")) {
      ASSERT_TRUE(part.off);
      EXPECT_NEAR(part.off->bias, 0.04, 1e-12);
    }
}

TEST(Budget, HomingCountsByItsWorstAxis) {
  Book book;
  for (const auto& [axis, s] : {std::pair{"X", 0.004}, {"Y", 0.011}, {"Z", 0.002}}) {
    Entry e = change("homing", axis, 0, 0);
    e.result = {{"s_mm", s}};
    book.history.push_back(e);
  }
  for (const auto& part : error_budget(book).parts)
    if (part.code == "budget_homing") {
      EXPECT_NEAR(part.off.value().U, 0.022, 1e-12) << "twice the scatter of Y, though Z was tried last";
      EXPECT_EQ(book.history[*part.entry].subject, "Y");
    }
}

}  // namespace
}  // namespace ypsi
