// How an engraved plate will look, by the tool's shape in closed form.
#include "core/drawing_in/engraved_look.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/drawing_in/drawing_program.h"
#include "core/drawing_text.h"
#include "core/engraver_book.h"
#include "core/read_drawing.h"

namespace ypsi {
namespace engraved_look_test {

using drawing_test::drawn;
using std::numbers::pi;

Book engraver(DrawnAct act, double depth) {
  Book book;
  book.machine.kind = "engraver";
  book.tools = {pointed_t3()};
  book.job.drawing.emplace();
  LayerAct a;
  a.layer = "cut";
  a.act = act;
  a.tool = 3;
  a.depth_mm = depth;
  book.job.drawing->acts = {a};
  return book;
}
EngravedLook look_of(const Book& book, const std::string& entities, double cap) {
  const Drawing d = drawn(drawing_text::dxf(entities));
  const auto paths = drawing_paths(book, d, *book.job.drawing);
  EXPECT_TRUE(paths) << (paths ? "" : paths.error().message);
  return paths ? engraved_look(book, d, *book.job.drawing, *paths, cap) : EngravedLook{};
}

TEST(EngravedLook, LinesAreAsWideAsTheToolAtTheSurfaceAndBelowTheCap) {
  const auto look = look_of(engraver(DrawnAct::engrave, 0.28), drawing_text::line(0, 0, 20, 0), 0.2);
  ASSERT_EQ(look.lines.size(), 1u);
  EXPECT_NEAR(look.lines[0].width_top, 0.2 + 2 * 0.28 * std::tan(pi / 6), 1e-9);
  EXPECT_NEAR(look.lines[0].width_core, 0.2 + 2 * 0.08 * std::tan(pi / 6), 1e-9);
  EXPECT_EQ(look_of(engraver(DrawnAct::engrave, 0.15), drawing_text::line(0, 0, 20, 0), 0.2).lines[0].width_core, 0)
      << "it does not pass the cap";
  EXPECT_EQ(look_of(engraver(DrawnAct::engrave, 0.28), drawing_text::line(0, 0, 20, 0), 0).lines[0].width_core, 0)
      << "of one piece";
  Book unknown = engraver(DrawnAct::engrave, 0.28);
  unknown.tools[0].diameter = unknown.tools[0].tip = unknown.tools[0].angle = 0;
  EXPECT_EQ(look_of(unknown, drawing_text::line(0, 0, 20, 0), 0.2).lines[0].width_top, 0);
}

TEST(EngravedLook, WhatIsTooNarrowIsNamed) {
  // A flat tool of 2 in a square of 10 leaves of each corner 1 - pi/4.
  Book book = engraver(DrawnAct::hatch, 0.5);
  book.tools[0] = Tool{};
  book.tools[0].number = 3;
  book.tools[0].kind = "flat";
  book.tools[0].diameter = 2;
  const auto look = look_of(book, drawing_text::square(5, 5, 10), 0);
  ASSERT_EQ(look.uncut.size(), 1u);
  EXPECT_EQ(look.uncut[0].layer, "cut");
  EXPECT_EQ(look.uncut[0].places, 4);
  EXPECT_NEAR(look.uncut[0].area, 4 * (1 - pi / 4), 0.12) << "without the thin ends of each";
  // Two of them.
  book.job.drawing->columns = 2;
  book.job.drawing->gap_mm = 5;
  EXPECT_EQ(look_of(book, drawing_text::square(5, 5, 10), 0).uncut[0].places, 8);
  // What it cannot enter at all stays whole.
  book.job.drawing->columns = 1;
  const auto whole = look_of(book, drawing_text::rectangle(0, 0, 20, 1.5) + drawing_text::square(0, 30, 10), 0);
  ASSERT_EQ(whole.uncut.size(), 1u);
  EXPECT_EQ(whole.uncut[0].places, 5);
  EXPECT_NEAR(whole.uncut[0].area, 30 + 4 * (1 - pi / 4), 0.15);
  // Round corners leave nothing to a finer tool.
  book.tools[0].diameter = 0.5;
  EXPECT_TRUE(look_of(book, drawing_text::circle(0, 0, 8), 0).uncut.empty());
}

}  // namespace engraved_look_test
}  // namespace ypsi
