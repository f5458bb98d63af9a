#include <gtest/gtest.h>

#include <fstream>
#include <sstream>

#include "core/book/book_json.h"
#include "core/book/budget.h"
#include "core/book/changes.h"
#include "core/book/standing.h"

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

TEST(Standing, DownstreamFollowsTheOrderOfWork) {
  const auto after = downstream("steps_per_unit");
  EXPECT_NE(std::find(after.begin(), after.end(), "squareness"), after.end());
  EXPECT_NE(std::find(after.begin(), after.end(), "limits"), after.end());
  EXPECT_EQ(std::find(after.begin(), after.end(), "homing"), after.end());
}

TEST(Changes, StoredPlacesKeepTheirPlaceUnderNewNumbers) {
  Book book = demo();
  book.job.zero_x = 200;
  book.machine.axis(Axis::x).home_coordinate = 0;
  ASSERT_TRUE(change_steps_per_mm(book, Axis::x, 100));  // from 80: 0.8 of every number
  EXPECT_DOUBLE_EQ(*book.job.zero_x, 160);
  EXPECT_DOUBLE_EQ(*book.machine.axis(Axis::x).soft_max, 808 * 0.8);
  EXPECT_DOUBLE_EQ(book.places[1].at.x, 320);
  EXPECT_TRUE(book.places[1].carried_over);
  Book before = demo();
  EXPECT_FALSE(change_steps_per_mm(before, Axis::x, 0));
  EXPECT_EQ(write_book(before), write_book(demo()));
}

TEST(Budget, AddsSquaresAndCallsTheUnmeasuredUnknown) {
  Book book;
  book.job.part_width = 300;
  book.job.part_height = 400;
  EXPECT_FALSE(error_budget(book).any_known);
  EXPECT_FALSE(error_budget(book).square_mm);
  Entry x = change("steps_per_unit", "X", 80, 80);
  x.result = {{"scale", 1.0}, {"U_scale", 0.001}, {"new_steps_per_mm", 80.0}};
  book.machine.axis(Axis::x).steps_per_mm = 80;
  book.history.push_back(x);
  Entry lost = change("lost_motion", "Y", 0, 0);
  lost.result = {{"lost_motion_mm", 0.4}};
  book.history.push_back(lost);
  Entry square = change("squareness", "", 0, 0);
  square.result = {{"skew_mrad", -2.0}};
  book.history.push_back(square);
  const Budget budget = error_budget(book);
  EXPECT_NEAR(budget.size_mm, 0.5, 1e-12) << "0.3 and 0.4";
  EXPECT_NEAR(budget.worst_mm, 0.7, 1e-12);
  EXPECT_NEAR(*budget.square_mm, 0.8, 1e-5);
  EXPECT_FALSE(budget.parts.back().mm) << "unknown parts stand last, without a number";
}

TEST(Budget, AnErrorThatWasFoundAndLeftCountsInFull) {
  Book book;
  book.job.part_width = 300;
  Entry x = change("steps_per_unit", "X", 80, 80);
  x.result = {{"scale", 0.99}, {"U_scale", 0.001}, {"new_steps_per_mm", 80 / 0.99}};
  book.history.push_back(x);
  book.machine.axis(Axis::x).steps_per_mm = 80;
  EXPECT_NEAR(error_budget(book).size_mm, 300 * (0.01 + 0.001 / 0.99), 1e-9);
  book.machine.axis(Axis::x).steps_per_mm = 80 / 0.99;
  EXPECT_NEAR(error_budget(book).size_mm, 300 * 0.001 / 0.99, 1e-9);
}

}  // namespace
}  // namespace ypsi
