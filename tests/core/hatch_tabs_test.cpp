// Areas filled with lines, tabs and the way in: against closed forms, and on random shapes with holes by walking over
// them point by point.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <random>
#include <sstream>

#include "core/drawing_in/drawing_program.h"
#include "core/drawing_in/lead_in.h"
#include "core/drawing_in/tabs.h"
#include "core/engraver_book.h"
#include "core/outline/hatch.h"
#include "core/read_drawing.h"

namespace ypsi {
namespace {

using drawing_test::drawn;
using drawing_text::circle, drawing_text::dxf, drawing_text::line;
using std::numbers::pi;

#ifdef YPSI_SANITIZE
constexpr int drawn_shapes = 12;
#else
constexpr int drawn_shapes = 200;
#endif

Outline square_at(double x, double y, double side) {
  return rectangle({x, y}, {side, side});
}

double way_between(PlanPoint p, PlanPoint a, PlanPoint b) {
  const PlanPoint ab = b - a;
  const double part = std::norm(ab) > 0 ? std::clamp(dot(p - a, ab) / std::norm(ab), 0.0, 1.0) : 0;
  return std::abs(p - a - part * ab);
}
double way_to(PlanPoint p, const std::vector<Outline>& lines) {
  double least = 1e9;
  for (const Outline& o : lines)
    for (std::size_t i = 1; i < o.size(); ++i) least = std::min(least, way_between(p, o[i - 1], o[i]));
  return least;
}
/// By counting what a ray meets: apart from the library that the hatch is cut with.
bool inside(PlanPoint p, const std::vector<Outline>& outlines) {
  bool in = false;
  for (const Outline& o : outlines)
    for (std::size_t i = 1; i < o.size(); ++i) {
      const PlanPoint a = o[i - 1], b = o[i];
      if ((a.imag() > p.imag()) != (b.imag() > p.imag()) &&
          p.real() < a.real() + (p.imag() - a.imag()) / (b.imag() - a.imag()) * (b.real() - a.real()))
        in = !in;
    }
  return in;
}
LayerAct layer_act(DrawnAct what) {
  LayerAct a;
  a.layer = "cut";
  a.act = what;
  return a;
}

/// Two bars that cross are one letter; a bar within a frame is a hole.
TEST(Hatch, StrokesThatCrossAreOne) {
  const std::vector<Outline> cross{rectangle({-10, -1}, {20, 2}), rectangle({-1, -10}, {2, 20})};
  const auto lines = hatch(cross, {.spacing = 0.5, .with_outline = false});
  ASSERT_TRUE(lines) << lines.error().message;
  const auto near_middle = [&](PlanPoint p) { return way_to(p, *lines); };
  EXPECT_LT(near_middle({0, 0}), 0.26);
  EXPECT_LT(near_middle({0.7, 0.7}), 0.26);
  const auto framed =
      hatch({rectangle({-10, -10}, {20, 20}), rectangle({-4, -4}, {8, 8})}, {.spacing = 0.5, .with_outline = false});
  EXPECT_GT(way_to({0, 0}, *framed), 3.9);
  double area = 0;
  const auto whole = shrunk(cross, 0);
  ASSERT_TRUE(whole);
  for (const Outline& o : *whole) area += area_of(o);
  EXPECT_NEAR(area, 40 + 40 - 4, 1e-6);
}

/// What a round tool leaves of corners: r^2 (1 - pi/4) of each that is square.
TEST(NotReached, IsWhatARoundToolLeavesOfCorners) {
  const auto strip = not_reached({rectangle({0, 0}, {10, 1})}, {{{0.5, 0.5}, {9.5, 0.5}}}, 1, 0);
  ASSERT_TRUE(strip) << strip.error().message;
  EXPECT_NEAR(strip->area, 1 - pi / 4, 0.01);
  EXPECT_EQ(strip->outlines.size(), 2u) << "the two of an end meet in its middle";
  const auto round = not_reached({square_at(0, 0, 10)}, {rectangle({1, 1}, {8, 8}), {{5, 2}, {5, 8}}}, 2, 0.02);
  EXPECT_NEAR(round->area, 2 * (2 * 6) + 4 * (1 - pi / 4), 0.05) << "two strips beside the middle, and the corners";
  EXPECT_EQ(round->outlines.size(), 6u);
  const auto none = not_reached({rectangle({0, 0}, {10, 1})}, {{{-1, 0.5}, {11, 0.5}}}, 1.2, 0.02);
  EXPECT_TRUE(none->outlines.empty());
  EXPECT_EQ(not_reached({}, {}, 0, 0).error().code, "out_of_range");
}

TEST(Hatch, ASquaresLinesAreJoinedOrLifted) {
  const auto joined = hatch({square_at(0, 0, 10)}, {.spacing = 2, .with_outline = false});
  ASSERT_TRUE(joined && joined->size() == 1) << "to and fro without a lift";
  EXPECT_NEAR(length_along(joined->front()), 5 * 10 + 4 * 2, 1e-3);
  const auto lifted = hatch({square_at(0, 0, 10)}, {.spacing = 2, .one_way = true, .with_outline = false});
  ASSERT_EQ(lifted->size(), 5u);
  for (const Outline& l : *lifted) EXPECT_GT(l.back().real(), l.front().real());
  const auto turned = hatch({square_at(0, 0, 10)}, {.spacing = 2, .angle = pi / 2, .one_way = true});
  ASSERT_EQ(turned->size(), 6u) << "five lines, and round it";
  EXPECT_NEAR(turned->front().front().real(), turned->front().back().real(), 1e-6);
  EXPECT_NEAR(length_along(turned->back()), 40, 1e-3);
  EXPECT_TRUE(hatch({square_at(0, 0, 10)}, {.spacing = 2, .inset = 5.1})->empty()) << "no room";
  EXPECT_EQ(hatch({square_at(0, 0, 10)}, {.spacing = 0}).error().code, "out_of_range");
  EXPECT_EQ(hatch({square_at(0, 0, 10)}, {.spacing = 1e-9}).error().code, "too_large");
  EXPECT_EQ(hatch({square_at(0, 0, 10)}, {.spacing = 1, .angle = std::nan("")}).error().code, "out_of_range");
}

/// 200 random shapes with holes: no line comes nearer to an outline than its inset, and no place that the tool could
/// reach is farther from a line than leaves a ridge.
TEST(Hatch, CrossesNoOutlineAndLeavesNoRidge) {
  std::mt19937 random(12);
  const auto between = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
  for (int n = 0; n < drawn_shapes; ++n) {
    const auto star = [&](PlanPoint middle, double least, double most, int corners) {
      Outline o;
      for (int i = 0; i < corners; ++i)
        o.push_back(middle + std::polar(between(least, most), 2 * pi * (i + between(0, 0.6)) / corners));
      o.push_back(o.front());
      return o;
    };
    std::vector<Outline> shape{star({0, 0}, 22, 40, static_cast<int>(between(5, 14)))};
    shape.push_back(star({-6, 3}, 3, 8, 7));
    if (n % 2 == 0) shape.push_back(star({9, -4}, 2, 5, 5));
    const HatchSetting s{.spacing = between(0.5, 2), .angle = between(-4, 4), .inset = between(0.3, 1)};
    // What a round tool of that radius reaches lies within it of a place where its middle may be.
    const auto lines = hatch(shape, s);
    ASSERT_TRUE(lines) << n;
    ASSERT_FALSE(lines->empty()) << n;
    for (const Outline& l : *lines)
      for (std::size_t i = 1; i < l.size(); ++i)
        for (int part = 0; part <= 4; ++part) {
          const PlanPoint p = l[i - 1] + (l[i] - l[i - 1]) * (part / 4.0);
          ASSERT_TRUE(inside(p, shape)) << n;
          ASSERT_GE(way_to(p, shape), s.inset - 0.005) << n;
        }
    for (int i = 0; i < 150; ++i) {
      const PlanPoint p(between(-40, 40), between(-40, 40));
      if (!inside(p, shape) || way_to(p, shape) < s.inset + 0.01) continue;
      EXPECT_LE(way_to(p, *lines), s.spacing / 2 + 1e-3) << n << " " << p;
    }
  }
}

TEST(Hatch, OfALayerIsAsDenseAsItsToolIsWideAtItsDepth) {
  Book b;
  Tool v = pointed_t3();
  v.tip = 0.1;
  b.tools = {v};
  const Drawing drawing = drawn(dxf(drawing_text::rectangle(0, 0, 20, 10) + circle(10, 5, 2)));
  DrawingJob job;
  LayerAct a = layer_act(DrawnAct::hatch);
  a.tool = 3;
  a.depth_mm = 0.5;
  job.acts = {a};
  const auto paths = drawing_paths(b, drawing, job);
  ASSERT_TRUE(paths) << paths.error().message;
  const double radius = 0.05 + 0.5 * std::tan(pi / 6);  // of a 60 degree point with a tip of a tenth
  double low = 1e9;
  for (const HeadPath& p : *paths)
    for (const PlanPoint& at : p.points) {
      EXPECT_GE(at.real(), radius - 1e-3);
      EXPECT_GE(std::abs(at - PlanPoint(10, 5)), 2 + radius - 0.005) << "the hole stays as large as it is drawn";
      low = std::min(low, at.imag());
    }
  EXPECT_NEAR(low, radius, 1e-3) << "round the outline";
  EXPECT_GT(paths->size(), 2u) << "lines, and both outlines gone round";
  job.acts[0].tool = 0;
  EXPECT_EQ(drawing_paths(b, drawing, job).error().code, "no_spacing");
  job.acts[0].hatch_mm = 1;
  EXPECT_TRUE(drawing_paths(b, drawing, job));
  EXPECT_EQ(drawing_paths(b, drawn(dxf(line(0, 0, 20, 0))), job).error().code, "open_outline");
}

TEST(Tabs, LieEvenlyAndOffCorners) {
  Outline line = square_at(0, 0, 100);
  const auto over = with_tabs(line, 4, 8);
  ASSERT_EQ(over.size(), line.size());
  int tabs = 0;
  double held = 0;
  for (std::size_t i = 1; i < line.size(); ++i)
    if (over[i]) {
      held += std::abs(line[i] - line[i - 1]);
      tabs += over[i - 1] ? 0 : 1;
      for (const double x : {line[i].real(), line[i - 1].real()})
        for (const double y : {line[i].imag(), line[i - 1].imag()})
          EXPECT_FALSE((x == 0 || x == 100) && (y == 0 || y == 100)) << "not at a corner";
    }
  EXPECT_EQ(tabs, 4);
  EXPECT_NEAR(held, 32, 1e-9);
  EXPECT_NEAR(length_along(line), 400, 1e-9);
  double cut = 0;
  const auto parts = between_tabs(line, over);
  EXPECT_EQ(parts.size(), 5u) << "begun and ended at the start";
  for (const Outline& part : parts) cut += length_along(part);
  EXPECT_NEAR(cut, 400 - 32, 1e-9);
  Outline small = square_at(0, 0, 5);
  EXPECT_TRUE(with_tabs(small, 4, 8).empty()) << "no room for them";
  EXPECT_EQ(small.size(), 5u);
}

TEST(Tabs, OfRandomOutlinesAreAsManyAndAsLongAsWanted) {
  std::mt19937 random(8);
  const auto between = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
  for (int n = 0; n < 200; ++n) {
    Outline line;
    const int corners = static_cast<int>(between(3, 60));
    for (int i = 0; i < corners; ++i) line.push_back(std::polar(between(20, 50), 2 * pi * i / corners));
    line.push_back(line.front());
    const int wanted = static_cast<int>(between(1, 7));
    const double long_mm = between(1, 6), before = length_along(line);
    const auto over = with_tabs(line, wanted, long_mm);
    if (before < 2 * wanted * long_mm) continue;
    ASSERT_EQ(over.size(), line.size());
    double held = 0;
    int tabs = 0;
    for (std::size_t i = 1; i < line.size(); ++i) {
      held += over[i] ? std::abs(line[i] - line[i - 1]) : 0;
      tabs += over[i] && !over[i - 1] ? 1 : 0;
    }
    EXPECT_EQ(tabs, wanted) << n;
    EXPECT_NEAR(held, wanted * long_mm, 1e-6) << n;
    EXPECT_NEAR(length_along(line), before, 1e-6) << n;
  }
}

TEST(LeadIn, ComesAlongTheLineFromTheWaste) {
  Outline line = square_at(0, 0, 40);
  EXPECT_TRUE(lead_in(line, 5, false).empty()) << "no way along a side into an inner corner";
  EXPECT_FALSE(begin_with_lead_in(line, 5, true, {}).empty());
  EXPECT_NEAR(length_along(line), 160, 1e-9);
  EXPECT_EQ(line.front(), PlanPoint(20, 0));
  for (const bool outside : {true, false}) {
    const Outline arc = lead_in(line, 5, outside);
    ASSERT_GT(arc.size(), 3u);
    for (const PlanPoint& p : arc) EXPECT_EQ(inside(p, {line}), !outside) << p;
    // A quarter of a circle of 5 whose last chord runs along the first side.
    EXPECT_NEAR(std::abs(arc.front() - line[0]), 5 * std::sqrt(2), 1e-9);
    const PlanPoint last = line[0] - arc.back(), side = line[1] - line[0];
    EXPECT_LT(std::fabs(std::arg(last / side)), 0.08);
  }
  EXPECT_TRUE(lead_in(line, 300, false).empty()) << "no room in there";
  EXPECT_NEAR(std::abs(lead_in(line, 50, false).front() - line[0]), 12.5 * std::sqrt(2), 1e-9)
      << "as much as there is room for";
  EXPECT_TRUE(lead_in(line, 0, true).empty());
}

TEST(LeadIn, KeepsClearOfWhatElseIsCut) {
  // A row of three squares of 40, 10 apart: between them a way in of 8 has no room.
  const std::vector<Outline> row{square_at(0, 0, 40), square_at(50, 0, 40), square_at(100, 0, 40)};
  for (std::size_t i = 0; i < row.size(); ++i) {
    OutlinesAround around;
    for (const Outline& other : row)
      if (&other != &row[i]) around.push_back(&other);
    Outline line = row[i];
    // Begun so that the longest of its equal sides is one that faces a neighbour.
    std::rotate(line.begin(), line.begin() + 1, line.end() - 1);
    line.back() = line.front();
    const Outline way = begin_with_lead_in(line, 12, true, around);
    ASSERT_FALSE(way.empty());
    EXPECT_NEAR(std::abs(way.front() - line.front()), 12 * std::sqrt(2), 1e-9) << "there is a free side";
    for (const PlanPoint& p : way)
      for (const Outline& other : row) EXPECT_FALSE(inside(p, {other})) << p;
    EXPECT_NEAR(length_along(line), 160, 1e-9);
  }
  // All around: as much as there is room for, and nothing where there is none.
  const Outline left = square_at(-44, -44, 40), hole = square_at(-10, -10, 60);
  Outline line = square_at(0, 0, 40);
  const Outline way = begin_with_lead_in(line, 12, true, {&hole});
  ASSERT_FALSE(way.empty());
  EXPECT_NEAR(std::abs(way.front() - line.front()), 6 * std::sqrt(2), 1e-9) << "10 mm of waste, all around";
  for (const PlanPoint& p : way) EXPECT_TRUE(inside(p, {hole})) << "in the hole that it lies in";
  const Outline tight = square_at(-1, -1, 42);
  EXPECT_TRUE(begin_with_lead_in(line, 12, true, {&tight}).empty());
  EXPECT_FALSE(begin_with_lead_in(line, 12, true, {&left}).empty());
}

Book with_cutter() {
  Book b;
  Tool cutter;
  cutter.number = 2;
  cutter.diameter = 6;
  b.tools = {cutter};
  return b;
}

TEST(DrawingPaths, NoLeadInRunsIntoAnotherPiece) {
  LayerAct a = layer_act(DrawnAct::outside);
  a.tool = 2;
  a.lead_in_mm = 6;
  DrawingJob job;
  job.acts = {a};
  // Four squares 10 apart, their sides facing each other: between the cutter's ways there are 4 mm.
  std::string squares;
  std::vector<Outline> pieces;
  for (const double x : {0, 50})
    for (const double y : {0, 50}) {
      squares += drawing_text::rectangle(x, y, 40, 40);
      pieces.push_back(square_at(x, y, 40));
    }
  const auto paths = drawing_paths(with_cutter(), drawn(dxf(squares)), job);
  ASSERT_TRUE(paths) << paths.error().message;
  ASSERT_EQ(paths->size(), 4u);
  for (const HeadPath& path : *paths) {
    // It comes in from outside of all of them by all of its 6 mm; the cutter, 3 mm to a side, touches no piece.
    EXPECT_GT(length_along(path.points), 4 * 40 + 6);
    for (const PlanPoint& p : path.points)
      for (const Outline& piece : pieces) {
        const double beside_x = std::max({piece[0].real() - p.real(), p.real() - piece[2].real(), 0.0}),
                     beside_y = std::max({piece[0].imag() - p.imag(), p.imag() - piece[2].imag(), 0.0});
        EXPECT_GT(std::hypot(beside_x, beside_y), 3 - 0.01) << p;
      }
  }
}

TEST(DrawingProgram, LiftsACutterOverItsTabsInTheLastPassesAlone) {
  DrawingJob job;
  LayerAct a = layer_act(DrawnAct::outside);
  a.tool = 2;
  a.depth_mm = 6;
  a.passes = 3;
  a.tabs = 2;
  a.tab_mm = 8;
  a.tab_high_mm = 1.5;
  a.lead_in_mm = 4;
  a.overcut_mm = 3;
  job.acts = {a};
  const Drawing drawing = drawn(dxf(drawing_text::rectangle(0, 0, 80, 50)));
  const auto made = drawing_program(with_cutter(), drawing, job);
  ASSERT_TRUE(made) << made.error().message;
  std::map<std::string, int> down;
  std::istringstream in(made->text);
  for (std::string block; std::getline(in, block);)
    if (block.starts_with("G1 Z")) ++down[block.substr(3, block.find(' ', 3) - 3)];
  EXPECT_EQ(down["Z-2.000"], 1);
  EXPECT_EQ(down["Z-4.000"], 1) << "not below the tabs' top";
  EXPECT_EQ(down["Z-4.500"], 2) << "lifted over each tab";
  EXPECT_EQ(down["Z-6.000"], 3) << "down at the start and after each tab";
  job.acts[0].tab_high_mm = 0;
  // What stays is as long as is said: the cutter, 6 mm wide, is lifted over so much more.
  double over = 0;
  const auto paths = drawing_paths(with_cutter(), drawing, job);
  ASSERT_TRUE(paths);
  for (const HeadPath& p : *paths)
    for (std::size_t i = 1; i < p.points.size(); ++i)
      over += i < p.over_tab.size() && p.over_tab[i] ? std::abs(p.points[i] - p.points[i - 1]) : 0;
  EXPECT_NEAR(over, 2 * (8 + 6), 1e-6);
  const auto whole = drawing_program(with_cutter(), drawing, job);
  EXPECT_NE(whole->text.find("G1 Z0.000"), std::string::npos) << "all of it stays";
}

TEST(DrawingPaths, AWheelIsLiftedOverItsTabs) {
  Book b;
  Head wheel;
  wheel.name = "wheel";
  wheel.kind = HeadKind::wheel;
  wheel.lower = "M171";
  wheel.raise = "M172";
  b.machine.heads = {wheel};
  DrawingJob job;
  LayerAct a = layer_act(DrawnAct::on_line);
  a.tabs = 2;
  a.tab_mm = 5;
  job.acts = {a};
  const Drawing drawing = drawn(dxf(circle(50, 50, 20)));
  const auto paths = drawing_paths(b, drawing, job);
  ASSERT_TRUE(paths);
  double cut = 0;
  for (const HeadPath& p : *paths) cut += length_along(p.points);
  EXPECT_EQ(paths->size(), 3u);
  EXPECT_NEAR(cut, 2 * pi * 20 - 10, 0.01);
}

}  // namespace
}  // namespace ypsi
