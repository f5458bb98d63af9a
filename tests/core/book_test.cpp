#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <set>
#include <sstream>

#include "core/book/book_json.h"
#include "core/book/changes.h"
#include "core/book/controller_settings.h"
#include "core/book/machine_kinds.h"
#include "core/book/record.h"
#include "core/tasks/budget.h"
#include "core/tasks/build_entries.h"
#include "core/tasks/standing.h"

namespace ypsi {
namespace {

std::string demo_text() {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.ypsi");
  std::stringstream text;
  text << file.rdbuf();
  return text.str();
}
Book demo() {
  return read_book(demo_text()).value().book;
}

TEST(BookFile, WritesWhatItRead) {
  const Book book = demo();
  EXPECT_EQ(book.machine.name, "Oriel");
  EXPECT_DOUBLE_EQ(book.machine.axis(Axis::z).steps_per_mm, 800);
  EXPECT_TRUE(book.machine.axis(Axis::z).home_at_max);
  EXPECT_GE(book.history.size(), 8u);
  const std::string once = write_book(book);
  EXPECT_EQ(write_book(read_book(once).value().book), once);
}

TEST(BookFile, TheRecordIsKeptAsItWasWrittenOneEntryALine) {
  Book book = demo();
  Entry odd;
  odd.sheet = "notes";
  odd.note = "a \"quote\", a\nline, an é and a tab\t";
  odd.readings = {1.5, nullptr, "x"};
  odd.unknown = {{"mood \"odd\"", 1}};
  book.history.push_back(odd);
  const std::string text = write_book(book);
  const auto lines = std::count(text.begin(), text.end(), '\n');
  book.history.push_back(odd);
  const std::string longer = write_book(book);
  EXPECT_EQ(std::count(longer.begin(), longer.end(), '\n'), lines + 1);
  const Book back = read_book(text).value().book;
  EXPECT_EQ(back.history.back().note, odd.note);
  EXPECT_EQ(back.history.back().readings, odd.readings);
  EXPECT_EQ(back.history.back().unknown, odd.unknown);
  // A book that another program has laid out differently reads the same.
  const Book spread = read_book(nlohmann::json::parse(text).dump(4)).value().book;
  EXPECT_EQ(write_book(spread), text);
}

TEST(BookFile, KeepsKeysThatItDoesNotKnow) {
  auto json = nlohmann::json::parse(demo_text());
  json["weather"] = "rain";
  json["machine"]["colour"] = "green";
  json["machine"]["axes"]["X"]["note"] = {1, 2};
  json["tools"][0]["maker"] = "unknown";
  json["history"][0]["mood"] = "good";
  const auto again = nlohmann::json::parse(write_book(read_book(json.dump()).value().book));
  EXPECT_EQ(again["weather"], "rain");
  EXPECT_EQ(again["machine"]["colour"], "green");
  EXPECT_EQ(again["machine"]["axes"]["X"]["note"], nlohmann::json({1, 2}));
  EXPECT_EQ(again["tools"][0]["maker"], "unknown");
  EXPECT_EQ(again["history"][0]["mood"], "good");
}

TEST(BookFile, EveryCutOffPlaceIsSurvived) {
  const std::string whole = demo_text();
  for (std::size_t n = 0; n < whole.size() - 2; n += 37) {
    const auto read = read_book(std::string_view(whole).substr(0, n));
    ASSERT_FALSE(read) << n;
    EXPECT_EQ(read.error().code, "not_json");
  }
}

TEST(BookFile, DamagedValuesSayWhere) {
  const auto damaged = [](const char* pointer, nlohmann::json value) {
    auto json = nlohmann::json::parse(demo_text());
    json[nlohmann::json::json_pointer(pointer)] = std::move(value);
    return read_book(json.dump());
  };
  EXPECT_EQ(damaged("/machine/axes/X/steps_per_mm", "many").error().where, "machine.axes.X.steps_per_mm");
  EXPECT_EQ(damaged("/machine/axes/X/steps_per_mm", -1).error().code, "out_of_range");
  EXPECT_EQ(damaged("/history/2/note", 7).error().where, "history[2].note");
  EXPECT_EQ(damaged("/history/1", "x").error().where, "history[1]");
  EXPECT_EQ(damaged("/history", 3).error().code, "wrong_type");
  EXPECT_EQ(damaged("/tools/0", "hammer").error().where, "tools[0]");
  EXPECT_EQ(damaged("/format", "other").error().code, "not_a_book");
  EXPECT_TRUE(damaged("/version", 7)->from_later_version());
  EXPECT_EQ(damaged("/version", "one").error().code, "wrong_type");
  EXPECT_EQ(read_book("[]").error().code, "not_a_book");
  EXPECT_EQ(read_book("").error().code, "not_json");
}

Entry change(const char* sheet, const char* subject, double from, double to) {
  Entry e;
  e.sheet = sheet;
  e.subject = subject;
  e.as_found = {{"v", from}};
  e.as_left = {{"v", to}};
  return e;
}

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

TEST(Changes, StoredPlacesKeepTheirPlaceUnderNewNumbers) {
  Book book = demo();
  book.job.zero(Axis::x) = 200;
  book.scale_worksheets[0].readings = {{600, 480.2, false}};
  book.machine.axis(Axis::x).home_coordinate = 0;
  ASSERT_TRUE(change_steps_per_mm(book, Axis::x, 100));  // from 80: 0.8 of every number
  EXPECT_DOUBLE_EQ(*book.job.zero(Axis::x), 160);
  EXPECT_DOUBLE_EQ(*book.machine.axis(Axis::x).soft_max, 808 * 0.8);
  EXPECT_DOUBLE_EQ(book.places[1].at.x, 320);
  EXPECT_TRUE(book.places[1].carried_over);
  EXPECT_DOUBLE_EQ(book.scale_worksheets[0].readings[0].commanded, 480) << "as many steps as 600 were";
  Book before = demo();
  EXPECT_FALSE(change_steps_per_mm(before, Axis::x, 0));
  EXPECT_EQ(write_book(before), write_book(demo()));
}

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

TEST(Build, StepsFollowTheDriveUntilTheyWereMeasured) {
  Book book;
  DriveTrain belt;
  belt.transmission = Belt{2, 20};
  EXPECT_DOUBLE_EQ(*steps_after_drive_change(book, Axis::x, belt), 80);
  book.machine.axis(Axis::x).drive = belt;
  book.machine.axis(Axis::x).steps_per_mm = 80.4;
  book.history.push_back(change("steps_per_unit", "X", 80, 80.4));
  belt.microsteps = 32;
  EXPECT_DOUBLE_EQ(*steps_after_drive_change(book, Axis::x, belt), 160.8) << "what was measured, twice as fine";
  belt.transmission = Rotary{};
  EXPECT_DOUBLE_EQ(*steps_after_drive_change(book, Axis::x, belt), 6400.0 / 360) << "degrees are no millimetres";
  belt.microsteps = 0;
  EXPECT_FALSE(steps_after_drive_change(book, Axis::x, belt));
}

TEST(Build, KeepsWhatOtherSheetsFoundAndSaysWhatChanged) {
  Book book = demo();
  MachineSetup build = book.machine;
  build.axis(Axis::x).drive.transmission = Belt{3, 20};
  build.axis(Axis::x).steps_per_mm = 53.3;
  build.axis(Axis::y).max_rate = 5000;
  build.spindle.dial = {{1, 9000}, {6, 27000}};
  book.build_worksheet = build;
  change_steps_per_mm(book, Axis::y, 79.8);  // meanwhile, on another sheet
  const std::size_t lines = book.history.size();
  keep_build(book, *book.build_worksheet, "2026-11-23T09:00:00+00:00", "a bench router");
  EXPECT_EQ(book.machine.axis(Axis::x).steps_per_mm, 53.3);
  EXPECT_EQ(book.machine.axis(Axis::y).steps_per_mm, 79.8);
  EXPECT_NEAR(*book.machine.axis(Axis::x).soft_max, 808 * 80 / 53.3, 1e-9) << "carried over";
  EXPECT_TRUE(book.places[0].carried_over);
  ASSERT_EQ(book.history.size(), lines + 3) << "the machine, X, Y";
  EXPECT_TRUE(book.history[lines].as_left.contains("machine.spindle"));
  EXPECT_EQ(book.history[lines].result.at("words"), "a bench router");
  EXPECT_TRUE(book.history[lines + 1].as_left.contains("axis.x.drive"));
  EXPECT_EQ(book.history[lines + 2].as_found, (nlohmann::json{{"axis.y.max_rate_mm_min", 6000.0}}));
  const auto back = read_book(write_book(book));
  ASSERT_TRUE(back);
  EXPECT_EQ(back->book.machine.spindle, book.machine.spindle);
  keep_build(book, book.machine, "later", "as it was");
  EXPECT_EQ(book.history.size(), lines + 4) << "looked at and found right is on record too";
}

TEST(Build, EveryKindIsSoundAndNamedOnce) {
  std::set<std::string> ids;
  for (const auto& kind : machine_kinds()) {
    EXPECT_TRUE(ids.insert(kind.id).second);
    EXPECT_EQ(&machine_kind(kind.id), &kind);
    for (const Axis a : all_axes)
      EXPECT_DOUBLE_EQ(kind.usual.axis(a).steps_per_mm, steps_per_unit(kind.usual.axis(a).drive)->steps_per_unit);
  }
  EXPECT_EQ(ids.size(), 5u);
}

TEST(ControllerSettings, DifferencesAreFoundAndTakenOneByOne) {
  Book book = demo();
  const auto settings = controller_settings(book.machine);
  EXPECT_EQ(settings.size(), 21u) << "seven for each axis";
  EXPECT_TRUE(take_from_controller(book, "axis.x.max_rate_mm_min", 4000));
  EXPECT_EQ(book.machine.axis(Axis::x).max_rate, 4000);
  EXPECT_TRUE(take_from_controller(book, "axis.x.steps_per_mm", 40));
  EXPECT_DOUBLE_EQ(*book.machine.axis(Axis::x).soft_max, 1616) << "the same place, new number";
  EXPECT_TRUE(take_from_controller(book, "axis.z.home_at_max", 0));
  EXPECT_FALSE(book.machine.axis(Axis::z).home_at_max);
  EXPECT_FALSE(take_from_controller(book, "axis.x.steps_per_mm", 0));
  EXPECT_FALSE(take_from_controller(book, "axis.x.max_rate_mm_min", NAN));
  EXPECT_FALSE(take_from_controller(book, "axis.a.reversed", 1));
}

TEST(Worksheets, WhatIsNotSettledYetOutlivesTheFile) {
  Book book;
  book.limits_worksheets[1] = {-590.5, 2.5, std::nullopt, 3.0};
  book.homing_worksheet.trials = 12;
  book.homing_worksheet.readings_mm[2] = {0, 0.0125, -0.0125};
  book.reversal_worksheet = {250, "ruler", 0.5, std::nullopt};
  book.bed_worksheet.sweep = {{45, -0.012}};
  book.bed_worksheet.map = {{1, 2, -3.25}};
  book.bed_worksheet.along_y = true;
  const std::string text = write_book(book);
  const Book read = read_book(text)->book;
  EXPECT_EQ(read.limits_worksheets, book.limits_worksheets);
  EXPECT_EQ(read.homing_worksheet, book.homing_worksheet);
  EXPECT_EQ(read.reversal_worksheet, book.reversal_worksheet);
  EXPECT_EQ(read.bed_worksheet, book.bed_worksheet);
  EXPECT_EQ(write_book(read), text);
  const auto damaged = read_book(
      R"({"format": "ypsilograph-book", "version": 1, "worksheets": {"bed_spindle": {"map": [{"x_mm": "far"}]}}})");
  ASSERT_FALSE(damaged);
  EXPECT_EQ(damaged.error().where, "worksheets.bed_spindle.map[0].x_mm");
}

TEST(References, PlatesSetterAndToolsOutliveTheFileAndAChangeOfSteps) {
  Book book;
  book.plates = {{"corner", 12.07, 9.95, 10.02, {{"colour", "red"}}}};
  book.setter = ToolSetter{790, 12, 1, {-58.2, -58.21}};
  Tool t;
  t.number = 2;
  t.name = "engraver";
  t.kind = "engraver";
  t.diameter = 6;
  t.angle = 60;
  t.tip = 0.2;
  t.flutes = 1;
  t.length_out = 22;
  t.offset = -1.25;
  t.U_offset = 0.004;
  t.offset_time = "2026-11-24T10:12:00+00:00";
  t.slot = 3;
  book.tools = {t};
  const std::string text = write_book(book);
  Book read = read_book(text)->book;
  EXPECT_EQ(write_book(read), text);
  ASSERT_EQ(read.plates.size(), 1u);
  EXPECT_EQ(read.plates[0].wall_y, 10.02);
  EXPECT_EQ(read.plates[0].unknown.at("colour"), "red");
  EXPECT_EQ(read.tools[0].offset, -1.25);
  EXPECT_EQ(read.tools[0].slot, 3);
  ASSERT_TRUE(read.setter);
  EXPECT_EQ(read.setter->reference.size(), 2u);
  // 100 to 125 steps: the same place, four fifths of the number.
  read.machine.axis(Axis::x).steps_per_mm = 100;
  ASSERT_TRUE(change_steps_per_mm(read, Axis::x, 125));
  EXPECT_NEAR(read.setter->x, 632, 1e-9);
  EXPECT_EQ(read.setter->y, 12);
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

// Every bit of a whole book, one at a time: told by the reader, or by the checksum.
TEST(BookJson, NoFlippedBitIsTakenForWhatWasWritten) {
  Book book;
  book.machine.name = "Oriel";
  Entry entry;
  entry.time = "2026-05-01T10:00:00+02:00";
  entry.sheet = "build";
  book.history.push_back(std::move(entry));
  const std::string text = write_book(book);
  ASSERT_FALSE(read_book(text)->altered);
  std::size_t silent = 0;
  for (std::size_t i = 0; i < text.size(); ++i)
    for (int bit = 0; bit < 8; ++bit) {
      std::string flipped = text;
      flipped[i] = static_cast<char>(static_cast<unsigned char>(flipped[i]) ^ (1U << static_cast<unsigned>(bit)));
      const auto read = read_book(flipped);
      // The word "checksum" itself may be spoilt, and then nothing is claimed: but that key is then unknown and kept.
      if (read && !read->altered && !read->from_later_version() && read->book.unknown.empty()) ++silent;
    }
  EXPECT_EQ(silent, 0u);
}

TEST(BookJson, ABookWithoutAChecksumClaimsNothing) {
  const auto read = read_book(R"({"format": "ypsilograph-book", "version": 1})");
  ASSERT_TRUE(read);
  EXPECT_FALSE(read->altered);
}

}  // namespace
}  // namespace ypsi
