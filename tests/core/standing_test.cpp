// What a change upstream makes out of date.
#include <gtest/gtest.h>

#include <set>

#include "core/book/record.h"
#include "core/demo_book.h"
#include "core/tasks/standing.h"

namespace ypsi {
namespace {

TEST(Standing, AChangeUpstreamMakesWhatFollowsOutOfDate) {
  Book book;
  EXPECT_EQ(standing_of(book, "squareness").standing, Standing::never_done);
  book.history.push_back(change("squareness", "", 0, 0));
  EXPECT_EQ(standing_of(book, "squareness").standing, Standing::current);
  book.history.push_back(change("steps_per_unit", "X", 80, 80));
  EXPECT_EQ(standing_of(book, "squareness").standing, Standing::current) << "a finding that changed nothing";
  book.history.push_back(change("steps_per_unit", "X", 80, 80.4));
  EXPECT_EQ(standing_of(book, "squareness").standing, Standing::out_of_date);
  EXPECT_EQ(standing_of(book, "squareness").cause, 2u);
  EXPECT_EQ(standing_of(book, "steps_per_unit").standing, Standing::current);
  book.history.push_back(change("squareness", "", 0, 0));
  EXPECT_EQ(standing_of(book, "squareness").standing, Standing::current) << "measured again";
}

TEST(Standing, WithdrawnEntriesDoNotCountAndComeBack) {
  Book book;
  book.history.push_back(change("steps_per_unit", "X", 80, 80.4));
  Entry undo = change("steps_per_unit", "X", 80.4, 80);
  undo.withdraws = 0;
  book.history.push_back(undo);
  EXPECT_FALSE(newest(book, "steps_per_unit", "X"));
  Entry redo = change("steps_per_unit", "X", 80, 80.4);
  redo.withdraws = 1;
  book.history.push_back(redo);
  EXPECT_EQ(newest(book, "steps_per_unit", "X"), 0u);
}

TEST(Standing, AChangeOfOneAxisTouchesThatAxisAndWhatIsOfTheWholeMachine) {
  Book book;
  for (const char* axis : {"X", "Y"}) book.history.push_back(change("lost_motion", axis, 0, 0));
  book.history.push_back(change("squareness", "", 0, 0));
  book.history.push_back(change("work_zero", "XYZ", 0, 1));
  book.history.push_back(change("limits", "Y", 0, 1));
  book.history.push_back(change("homing", "", 0, 0));
  book.history.push_back(change("steps_per_unit", "X", 80, 80.4));
  EXPECT_EQ(standing_of(book, "lost_motion", Axis::x).standing, Standing::out_of_date);
  EXPECT_EQ(standing_of(book, "lost_motion", Axis::y).standing, Standing::current);
  EXPECT_EQ(standing_of(book, "lost_motion").standing, Standing::out_of_date) << "as bad as its worst axis";
  EXPECT_EQ(standing_of(book, "lost_motion").entry, 0u);
  EXPECT_EQ(standing_of(book, "squareness").standing, Standing::out_of_date);
  EXPECT_EQ(standing_of(book, "work_zero").cause, 6u);
  EXPECT_EQ(standing_of(book, "work_zero", Axis::y).standing, Standing::current);
  EXPECT_EQ(standing_of(book, "limits").standing, Standing::current) << "of Y, and homing changed nothing";
  EXPECT_EQ(standing_of(book, "homing").standing, Standing::current);
  book.history.push_back(change("lost_motion", "Y", 0, 0));
  EXPECT_EQ(standing_of(book, "lost_motion").standing, Standing::out_of_date) << "Y again does not settle X";
  book.history.push_back(change("lost_motion", "X", 0, 0));
  EXPECT_EQ(standing_of(book, "lost_motion").standing, Standing::current);
}

TEST(Standing, ABuildMattersOnlyWhereItsDriveOrHomeEndChanged) {
  Book book;
  book.history.push_back(change("steps_per_unit", "X", 80, 80));
  book.history.push_back(change("homing", "", 0, 0));
  Entry build;
  build.sheet = "build";
  build.subject = "X";
  build.as_found = {{"axis.x.max_rate_mm_min", 3000}};
  build.as_left = {{"axis.x.max_rate_mm_min", 6000}};
  book.history.push_back(build);
  EXPECT_EQ(standing_of(book, "steps_per_unit").standing, Standing::current);
  build.as_found = {{"axis.x.drive", 1}};
  build.as_left = {{"axis.x.drive", 2}};
  book.history.push_back(build);
  EXPECT_EQ(standing_of(book, "steps_per_unit").standing, Standing::out_of_date);
  EXPECT_EQ(standing_of(book, "homing").standing, Standing::current);
  build.as_left = {{"axis.x.home_end", "max"}};
  book.history.push_back(build);
  EXPECT_EQ(standing_of(book, "homing").standing, Standing::out_of_date);
}

TEST(Standing, AFailureOutranksWhatIsOutOfDate) {
  Book book;
  Entry inputs = change("inputs", "", 0, 0);
  inputs.result = {{"failed", true}};
  book.history.push_back(inputs);
  Entry build = change("build", "X", 0, 1);
  build.as_left = {{"axis.x.home_end", "max"}};
  book.history.push_back(build);
  EXPECT_EQ(standing_of(book, "inputs").standing, Standing::failed);
}

TEST(Standing, DownstreamFollowsTheOrderOfWork) {
  std::set<std::string> after;
  for (const Task* task : downstream("steps_per_unit")) after.insert(task->id());
  EXPECT_TRUE(after.contains("squareness"));
  EXPECT_TRUE(after.contains("limits"));
  EXPECT_FALSE(after.contains("homing"));
}

TEST(Standing, ShimsTheSetterAndASurfacedBedReachWhatStandsOnThem) {
  const auto named = [](const char* sheet, const char* key, double found, double left) {
    Entry e = change(sheet, "", 0, 0);
    e.as_found = {{key, found}};
    e.as_left = {{key, left}};
    return e;
  };
  const auto fresh = [] {
    Book book;
    for (const char* sheet : {"bed_spindle", "touch_plate", "tool_setter", "tools", "homing", "squareness"})
      book.history.push_back(change(sheet, "", 0, 0));
    book.history.push_back(change("work_zero", "XYZ", 0, 1));
    return book;
  };
  const auto stale = [](const Book& book) {
    std::string found;
    for (const char* sheet :
         {"bed_spindle", "touch_plate", "tool_setter", "tools", "work_zero", "homing", "squareness"})
      if (standing_of(book, sheet).standing == Standing::out_of_date) found += std::string(sheet) + " ";
    return found;
  };
  Book shims = fresh();
  shims.history.push_back(named("build", "spindle.shim_x_mm", 0, 0.06));
  EXPECT_EQ(stale(shims), "bed_spindle touch_plate tool_setter tools work_zero ");
  Book surfaced = fresh();
  surfaced.history.push_back(named("bed_spindle", "bed.height_mm", 0, -0.5));
  EXPECT_EQ(stale(surfaced), "touch_plate tool_setter tools work_zero ");
  Book moved = fresh();
  moved.history.push_back(named("tool_setter", "setter.x_mm", 790, 700));
  EXPECT_EQ(stale(moved), "tools work_zero ");
  Book told = fresh();
  told.history.push_back(named("tool_setter", "setter.trigger_mm", -58.2, -58.2));
  EXPECT_EQ(stale(told), "") << "measured again and the same";
}

}  // namespace
}  // namespace ypsi
