// `ypsilo drawing`: what is said of a drawing, and the program that is made of it.
#include "cli/drawing_command.h"

#include <gtest/gtest.h>

#include <cstdlib>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/book/book_json.h"
#include "core/drawing_text.h"

namespace ypsi::cli {
namespace drawing_cli_test {

using nlohmann::json;
using namespace drawing_text;

std::string table() {
  Book b;
  b.machine.name = "Fathom";
  b.machine.kind = "cutting_table";
  Head pen;
  pen.name = "pen";
  pen.kind = HeadKind::pen;
  pen.lower = "M171";
  pen.raise = "M172";
  b.machine.heads = {pen};
  b.job.stock_size = {300, 200, 1};
  for (const Axis a : all_axes) b.job.zero(a) = a == Axis::z ? -20.0 : 50.0;
  return write_book(b);
}

TEST(DrawingCommand, TellsLayersExtentsUnitsAndWhatIsOdd) {
  const std::string book = table(),
                    drawing_file = dxf(circle(10, 10, 10) + circle(10, 10, 10) + line(0, 0, 5, 0, "fold"));
  std::ostringstream out;
  EXPECT_EQ(drawing({.file = drawing_file, .book = book, .as_json = true}, out), 1);
  const json all = json::parse(out.str());
  EXPECT_EQ(all["format"], "DXF");
  EXPECT_EQ(all["unit_mm"], 1);
  EXPECT_EQ(all["unit_from"], "file");
  EXPECT_EQ(all["doubled"], 1);
  ASSERT_EQ(all["layers"].size(), 2u);
  EXPECT_EQ(all["layers"][0]["name"], "cut");
  EXPECT_EQ(all["layers"][0]["closed"], 1);
  EXPECT_NEAR(all["layers"][0]["length_mm"].get<double>(), 62.83, 0.01);
  EXPECT_EQ(all["open_ends"].size(), 2u);
  EXPECT_NEAR(all["extents"]["high_mm"][0].get<double>(), 20, 1e-9);
  EXPECT_FALSE(all.contains("program"));
  std::ostringstream words;
  const std::string clean = dxf(circle(10, 10, 10));
  EXPECT_EQ(drawing({.file = clean, .book = book}, words), 0) << words.str();
  EXPECT_NE(words.str().find("20.00 by 20.00 mm"), std::string::npos) << words.str();
  std::ostringstream inches;
  EXPECT_EQ(drawing({.file = clean, .book = book, .unit_mm = 25.4, .as_json = true}, inches), 1)
      << "larger than the bed then";
  EXPECT_NEAR(json::parse(inches.str())["extents"]["high_mm"][0].get<double>(), 508, 1e-6);
}

TEST(DrawingCommand, WhatCannotBeReadIsAnsweredWithCodeAndPlace) {
  const std::string book = table();
  const auto error = [&](const DrawingQuestion& q) {
    std::ostringstream out;
    EXPECT_EQ(drawing(q, out), 2);
    return json::parse(out.str())["error"];
  };
  EXPECT_EQ(error({.file = "0\nSECTION\n2", .book = book, .as_json = true})["code"], "damaged");
  const std::string bad = svg("<path d='M0'/>"), good = dxf(circle(0, 0, 5));
  EXPECT_EQ(error({.file = bad, .book = book, .as_json = true})["where"], "path 2");
  EXPECT_EQ(error({.file = good, .book = "{}", .as_json = true})["code"], read_book("{}").error().code);
  EXPECT_EQ(error({.file = good, .book = book, .acts = "{", .as_json = true})["code"], "not_json");
  EXPECT_EQ(
      error({.file = good, .book = book, .acts = R"([{"layer": "cut", "act": "saw"}])", .as_json = true})["where"],
      "job.drawing.acts[0].act");
  EXPECT_EQ(error({.file = good, .book = book, .acts = R"({"unit": "rod", "acts": []})", .as_json = true})["code"],
            "unknown_unit");
  std::string program;
  std::ostringstream out;
  EXPECT_EQ(drawing({.file = good, .book = book, .as_json = true}, out, &program), 2) << "nobody says what is done";
  EXPECT_TRUE(program.empty());
}

TEST(DrawingCommand, WritesAProgramThatIsJudgedLikeAnyOther) {
  const std::string book = table(), file = dxf(circle(10, 10, 10));
  std::ostringstream out;
  std::string program;
  const int code = drawing({.file = file,
                            .book = book,
                            .file_name = "ring.dxf",
                            .acts = R"({"acts": [{"layer": "cut", "act": "mark", "head": "pen"}], "columns": 2})",
                            .as_json = true},
                           out, &program);
  EXPECT_LE(code, 1);
  const json made = json::parse(out.str())["program"];
  EXPECT_GT(made["time_s"].get<double>(), 0);
  EXPECT_GT(made["motions"].get<int>(), 100);
  EXPECT_NE(program.find("(from ring.dxf)"), std::string::npos);
  std::size_t lowered = 0;
  for (std::size_t at = 0; (at = program.find("M171\n", at)) != std::string::npos; ++at) ++lowered;
  EXPECT_EQ(lowered, 2u);
}

/// A ring of 10 mm radius on a stock of 100 x 50 that lies over the zone's half.
TEST(DrawingCommand, SaysWhatTheBedHolds) {
  json book = json::parse(table());
  const json zone = {{"name", "A"}, {"x_mm", 50}, {"y_mm", 50}, {"width_mm", 100}, {"depth_mm", 100}};
  book["machine"]["vacuum"] = {
      {"zones", json::array({zone})}, {"pressure_kPa", 20}, {"open_share", 0.5}, {"smallest_piece_cm2", 4}};
  book["job"]["stock_size_mm"] = {100, 50, 1};
  const std::string file = dxf(circle(10, 10, 10)), acts = R"([{"layer": "cut", "act": "on_line", "head": "pen"}])";
  std::ostringstream out;
  EXPECT_LE(drawing({.file = file, .book = book.dump(), .file_name = "ring.dxf", .acts = acts, .as_json = true}, out),
            1);
  const json h = json::parse(out.str())["held"];
  EXPECT_TRUE(h["zones"][0]["open"]) << h;
  EXPECT_NEAR(h["share"].get<double>(), 1, 1e-9);
  EXPECT_NEAR(h["force_N"].get<double>(), 5000e-6 * 20e3 * 0.3, 1e-6);
  EXPECT_NEAR(h["zones"][0]["to_mask_mm2"].get<double>(), 5000, 1e-3);
  EXPECT_NEAR(h["pieces"][0]["area_mm2"].get<double>(), 3.14159 * 100, 0.1);
  EXPECT_TRUE(h["pieces"][0]["too_small"]);
  std::ostringstream words;
  EXPECT_LE(drawing({.file = file, .book = book.dump(), .file_name = "ring.dxf", .acts = acts}, words), 1);
  EXPECT_NE(words.str().find("Open A: 100 % of the stock, 30 N."), std::string::npos) << words.str();
  EXPECT_NE(words.str().find("1 of 1 pieces want tabs"), std::string::npos);
}

/// As a script sees it.
TEST(DrawingCommand, ReadsAndWritesFiles) {
  const std::string folder = ::testing::TempDir() + "/drawing-command";
  ASSERT_EQ(std::system(("rm -rf " + folder + " && mkdir -p " + folder).c_str()), 0);
  const auto write = [&](const std::string& name, const std::string& text) {
    std::ofstream(folder + "/" + name, std::ios::binary) << text;
  };
  write("t.ypsi", table());
  write("ring.svg", svg("<circle cx='50' cy='40' r='12' stroke='red' fill='none'/>"));
  write("acts.json", R"([{"layer": "#ff0000", "act": "mark", "head": "pen"}])");
  const std::string ypsilo =
      std::string(YPSI_BIN) + "/ypsilo drawing " + folder + "/ring.svg --book " + folder + "/t.ypsi";
  EXPECT_EQ(WEXITSTATUS(std::system((ypsilo + " > /dev/null").c_str())), 0);
  const int made =
      std::system((ypsilo + " --acts " + folder + "/acts.json -o " + folder + "/ring.ngc > /dev/null").c_str());
  EXPECT_LE(WEXITSTATUS(made), 1);
  std::ifstream program(folder + "/ring.ngc");
  std::string first;
  EXPECT_TRUE(std::getline(program, first));
  EXPECT_EQ(
      WEXITSTATUS(std::system((ypsilo + " --acts " + folder + "/acts.json -o /no/such/folder/x > /dev/null").c_str())),
      2);
}

}  // namespace drawing_cli_test
}  // namespace ypsi::cli
