// Whole drawings from files: of our own making with what closed forms say is in them (scripts/test-drawings), and one
// plate as general drawing programs write it (tests/data/drawings/by_programs/make.sh).
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <numbers>
#include <sstream>

#include "core/drawing_in/drawing_report.h"
#include "core/drawing_in/mend.h"

namespace ypsi {
namespace {

const std::string folder = std::string(YPSI_TEST_DATA) + "/drawings/";

std::string content(const std::string& path) {
  std::ifstream in(path, std::ios::binary);
  std::ostringstream out;
  out << in.rdbuf();
  return out.str();
}

std::vector<std::string> files_in(const std::string& of) {
  std::vector<std::string> all;
  for (const auto& each : std::filesystem::directory_iterator(folder + of))
    if (const auto kind = each.path().extension(); kind == ".dxf" || kind == ".svg")
      all.push_back(each.path().filename().string());
  std::sort(all.begin(), all.end());
  return all;
}

std::string as_name(const testing::TestParamInfo<std::string>& of) {
  std::string name = of.param;
  for (char& c : name)
    if (!std::isalnum(static_cast<unsigned char>(c))) c = '_';
  return name;
}

class OwnDrawing : public testing::TestWithParam<std::string> {};

TEST_P(OwnDrawing, HoldsWhatItsClosedFormsSay) {
  const auto expected = nlohmann::json::parse(content(folder + "own/expected.json")).at(GetParam());
  auto drawing = read_drawing(content(folder + "own/" + GetParam()));
  ASSERT_TRUE(drawing) << drawing.error().message;
  const Mended mended = mend(*drawing);
  const auto findings = look_over(*drawing, mended, MachineSetup{});
  const auto box = drawing->extents();
  ASSERT_TRUE(box);
  constexpr double within = 0.005;
  const auto& wanted = expected.at("box");
  EXPECT_NEAR(box->low.real(), wanted[0].get<double>(), within);
  EXPECT_NEAR(box->low.imag(), wanted[1].get<double>(), within);
  EXPECT_NEAR(box->high.real(), wanted[2].get<double>(), within);
  EXPECT_NEAR(box->high.imag(), wanted[3].get<double>(), within);
  double length = 0;
  std::size_t closed = 0;
  for (const DrawnContour& c : drawing->contours) {
    length += length_of(c);
    closed += c.closed ? 1 : 0;
  }
  if (const auto& l = expected.at("length"); l.is_number()) {
    EXPECT_NEAR(length, l.get<double>(), 2e-4 * l.get<double>());
  }
  if (const auto& n = expected.at("closed"); n.is_number()) {
    EXPECT_EQ(closed, n.get<std::size_t>());
    EXPECT_EQ(drawing->contours.size() - closed, expected.at("open").get<std::size_t>());
  }
  EXPECT_EQ(drawing->texts.size(), expected.value("texts", std::size_t{0}));
  const auto named = [&](const auto& f) { return f.code == expected.value("finding", std::string()); };
  EXPECT_EQ(std::any_of(findings.begin(), findings.end(), named), expected.contains("finding"));
  if (expected.contains("layers")) {
    EXPECT_EQ(drawing->layers.size(), expected.at("layers").get<std::size_t>());
  }
}

INSTANTIATE_TEST_SUITE_P(Drawings, OwnDrawing, testing::ValuesIn(files_in("own")), as_name);

/// How large a plate of 80 x 50 comes out where a program has no real unit, or its own margins.
double scale_of(const std::string& file) {
  if (file == "gnuplot.dxf") return 1.1081;  // its plot is not drawn to scale
  if (file == "gnuplot.svg") return 800 * 25.4 / 96 / 100;
  if (file == "potrace.dxf") return 10;  // its pixels
  return 1;
}

class ByAProgram : public testing::TestWithParam<std::string> {};

TEST_P(ByAProgram, IsAPlateWithAHole) {
  auto drawing = read_drawing(content(folder + "by_programs/" + GetParam()));
  ASSERT_TRUE(drawing) << drawing.error().message;
  (void)mend(*drawing);
  const double scale = scale_of(GetParam()), within = 0.6 * scale;  // widths of lines, pixels, whole points
  int plates = 0, holes = 0;
  PlanPoint plate, hole;
  for (const DrawnContour& c : drawing->contours) {
    if (!c.closed) continue;
    double x0 = 1e9, y0 = 1e9, x1 = -1e9, y1 = -1e9;
    for (const PlanPoint& p : c.points) {
      x0 = std::min(x0, p.real());
      x1 = std::max(x1, p.real());
      y0 = std::min(y0, p.imag());
      y1 = std::max(y1, p.imag());
    }
    const PlanPoint middle((x0 + x1) / 2, (y0 + y1) / 2);
    if (std::fabs(x1 - x0 - 80 * scale) < within && std::fabs(y1 - y0 - 50 * scale) < within) {
      ++plates;
      plate = middle;
    }
    if (std::fabs(x1 - x0 - 30 * scale) < within && std::fabs(y1 - y0 - 30 * scale) < within) {
      ++holes;
      hole = middle;
      EXPECT_NEAR(length_of(c), 30 * std::numbers::pi * scale, within * std::numbers::pi);
    }
  }
  EXPECT_GE(plates, 1);
  EXPECT_GE(holes, 1);
  EXPECT_LT(std::abs(plate - hole), within) << "in its middle, not mirrored out of it";
}

INSTANTIATE_TEST_SUITE_P(Drawings, ByAProgram, testing::ValuesIn(files_in("by_programs")), as_name);

TEST(Drawings, AreAsManyAsWasWanted) {
  EXPECT_GE(files_in("own").size(), 40u);
  EXPECT_GE(files_in("by_programs").size(), 20u);
}

}  // namespace
}  // namespace ypsi
