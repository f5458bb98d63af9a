// What a stock is made of and what it lies on: heights of the work frame, cuts that end in its sheet or its board,
// clamps beside it, and books that kept a plate's layers elsewhere.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>

#include "core/book/book_json.h"
#include "core/book/rack.h"
#include "core/book/worksheets/trials.h"
#include "core/program/checks.h"
#include "core/program/head_lines.h"
#include "core/program/program_head.h"
#include "core/program/read_setting.h"
#include "core/router_book.h"
#include "core/tasks/trials.h"

namespace ypsi {
namespace {

/// A plate of 3 mm on a sheet of 0.15 over a board of 12, zero on its top, a clamp 20 high above the bed beside it.
Book plate_on_board() {
  Book b = router_book(0);
  b.tools = {cutter(1, "", 3, 22)};
  b.job.stock_size = {100, 60, 3};
  b.job.sheet_mm = 0.15;
  b.job.board_mm = 12;
  b.job.frames[0] = {"", 200, 150, -60, false, 1};
  b.job.clamps = {{"left", 170, 180, 30, 30, 20}};
  return b;
}

/// One groove of that depth, below the stock's top.
std::vector<Finding> cut_to(const Book& book, double depth) {
  const double top = book.job.stock_top_z();
  const auto program = read_program(
      fmt::format("G21 G90 G17 G94\nT1 M6\nS12000 M3\nG0 Z{0:g}\nG0 X20 Y20\nG1 Z{1:g} F300\nG1 X80 F900\nG0 Z{0:g}\n"
                  "M5\nM2\n",
                  top + 15, top - depth),
      read_setting(book));
  EXPECT_TRUE(program);
  CheckSetting setting;
  setting.tool = 1;
  return check_program(*program, book, setting);
}

const Finding* found(const std::vector<Finding>& all, const char* code) {
  const auto at = std::find_if(all.begin(), all.end(), [&](const Finding& f) { return f.code == code; });
  return at != all.end() ? &*at : nullptr;
}

TEST(StockLayers, StandOnEachOther) {
  Book b = plate_on_board();
  EXPECT_EQ(b.job.stock_top_z(), 0);
  EXPECT_DOUBLE_EQ(b.job.lies_on_z(), -3.15);
  EXPECT_DOUBLE_EQ(b.job.bed_z(), -15.15);
  b.job.used().on_bed = true;  // on what it lies on: the board
  EXPECT_DOUBLE_EQ(b.job.stock_top_z(), 3.15);
  EXPECT_EQ(b.job.lies_on_z(), 0);
  EXPECT_EQ(b.job.bed_z(), -12);
  // The nose over the bed, from either zero: 22 mm of tool hang below the nut.
  b.machine.spindle.nut_length = 20;
  b.job.used().z_mm = -63.15;
  EXPECT_NEAR(*nose_at_bed(b), -63.15 - 12 - 22 - 20, 1e-9);
  b.job.used() = {"", 200, 150, -60, false, 1};
  EXPECT_NEAR(*nose_at_bed(b), -60 - 15.15 - 22 - 20, 1e-9);
}

TEST(StockLayers, ACutThatEndsInTheSheetIsMeantAndOneInTheBedIsNot) {
  const Book b = plate_on_board();
  struct Case {
    double depth;
    const char *code, *words;
    Weight weight;
  };
  for (const bool on_bed : {false, true}) {
    Book book = b;
    book.job.used().on_bed = on_bed;
    for (const Case& c :
         {Case{3.1, "into_sheet", "0.10 mm into the sheet of 0.15", Weight::informs},
          Case{3.4, "into_bed", "0.25 mm into the board", Weight::informs},
          Case{5, "into_bed", "1.85 mm into the board that the stock lies on, and 0.30 mm are allowed", Weight::warns},
          Case{15.6, "into_bed", "that is 0.45 mm into the bed", Weight::stops}}) {
      const auto all = cut_to(book, c.depth);
      const Finding* f = found(all, c.code);
      ASSERT_TRUE(f) << c.depth << " on bed " << on_bed;
      EXPECT_EQ(f->weight, c.weight) << c.depth << " on bed " << on_bed << ": " << f->message;
      EXPECT_NE(f->message.find(c.words), std::string::npos) << f->message;
    }
    EXPECT_FALSE(found(cut_to(book, 2.9), "into_sheet"));
    EXPECT_FALSE(found(cut_to(book, 2.9), "into_bed"));
  }
  // Without a board what lies below the sheet is the bed.
  Book bare = b;
  bare.job.board_mm = 0;
  const auto all = cut_to(bare, 5);
  ASSERT_TRUE(found(all, "into_bed"));
  EXPECT_EQ(found(all, "into_bed")->weight, Weight::stops);
}

TEST(StockLayers, AClampIsAsMuchLowerAsTheStockLiesHigher) {
  Book b = plate_on_board();
  EXPECT_NEAR(tallest_clamp(b), 20 - 15.15, 1e-9);
  b.job.used().on_bed = true;
  EXPECT_NEAR(tallest_clamp(b), 20 - 15.15, 1e-9) << "above the top, wherever zero is";
  b.job.used().on_bed = false;
  const auto crossing = [&] {
    const auto program = read_program("G21 G90\nT1 M6\nG0 Z9\nG0 X-30 Y30\nG0 X20\nM2\n", read_setting(b));
    CheckSetting setting;
    setting.tool = 1;
    return check_program(*program, b, setting);
  };
  EXPECT_FALSE(found(crossing(), "clamp"));
  b.job.board_mm = 0;
  b.job.sheet_mm = 0;
  EXPECT_TRUE(found(crossing(), "clamp")) << "the same clamp is 17 above a plate that lies on the bed";
}

TEST(StockLayers, ProgramsOfOursCutBelowTheTopWhereverZeroIs) {
  Book b = plate_on_board();
  b.job.clamps.clear();
  b.job.used().on_bed = true;
  HeadLine line;
  line.x1 = 20;
  HeadLinesSetting setting;
  setting.title = "a line";
  setting.depth = 0.2;
  const auto made = head_lines_program(b, {line}, setting);
  ASSERT_TRUE(made) << made.error().message;
  EXPECT_NEAR(made->program.cut.low.z, 3.15 - 0.2, 1e-9);
  b.job.used().on_bed = false;
  EXPECT_NEAR(head_lines_program(b, {line}, setting)->program.cut.low.z, -0.2, 1e-9);
}

/// An earlier book kept a plate's layers in the worksheet of its trial.
TEST(Materials, OfAnEarlierBookAreFoundByTheirNames) {
  const char* earlier = R"({"format": "ypsilograph-book", "version": 1, "job": {"stock_name": "oak"}, "worksheets": {
    "trials": {"material": "red over white", "depth": {"cap_mm": 0.2, "total_mm": 1.6, "core_left_mm": 0.4,
                                                       "cap_colour": "#aa0000"}},
    "trials_put_by": [{"material": "plain", "depth": {"wanted_mm": 0.1}},
                      {"material": "black over brass", "depth": {"cap_mm": 0.05}}]}})";
  const auto read = read_book(earlier);
  ASSERT_TRUE(read) << read.error().message;
  const Job& job = read->book.job;
  ASSERT_EQ(job.materials.size(), 2u);
  EXPECT_EQ(job.stock_name, "oak");
  const Material red = material_named(job.materials, "red over white");
  EXPECT_EQ(red.cap_mm, 0.2);
  EXPECT_EQ(red.total_mm, 1.6);
  EXPECT_EQ(red.cap_colour, "#aa0000");
  EXPECT_EQ(material_named(job.materials, "black over brass").cap_mm, 0.05);
  EXPECT_EQ(material_named(job.materials, "plain").cap_mm, 0);
  EXPECT_EQ(read->book.worksheets[trials_worksheet].depth.core_left_mm, 0.4);
  const auto again = read_book(write_book(read->book));
  ASSERT_TRUE(again);
  EXPECT_EQ(again->book.job.materials, job.materials) << "moved once";
}

TEST(Materials, OfTheWrongKindAreRefusedByPlaceAndNeverHalfRead) {
  const auto where = [](const char* worksheets, const char* job = "{}") {
    const auto read = read_book(
        fmt::format(R"({{"format": "ypsilograph-book", "version": 1, "job": {}, "worksheets": {}}})", job, worksheets));
    return read ? std::string("read") : read.error().where;
  };
  EXPECT_EQ(where(R"({"trials": {"material": "m", "depth": {"cap_mm": "thick"}}})"), "job.materials[0].cap_mm");
  EXPECT_EQ(where(R"({"trials": {"material": 3, "depth": {"cap_mm": 1}}})"), "job.materials[0].name");
  EXPECT_EQ(where(R"({"trials": 3})"), "worksheets.trials");
  EXPECT_EQ(where("[]"), "worksheets");
  EXPECT_EQ(where(R"({"trials": {"depth": {"cap_mm": 1}}})", "7"), "job");
  EXPECT_EQ(where(R"({"trials": {"depth": {"cap_mm": 1}}})", R"({"materials": 7})"), "job.materials");
}

TEST(Materials, GetTheNameThatWasMissingAndAreOfferedOnce) {
  Book b;
  describe_material(b.job.materials, "").cap_mm = 0.2;
  choose_trial(b, "red over white", "", 0);
  EXPECT_EQ(material_named(b.job.materials, "red over white").cap_mm, 0.2);
  EXPECT_EQ(b.job.materials.size(), 1u);
  // What another already is is not taken for what has no name.
  describe_material(b.job.materials, "").cap_mm = 0.5;
  name_material(b.job.materials, "red over white");
  EXPECT_EQ(material_named(b.job.materials, "red over white").cap_mm, 0.2);
  b.job.stock_name = "oak";
  EXPECT_EQ(known_materials(b), (std::vector<std::string>{"red over white", "oak"}));
}

}  // namespace
}  // namespace ypsi
