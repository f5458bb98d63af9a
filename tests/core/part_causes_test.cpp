// What is worth measuring next. Numbers on paper: k for both axes at once is 2.2414, for one 1.9600.
#include <gtest/gtest.h>

#include <cmath>

#include "core/calibration/part_causes.h"
#include "core/demo_book.h"
#include "core/tasks/budget.h"

namespace ypsi {
namespace {

constexpr double k_both = 2.241403, k_one = 1.959964;

/// 300 x 300 mm, everything known to be right, in a room that is never warmer.
PartInput right() {
  PartInput in;
  for (PartAxis& axis : in.axes) axis = {300, Known{}, Known{}, 0};
  in.tool = Known{};
  in.skew = Known{};
  in.u_temperature_K = 0;
  return in;
}

TEST(PartCauses, GainIsWhatTheWorstSizeIsOffLessAsFarAsItMatters) {
  PartInput in = right();
  in.axes[0].scale = Known{0, 5e-4};
  EXPECT_NEAR(gain_without(in, PartCause::scale_x), k_both * 0.15, 1e-6);
  EXPECT_NEAR(gain_without(in, PartCause::scale_x, 0.2), k_both * 0.15 - 0.2, 1e-6) << "0.2 is good enough";
  EXPECT_EQ(gain_without(in, PartCause::scale_x, 0.4), 0) << "it is good enough already";
  EXPECT_EQ(gain_without(in, PartCause::scale_y), 0);
  // Y is worse by its slack; X gains all the same.
  in.axes[1].lost_motion = Known{0.5, 0};
  EXPECT_NEAR(gain_without(in, PartCause::lost_motion_y, 0.2), 0.3, 1e-9);
  EXPECT_NEAR(gain_without(in, PartCause::scale_x, 0.2), k_both * 0.15 - 0.2, 1e-6);
  // A cutter that cuts 0.4 wider: inside sizes of both axes.
  in = right();
  in.tool = Known{0.4, 0};
  EXPECT_NEAR(gain_without(in, PartCause::tool, 0.1), 0.3, 1e-9);
  in.skew = Known{-2e-3, 1e-4};
  EXPECT_NEAR(gain_without(in, PartCause::skew, 0.2), 300 * std::tan(2e-3) + k_one * 0.03 - 0.2, 1e-6);
  in.axes[1].length.reset();
  EXPECT_EQ(gain_without(in, PartCause::skew), 0) << "no height, no corner";
}

TEST(PartCauses, WhatNobodyMeasuredCountsWithWhatSuchMachinesAreOffBy) {
  PartInput in = right();
  in.axes[0].scale.reset();
  in.axes[1].lost_motion.reset();
  const PartInput usual = with_usual_errors(in);
  EXPECT_NEAR(gain_without(usual, PartCause::scale_x), k_both * 300 * 0.02 / std::sqrt(3), 1e-5);
  EXPECT_NEAR(gain_without(usual, PartCause::lost_motion_y), k_both * 0.4 / std::sqrt(3), 1e-6);
  EXPECT_EQ(usual.axes[0].lost_motion->u, 0) << "what is known stays";
}

Entry told_entry(const char* sheet, const char* subject, RecordJson result) {
  Entry e = change(sheet, subject, 80, 80);
  e.result = std::move(result);
  return e;
}

std::string next_of(const Book& book) {
  const Budget budget = error_budget(book);
  const BudgetPart* part = largest_cause(budget);
  return part ? std::string(part->task->id()) + (part->axis ? std::string(" ") + letter(*part->axis) : "") : "none";
}

// The order of a day: whatever is largest then, the cutter last, and an end.
TEST(PartCauses, OneIsLargestAfterAnotherUntilThePartIsGoodEnough) {
  Book book;
  Tool cutter;
  cutter.number = 1;
  cutter.diameter = 6;
  book.tools = {cutter};
  book.job.part_width = 300;
  book.job.part_height = 200;
  book.job.part_tolerance = 0.2;
  EXPECT_EQ(next_of(book), "steps_per_unit X") << "2 % of the longer side";
  for (const Axis a : {Axis::x, Axis::y}) {
    book.machine.axis(a).steps_per_mm = 80;
    book.history.push_back(told_entry("steps_per_unit", a == Axis::x ? "X" : "Y",
                                      {{"scale", 1.0}, {"U_scale", 1e-4}, {"new_steps_per_mm", 80.0}}));
    EXPECT_EQ(next_of(book), a == Axis::x ? "steps_per_unit Y" : "squareness");
  }
  book.history.push_back(told_entry("squareness", "", {{"skew_mrad", 0.1}, {"U_skew_mrad", 0.1}}));
  EXPECT_EQ(next_of(book), "lost_motion X");
  for (const char* axis : {"X", "Y"})
    book.history.push_back(told_entry("lost_motion", axis, {{"lost_motion_mm", 0.02}, {"U_lost_motion_mm", 0.005}}));
  EXPECT_EQ(next_of(book), "measure_cut") << "a cut tells the cutter, when nothing else is worth more";
  book.history.push_back(told_entry("measure_cut", "T1", {{"tool_diameter_mm", 6.01}, {"U_tool_diameter_mm", 0.03}}));
  EXPECT_EQ(next_of(book), "none");
  book.job.part_tolerance = 0.05;
  EXPECT_NE(next_of(book), "none") << "asked for more, there is more to do";
  EXPECT_EQ(largest_cause(error_budget(book), [](const BudgetPart&) { return false; }), nullptr);
}

}  // namespace
}  // namespace ypsi
