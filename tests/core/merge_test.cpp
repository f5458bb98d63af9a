// What is undone takes nothing else back with it.
#include "core/book/merge.h"

#include <gtest/gtest.h>

#include "core/book/book_json.h"
#include "core/book/changes.h"
#include "core/book/worksheets/all.h"

namespace ypsi {
namespace {

class Merge : public ::testing::Test {
 protected:
  Merge() {
    for (const int number : {1, 2}) {
      Tool tool;
      tool.number = number;
      tool.diameter = 3;
      before.tools.push_back(tool);
    }
    AxisSetup& x = before.machine.axis(Axis::x);
    x.steps_per_mm = 80;
    x.home_coordinate = 4;
    x.soft_min = 4;
    x.soft_max = 804;
    after = before;
  }
  Book before, after;
};

TEST_F(Merge, TakesBackTheChangeAndLeavesWhatWasNotedSince) {
  after.tools[0].diameter = 6;
  Book now = after;
  now.length_unit = "in";
  now.workshop_C = 19;
  now.job.program = "rim.ngc";
  now.tools[1].diameter = 2;
  now.history.emplace_back();
  const Book back = merged(now, after, before);
  EXPECT_EQ(back.tools[0].diameter, 3);
  EXPECT_EQ(back.tools[1].diameter, 2);
  EXPECT_EQ(back.length_unit, "in");
  EXPECT_EQ(back.workshop_C, 19);
  EXPECT_EQ(back.job.program, "rim.ngc");
  EXPECT_EQ(back.history.size(), 1u) << "the record only grows";
  EXPECT_EQ(write_book(merged(back, before, after)), write_book(now)) << "done again";
}

TEST_F(Merge, TakesOutWhatWasAddedAndPutsInWhatWasTakenOut) {
  after.setter.emplace();
  after.tools.pop_back();
  after.worksheets[scale_worksheets][0].readings.push_back({300, 299});
  Book now = after;
  now.length_unit = "in";
  const Book back = merged(now, after, before);
  EXPECT_FALSE(back.setter);
  EXPECT_EQ(back.tools.size(), 2u);
  EXPECT_TRUE(back.worksheets[scale_worksheets][0].readings.empty());
  EXPECT_EQ(back.length_unit, "in");
}

TEST_F(Merge, WhereBothTouchedAValueTheOneAskedForIsTaken) {
  after.tools[0].diameter = 6;
  Book now = after;
  now.tools[0].diameter = 6.35;
  EXPECT_EQ(merged(now, after, before).tools[0].diameter, 3);
  now = after;
  now.tools.emplace_back();
  EXPECT_EQ(merged(now, after, before).tools.size(), 2u);
}

TEST_F(Merge, WhatWasMeasuredSinceIsCarriedToTheStepsOfBefore) {
  ASSERT_TRUE(change_steps_per_mm(after, Axis::x, 100));
  EXPECT_DOUBLE_EQ(*after.machine.axis(Axis::x).soft_max, 644);  // 4 + 800·80/100
  Book now = after;
  now.job.used().x_mm = 84;
  const Book back = merged(now, after, before);
  EXPECT_EQ(back.machine.axis(Axis::x).steps_per_mm, 80);
  EXPECT_EQ(*back.machine.axis(Axis::x).soft_max, 804);
  EXPECT_DOUBLE_EQ(*back.job.used().x_mm, 104);  // the same place: 4 + 80·100/80
}

TEST_F(Merge, OfBooksThatNobodyTouchedSinceItIsTheOneAskedFor) {
  after.machine.name = "Oriel";
  after.fences.emplace_back();
  EXPECT_EQ(write_book(merged(after, after, before)), write_book(before));
  EXPECT_EQ(write_book(merged(before, before, after)), write_book(after));
}

}  // namespace
}  // namespace ypsi
