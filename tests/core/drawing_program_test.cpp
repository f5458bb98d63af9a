// From a drawing's layers to a program: heads, order, what is cut beside a line, and what is refused.
#include "core/drawing_in/drawing_program.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <random>

#include "core/book/book_json.h"
#include "core/drawing_in/drawing_basis.h"
#include "core/outline/outline.h"
#include "core/program/checks.h"
#include "core/read_drawing.h"

namespace ypsi {
namespace drawing_program_test {

using namespace drawing_text;
using drawing_test::drawn;
using std::numbers::pi;

Head head(const std::string& name, HeadKind kind, int block) {
  Head h;
  h.name = name;
  h.kind = kind;
  if (block > 0) {
    h.lower = fmt::format("M{}", block);
    h.raise = fmt::format("M{}", block + 1);
  }
  return h;
}

/// A table with a wheel, a pen and a creaser, places known, and a spindle's tools on a head of its own.
Book table() {
  Book b;
  b.machine.kind = "cutting_table";
  b.machine.heads = {head("wheel", HeadKind::wheel, 171), head("pen", HeadKind::pen, 173),
                     head("creaser", HeadKind::creaser, 175), head("spindle", HeadKind::spindle, 0)};
  b.machine.heads[1].place = HeadPlace{40, 2, 0.1};
  b.machine.heads[2].place = HeadPlace{-40, 0, 0.1};
  b.machine.heads[3].place = HeadPlace{0, 60, 0.1};
  Tool cutter;
  cutter.number = 2;
  cutter.diameter = 6;
  cutter.head = "spindle";
  b.tools = {cutter};
  b.job.stock_size = {600, 400, 1};
  return b;
}

LayerAct act(const std::string& layer, DrawnAct what, const std::string& head = {}) {
  LayerAct a;
  a.layer = layer;
  a.act = what;
  a.head = head;
  return a;
}

TEST(DrawingPaths, PenBeforeCreaseBeforeCutAndInnerBeforeOuter) {
  const Drawing d =
      drawn(dxf(square(0, 0, 100) + square(20, 20, 60) + square(40, 40, 20) + square(200, 0, 50) +
                line(0, 150, 100, 150, "names") + line(0, 50, 100, 50, "fold") + line(0, 0, 300, 300, "frame")));
  DrawingJob job;
  job.acts = {act("cut", DrawnAct::on_line), act("names", DrawnAct::mark, "pen"),
              act("fold", DrawnAct::crease, "creaser"), act("frame", DrawnAct::leave_out),
              act("of another drawing", DrawnAct::mark, "pen")};
  Book b = table();
  b.machine.heads[0].kind = HeadKind::pen;  // it need not be lifted at corners
  const auto paths = drawing_paths(b, d, job);
  ASSERT_TRUE(paths) << paths.error().message;
  ASSERT_EQ(paths->size(), 6u);
  EXPECT_EQ((*paths)[0].head, 1u);
  EXPECT_EQ((*paths)[1].head, 2u);
  std::vector<double> areas;
  for (std::size_t i = 2; i < 6; ++i) areas.push_back(area_of((*paths)[i].points));
  EXPECT_NEAR(areas[0], 400, 1e-6) << "the innermost first";
  EXPECT_NEAR(areas[1], 3600, 1e-6);
  EXPECT_TRUE((std::fabs(areas[2] - 10000) < 1e-6 && std::fabs(areas[3] - 2500) < 1e-6) ||
              (std::fabs(areas[3] - 10000) < 1e-6 && std::fabs(areas[2] - 2500) < 1e-6));
}

TEST(DrawingPaths, TheNearestComesNextAndIsBegunAtItsNearerEnd) {
  std::string rows;
  for (const int i : {3, 1, 4, 0, 2}) rows += line(0, 10 * i, 100, 10 * i);
  DrawingJob job;
  job.acts = {act("cut", DrawnAct::mark, "pen")};
  const auto paths = drawing_paths(table(), drawn(dxf(rows)), job);
  ASSERT_TRUE(paths);
  double lifted = 0;
  for (std::size_t i = 1; i < paths->size(); ++i)
    lifted += std::abs((*paths)[i].points.front() - (*paths)[i - 1].points.back());
  EXPECT_NEAR(lifted, 40, 1e-9) << "to and fro";
}

TEST(DrawingPaths, AWheelIsLiftedAtSharpCornersAlone) {
  DrawingJob job;
  job.acts = {act("cut", DrawnAct::on_line, "wheel")};
  const auto sharp = drawing_paths(table(), drawn(dxf(square(0, 0, 50))), job);
  ASSERT_TRUE(sharp);
  EXPECT_EQ(sharp->size(), 4u);
  const auto round = drawing_paths(table(), drawn(dxf(circle(50, 50, 40))), job);
  ASSERT_TRUE(round);
  EXPECT_EQ(round->size(), 1u);
}

/// Beside an outline: every place of the way keeps the tool's radius from it, and inside sizes stay what they are.
TEST(DrawingPaths, ATooleRadiusIsKeptBesideTheLine) {
  Book b = table();
  b.machine.heads = {b.machine.heads[3]};
  b.machine.heads[0].place.reset();
  DrawingJob job;
  job.acts = {act("cut", DrawnAct::outside)};
  job.acts[0].tool = 2;
  job.acts[0].depth_mm = 1;
  const auto out = drawing_paths(b, drawn(dxf(circle(0, 0, 50))), job);
  ASSERT_TRUE(out) << out.error().message;
  const PlanPoint middle(50, 50);  // its lower left corner lies on work zero
  for (const PlanPoint& p : out->front().points) EXPECT_NEAR(std::abs(p - middle), 53, 0.005);
  job.acts[0].act = DrawnAct::inside;
  const auto in = drawing_paths(b, drawn(dxf(circle(0, 0, 50))), job);
  for (const PlanPoint& p : in->front().points) EXPECT_NEAR(std::abs(p - middle), 47, 0.005);
  const auto square_in = drawing_paths(b, drawn(dxf(square(0, 0, 50))), job);
  EXPECT_NEAR(area_of(square_in->front().points), 44 * 44, 1e-3);
  EXPECT_EQ(drawing_paths(b, drawn(dxf(circle(0, 0, 2.9))), job).error().code, "too_narrow");
  EXPECT_EQ(drawing_paths(b, drawn(dxf(line(0, 0, 5, 5))), job).error().code, "open_outline");
  job.acts[0].tool = 0;
  EXPECT_EQ(drawing_paths(b, drawn(dxf(circle(0, 0, 50))), job).error().code, "no_diameter");
}

/// Random stars: no place of the way beside them is nearer than the radius, none is needlessly far.
TEST(BesideOutline, KeepsItsDistanceFromAnyShape) {
  std::mt19937_64 random(41);
  for (int round = 0; round < 100; ++round) {
    std::vector<PlanPoint> star;
    const int n = 5 + static_cast<int>(random() % 20);
    for (int i = 0; i < n; ++i)
      star.push_back(std::polar(std::uniform_real_distribution<double>(20, 60)(random), 2 * pi * i / n));
    star.push_back(star.front());
    const double distance = std::uniform_real_distribution<double>(0.5, 5)(random) * (round % 2 == 0 ? 1 : -1);
    const auto beside = beside_outline(star, distance);
    ASSERT_TRUE(beside);
    for (const auto& way : *beside)
      for (const PlanPoint& p : way) {
        double nearest = 1e9;
        for (std::size_t i = 1; i < star.size(); ++i) {
          const PlanPoint a = star[i - 1], along = star[i] - a;
          const double part = std::clamp(((p - a) * std::conj(along)).real() / std::norm(along), 0.0, 1.0);
          nearest = std::min(nearest, std::abs(p - a - part * along));
        }
        EXPECT_NEAR(nearest, std::fabs(distance), 0.005);
        EXPECT_EQ(lies_within(p, star), distance < 0);
      }
  }
}

TEST(DrawingPaths, CopiesStandBesideEachOther) {
  DrawingJob job;
  job.acts = {act("cut", DrawnAct::mark, "pen")};
  job.columns = 3;
  job.rows = 2;
  job.gap_mm = 5;
  const auto paths = drawing_paths(table(), drawn(dxf(circle(1000, 1000, 10))), job);
  ASSERT_TRUE(paths);
  ASSERT_EQ(paths->size(), 6u);
  double right = 0, top = 0, left = 1e9;
  for (const HeadPath& p : *paths)
    for (const PlanPoint& at : p.points) {
      left = std::min(left, at.real());
      right = std::max(right, at.real());
      top = std::max(top, at.imag());
    }
  EXPECT_NEAR(left, 0, 1e-6);
  EXPECT_NEAR(right, 70, 1e-3);
  EXPECT_NEAR(top, 45, 1e-3);
  job.zero_mm = {1000, 1000};
  const auto placed = drawing_paths(table(), drawn(dxf(circle(1000, 1000, 10))), job);
  for (const PlanPoint& at : placed->front().points) EXPECT_NEAR(std::abs(at), 10, 0.005) << "its middle on work zero";
}

/// Each at its own place from the one work zero, and together as much as the one of all.
TEST(DrawingPrograms, AreOneOfAllOrOneEach) {
  const Drawing d = drawn(dxf(square(0, 0, 20)));
  DrawingJob job;
  job.acts = {act("cut", DrawnAct::on_line, "wheel")};
  job.columns = 3;
  job.rows = 2;
  job.gap_mm = 10;
  const auto one = drawing_programs(table(), d, job);
  ASSERT_TRUE(one);
  ASSERT_EQ(one->size(), 1u);
  job.one_each = true;
  const auto each = drawing_programs(table(), d, job);
  ASSERT_TRUE(each);
  ASSERT_EQ(each->size(), 6u);
  Extents all;
  for (std::size_t i = 0; i < 6; ++i) {
    const Extents& cut = (*each)[i].program.cut;
    EXPECT_NEAR(cut.low.x, 30.0 * static_cast<double>(i % 3), 1e-6) << i;
    EXPECT_NEAR(cut.low.y, 30.0 * static_cast<double>(i / 3), 1e-6) << i;
    EXPECT_LT(cut.high.x - cut.low.x, 25) << "no other copy is in it";
    all.include(cut.low.x, cut.low.y, 0);
    all.include(cut.high.x, cut.high.y, 0);
  }
  EXPECT_NEAR(all.high.x, one->front().program.cut.high.x, 1e-6);
  EXPECT_NEAR(all.high.y, one->front().program.cut.high.y, 1e-6);
  job.columns = 101;
  EXPECT_EQ(drawing_programs(table(), d, job).error().code, "too_many");
  job.acts.clear();
  job.columns = 1;
  EXPECT_EQ(drawing_programs(table(), d, job).error().code, "nothing_to_do");
}

TEST(DrawingProgram, CarriesTheHeadsPlacesTheirBlocksAndItsTools) {
  DrawingJob job;
  job.file = "case.dxf";
  job.acts = {act("cut", DrawnAct::outside), act("names", DrawnAct::mark, "pen")};
  job.acts[0].tool = 2;
  job.acts[0].depth_mm = 3;
  job.acts[0].passes = 3;
  job.acts[0].rpm = 12000;
  job.acts[0].feed_mm_min = 1500;
  Book b = table();
  const auto made = drawing_program(b, drawn(dxf(square(0, 0, 100) + line(10, 50, 90, 50, "names"))), job);
  ASSERT_TRUE(made) << made.error().message;
  const std::string& t = made->text;
  const auto at = [&](const std::string& what) { return t.find(what); };
  EXPECT_NE(at("(from case.dxf)"), std::string::npos) << t;
  EXPECT_NE(at("X-30.000 Y48.000"), std::string::npos) << "the pen over (10, 50): less its place\n" << t;
  EXPECT_LT(at("M173"), at("M174"));
  EXPECT_LT(at("M174"), at("T2 M6")) << "marked before it is cut";
  EXPECT_LT(at("T2 M6"), at("S12000 M3"));
  EXPECT_LT(at("S12000 M3"), at("Z-1.000"));
  EXPECT_LT(at("Z-1.000"), at("Z-2.000"));
  EXPECT_LT(at("Z-2.000"), at("Z-3.000"));
  EXPECT_NE(at("F1500"), std::string::npos);
  EXPECT_GT(t.rfind("M5"), t.rfind("Z-3.000"));
  EXPECT_GT(made->program.motions.size(), 10u) << "read back";
  b.machine.no_tool_words = true;
  const auto by_hand = drawing_program(b, drawn(dxf(square(0, 0, 100))), job);
  EXPECT_EQ(by_hand->text.find("M6"), std::string::npos);
  EXPECT_NE(by_hand->text.find("put T2 in"), std::string::npos);
}

TEST(DrawingProgram, ADragKnifeIsCompensated) {
  Book b = table();
  b.machine.heads[0] = head("knife", HeadKind::drag_knife, 171);
  b.machine.heads[0].trailing_mm = 0.4;
  DrawingJob job;
  job.acts = {act("cut", DrawnAct::on_line)};
  const auto made = drawing_program(b, drawn(dxf(square(0, 0, 50))), job);
  ASSERT_TRUE(made) << made.error().message;
  EXPECT_NE(made->text.find("G3"), std::string::npos) << "it turns about the corners";
  b.machine.heads[0].trailing_mm.reset();
  EXPECT_EQ(drawing_program(b, drawn(dxf(square(0, 0, 50))), job).error().code, "no_trailing");
}

TEST(DrawingProgram, WhatIsMissingIsSaid) {
  const Drawing d = drawn(dxf(square(0, 0, 50)));
  DrawingJob job;
  EXPECT_EQ(drawing_program(table(), d, job).error().code, "nothing_to_do");
  job.acts = {act("cut", DrawnAct::on_line, "chisel")};
  EXPECT_EQ(drawing_program(table(), d, job).error().code, "no_head");
  job.acts = {act("cut", DrawnAct::on_line)};
  job.acts[0].tool = 9;
  EXPECT_EQ(drawing_program(table(), d, job).error().code, "no_tool");
  job.acts[0].tool = 2;
  EXPECT_EQ(drawing_program(table(), d, job).error().code, "out_of_range") << "how deep is not said";
  Book b = table();
  b.machine.heads[1].place.reset();
  job.acts = {act("cut", DrawnAct::mark, "pen")};
  EXPECT_EQ(drawing_program(b, d, job).error().code, "no_place");
  job.columns = job.rows = 1000;
  EXPECT_EQ(drawing_program(table(), d, job).error().code, "too_large");
}

/// A program knows what it was made of; what is so now is compared with it by the check.
TEST(DrawingProgram, IsOutOfDateWhenItsDrawingActsOrOffsetsChange) {
  Book b = table();
  DrawingJob job;
  job.file = "/home/at/the bench (old)/case.dxf";
  job.acts = {act("names", DrawnAct::mark, "pen"), act("cut", DrawnAct::on_line)};
  b.job.drawing = job;
  const Drawing d = drawn(dxf(square(0, 0, 100) + line(10, 50, 90, 50, "names")));
  const auto made = drawing_program(b, d, job);
  ASSERT_TRUE(made) << made.error().message;
  const auto basis = rests_on(made->program);
  ASSERT_TRUE(basis) << made->text;
  EXPECT_EQ(basis->drawing, "case.dxf");
  EXPECT_EQ(basis->drawing_sum, d.sum);
  const auto old = [&](const Book& now, const std::string& drawing_sum) {
    CheckSetting setting;
    setting.rests_on_now = basis_of(now, *now.job.drawing, drawing_sum);
    const auto found = check_program(made->program, now, setting);
    return std::any_of(found.begin(), found.end(), [](const Finding& f) { return f.code == "out_of_date"; });
  };
  EXPECT_FALSE(old(b, d.sum));
  EXPECT_FALSE(old(b, "")) << "the drawing's bytes are not known";
  EXPECT_TRUE(old(b, "00000000")) << "it was drawn anew";
  Book now = b;
  std::swap(now.job.drawing->acts[0], now.job.drawing->acts[1]);
  now.job.drawing->acts.push_back(act("frame", DrawnAct::leave_out));
  EXPECT_FALSE(old(now, d.sum)) << "nothing that is done is another";
  now.job.drawing->file = "other.dxf";
  now.job.drawing->columns = 2;
  EXPECT_FALSE(old(now, d.sum)) << "another drawing was opened since";
  const std::vector<std::function<void(Book&)>> changes{
      [](Book& c) { c.job.drawing->columns = 2; },
      [](Book& c) { c.job.drawing->acts[1].passes = 2; },
      [](Book& c) { c.job.drawing->acts[0].act = DrawnAct::leave_out; },
      [](Book& c) { c.job.drawing->unit = "in"; },
      [](Book& c) {
        c.job.drawing->zero_mm = {1, 2};
      },
      [](Book& c) { c.machine.heads[1].place->x_mm = 40.1; },
      [](Book& c) { c.machine.heads[0].lower = "M99"; },
  };
  for (std::size_t i = 0; i < changes.size(); ++i) {
    now = b;
    changes[i](now);
    EXPECT_TRUE(old(now, d.sum)) << "change " << i;
  }
  now = b;
  now.machine.heads[2].place->x_mm = 7;
  EXPECT_FALSE(old(now, d.sum)) << "the creaser has no part in it";
}

TEST(RestsOn, ReadsItsOwnRemarkAndNoOther) {
  const RestsOn basis{"a of b and (c).dxf", "0123abcd", "89ef4567"};
  const auto read = rests_on(remark_of(basis));
  ASSERT_TRUE(read);
  EXPECT_EQ(read->drawing, "a of b and c.dxf");
  EXPECT_EQ(read->drawing_sum, "0123abcd");
  EXPECT_EQ(read->acts_sum, "89ef4567");
  for (const char* other : {"", "rests on ", "rests on the bed", "rests on 0123abcd of x and 89ef456 of what is done",
                            "rests on 0123abcd of x of what is done", "rests on 0123abcd and 89ef4567 of what is done",
                            "rests on 0123ABCD of x and 89ef4567 of what is done"})
    EXPECT_FALSE(rests_on(std::string_view(other))) << other;
}

/// A wheel cuts each side of a square on past its corners, and a round line on past its start.
TEST(DrawingPaths, AnOvercutRunsOnPastCornersAndStarts) {
  Book b = table();
  DrawingJob job;
  job.acts = {act("cut", DrawnAct::on_line)};
  job.acts[0].overcut_mm = 2;
  const auto sides = drawing_paths(b, drawn(dxf(square(10, 10, 100))), job);
  ASSERT_TRUE(sides);
  ASSERT_EQ(sides->size(), 4u);
  for (const HeadPath& p : *sides) {
    ASSERT_EQ(p.points.size(), 2u);
    EXPECT_NEAR(std::abs(p.points[1] - p.points[0]), 104, 1e-9);
    EXPECT_NEAR(std::min(std::abs((p.points[1] + p.points[0]) / 2.0 - PlanPoint(50, 0)),
                         std::min(std::abs((p.points[1] + p.points[0]) / 2.0 - PlanPoint(0, 50)),
                                  std::min(std::abs((p.points[1] + p.points[0]) / 2.0 - PlanPoint(100, 50)),
                                           std::abs((p.points[1] + p.points[0]) / 2.0 - PlanPoint(50, 100))))),
                0, 1e-9)
        << "as far at both ends";
  }
  // Two sides of an angle: the corner is passed, the ends are where they are drawn.
  const auto open = drawing_paths(b, drawn(dxf(line(0, 0, 100, 0) + line(100, 0, 100, 50))), job);
  ASSERT_TRUE(open);
  ASSERT_EQ(open->size(), 2u);
  double length = 0;
  for (const HeadPath& p : *open) length += std::abs(p.points[1] - p.points[0]);
  EXPECT_NEAR(length, 154, 1e-9);
  // A circle of 20: its way is as much longer, and stays on it.
  const auto length_of_path = [](const HeadPath& p) {
    double all = 0;
    for (std::size_t i = 1; i < p.points.size(); ++i) all += std::abs(p.points[i] - p.points[i - 1]);
    return all;
  };
  const auto round = drawing_paths(b, drawn(dxf(circle(20, 20, 20))), job);
  ASSERT_TRUE(round);
  ASSERT_EQ(round->size(), 1u);
  EXPECT_NEAR(length_of_path(round->front()), 2 * pi * 20 + 2, 0.02);
  for (const PlanPoint& p : round->front().points) EXPECT_NEAR(std::abs(p - PlanPoint(20, 20)), 20, 0.01);
  // A pen, which turns: no corner is run past, the start is.
  job.acts[0].head = "pen";
  const auto pen = drawing_paths(b, drawn(dxf(square(10, 10, 100))), job);
  ASSERT_TRUE(pen);
  ASSERT_EQ(pen->size(), 1u);
  EXPECT_NEAR(length_of_path(pen->front()), 402, 1e-9);
  // As long as the whole way round at most, however much is said.
  job.acts[0].overcut_mm = 1e9;
  const auto far = drawing_paths(b, drawn(dxf(square(10, 10, 100))), job);
  ASSERT_TRUE(far);
  EXPECT_NEAR(length_of_path(far->front()), 800, 1e-9);
}

TEST(DrawingJob, ComesBackFromTheBook) {
  Book b = table();
  DrawingJob job;
  job.file = "case.svg";
  job.unit = "in";
  job.acts = {act("cut, #ff0000", DrawnAct::inside)};
  job.acts[0].tool = 2;
  job.acts[0].passes = 4;
  job.acts[0].depth_mm = 6.5;
  job.acts[0].level = 12.5;
  job.columns = 2;
  job.one_each = true;
  job.zero_mm = {12.5, -3};
  b.job.drawing = job;
  const auto again = read_book(write_book(b));
  ASSERT_TRUE(again) << again.error().message;
  EXPECT_EQ(again->book.job.drawing, job);
  EXPECT_EQ(unit_by_name("in"), 25.4);
  EXPECT_FALSE(unit_by_name("cubit"));
  EXPECT_FALSE(unit_by_name("-2"));
  for (const double mm : {1.0, 25.4, 304.8, 0.3528, 25.4 / 72})
    EXPECT_NEAR(*unit_by_name(name_of_unit(mm)), mm, 1e-5 * mm);
  EXPECT_EQ(name_of_unit(25.35), "in") << "as near as a ruler tells";
}

}  // namespace drawing_program_test
}  // namespace ypsi
