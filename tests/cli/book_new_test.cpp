// The book that a machine begins with: sound, complete for its kind, and never over one that is there.
#include "cli/book_new.h"

#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "cli/book_check.h"
#include "core/book/book_json.h"
#include "core/book/machine_kinds.h"
#include "core/tasks/budget.h"

namespace ypsi::cli {
namespace {

class NewBook : public ::testing::Test {
 protected:
  void SetUp() override {
    folder_ = std::filesystem::path(::testing::TempDir()) /
              ("ypsi-new-" + std::string(::testing::UnitTest::GetInstance()->current_test_info()->name()));
    std::filesystem::remove_all(folder_);
    std::filesystem::create_directories(folder_);
  }
  void TearDown() override { std::filesystem::remove_all(folder_); }
  std::string path(const std::string& name) const { return (folder_ / name).string(); }
  static std::string text_of(const std::string& file) {
    std::ifstream in(file, std::ios::binary);
    std::stringstream text;
    text << in.rdbuf();
    return text.str();
  }
  std::filesystem::path folder_;
  std::ostringstream said_;
};

TEST_F(NewBook, OfEveryKindIsSoundAndSaysOneThingEverywhere) {
  for (const MachineKind& kind : machine_kinds()) {
    const std::string file = path(std::string(kind.id) + ".ypsi");
    ASSERT_EQ(new_book({kind.id, "Tansy", {"ruler", "caliper", "ruler"}, {}}, file, said_), 0) << said_.str();
    std::ostringstream checked;
    EXPECT_EQ(check_book(text_of(file), checked), 0) << kind.id << checked.str();
    const Book book = read_book(text_of(file)).value().book;
    EXPECT_EQ(book.machine.kind, kind.id);
    EXPECT_EQ(book.machine.name, "Tansy");
    ASSERT_EQ(book.instruments.size(), 2u) << "one that is named twice comes once";
    EXPECT_GT(book.instrument("ruler")->u_mm(300), 0.1);
    EXPECT_LT(book.instrument("caliper")->u_mm(100), 0.05);
    for (const Axis a : all_axes) {
      const AxisSetup& axis = book.machine.axis(a);
      EXPECT_DOUBLE_EQ(axis.steps_per_mm, steps_per_unit(axis.drive).value().steps_per_unit) << kind.id << letter(a);
    }
    // The usual part fits with room around it.
    EXPECT_GE(book.job.part_width, book.machine.axis(Axis::x).travel / 10);
    EXPECT_LE(book.job.part_width, 0.6 * book.machine.axis(Axis::x).travel);
    EXPECT_LE(book.job.part_height, 0.6 * book.machine.axis(Axis::y).travel);
    EXPECT_LE(std::max(book.job.part_width, book.job.part_height), 300);
    EXPECT_FALSE(error_budget(book).sizes.headline) << "nothing was measured yet";
  }
}

TEST_F(NewBook, IsNeverWrittenOverOneThatIsThere) {
  const std::string file = path("kept.ypsi");
  std::ofstream(file) << "mine";
  EXPECT_EQ(new_book({"engraver", "Tansy", {}, {}}, file, said_), 2);
  EXPECT_NE(said_.str().find("\"exists\""), std::string::npos) << said_.str();
  EXPECT_EQ(text_of(file), "mine");
  EXPECT_EQ(new_book({"engraver", "Tansy", {}, {}}, path("no/such/folder.ypsi"), said_), 2);
  EXPECT_NE(said_.str().find("\"not_written\""), std::string::npos) << said_.str();
}

TEST_F(NewBook, SaysWhichAnswerCannotBe) {
  const auto code = [](const FirstAnswers& answers) { return first_book(answers).error().code; };
  EXPECT_EQ(code({"lathe", "Tansy", {}, {}}), "unknown_kind");
  EXPECT_EQ(code({"engraver", "  ", {}, {}}), "no_name");
  EXPECT_EQ(code({"engraver", "Tansy", {"yardstick"}, {}}), "unknown_instrument");
  EXPECT_EQ(code({"engraver", "Tansy", {}, {150.0, 0.0, std::nullopt}}), "out_of_range");
  const Book small = first_book({"engraver", "Tansy", {}, {150.0, std::nullopt, std::nullopt}}).value();
  EXPECT_EQ(small.machine.axis(Axis::x).travel, 150);
  EXPECT_EQ(small.machine.axis(Axis::y).travel, 100) << "as is usual";
  EXPECT_EQ(small.job.part_width, 90) << "three fifths, in whole centimetres";
  EXPECT_EQ(new_book({"lathe", "Tansy", {}, {}}, path("a.ypsi"), said_), 2);
  EXPECT_NE(said_.str().find("cutting_table"), std::string::npos) << "what there is, is named: " << said_.str();
  EXPECT_FALSE(std::filesystem::exists(path("a.ypsi")));
}

}  // namespace
}  // namespace ypsi::cli
