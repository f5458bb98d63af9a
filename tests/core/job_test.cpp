// What a job keeps and asks for: progress, perimeter, frames and clamps in the book, Z after a tool change, resuming.
#include <gtest/gtest.h>

#include <cmath>

#include "core/book/book_json.h"
#include "core/book/changes.h"
#include "core/book/tool_change.h"
#include "core/program/perimeter.h"
#include "core/program/progress.h"
#include "core/program/read_setting.h"
#include "core/program/resume.h"

namespace ypsi {
namespace {

TEST(Progress, SurvivesBeingTornAnywhere) {
  const std::string whole =
      progress_begins("/a/part \"x\".ngc", "G0 X1\n") + progress_line(3) + progress_line(17) + progress_line(204);
  const std::uint32_t lines[] = {0, 3, 17, 204};
  for (std::size_t cut = 0; cut <= whole.size(); ++cut) {
    const auto left = read_progress(whole.substr(0, cut));
    const auto ends =
        static_cast<std::size_t>(std::count(whole.begin(), whole.begin() + static_cast<std::ptrdiff_t>(cut), '\n'));
    ASSERT_EQ(left.has_value(), ends > 0) << cut;
    if (!left) continue;
    EXPECT_EQ(left->line, lines[ends - 1]) << cut;
    EXPECT_EQ(left->program, "/a/part \"x\".ngc");
    EXPECT_EQ(left->print, fingerprint("G0 X1\n"));
    EXPECT_FALSE(left->ended);
  }
  EXPECT_TRUE(read_progress(whole + progress_ends())->ended);
  EXPECT_FALSE(read_progress("no progress at all\n{}\n"));
  // FNV-1a of "a", from its authors' table.
  EXPECT_EQ(fingerprint("a"), 0xaf63dc4c8601ec8cU);
}

TEST(Perimeter, BoxHullAndTheLastToolsOutline) {
  const auto p = read_program(
      "T1 M6\nF900\nG0 X0 Y0\nG1 X40\nG1 X20 Y30\nG1 X0 Y0\nG0 Z5\nT2 M6\nG0 X15 Y5\nG1 X25\nG1 Y8\nG1 X15\nG1 Y5\nG0 "
      "Z5\nG0 X18 Y10\nG1 X19\n");
  ASSERT_TRUE(p) << p.error().message;
  const auto box = perimeter(*p, PerimeterKind::box);
  ASSERT_EQ(box.size(), 4u);
  EXPECT_EQ(box[2].x, 40);
  EXPECT_EQ(box[2].y, 30);
  const auto hull = perimeter(*p, PerimeterKind::hull);
  EXPECT_EQ(hull.size(), 3u) << "the triangle; the rest lies within";
  const auto outline = perimeter(*p, PerimeterKind::last_tool);
  ASSERT_EQ(outline.size(), 4u) << "the rectangle of T2, the wider of its two stretches";
  EXPECT_EQ(outline[2].x, 25);
  EXPECT_EQ(outline[2].y, 8);
  const auto blocks = trace(outline, 30, 1500);
  EXPECT_EQ(blocks.front(), "G90 G21 G94 G0 Z30.0000") << "up first";
  EXPECT_EQ(blocks.size(), 6u);
  EXPECT_TRUE(perimeter(read_program("G0 X1\n").value(), PerimeterKind::hull).empty());
  EXPECT_TRUE(trace({}, 30, 1500).empty());
}

TEST(JobInTheBook, FramesClampsSpotAndRackComeBackAndCarryOver) {
  Book book;
  book.job.frames[0] = {"main", 100, 120, -60, true, 2};
  book.job.frames[8] = {"jig", 200, std::nullopt, -50, false, 0};
  book.job.frame = 8;
  book.job.zero_spot = ZeroSpot{50, 60, 0.4};
  book.job.clamps = {{"vice", 300, 310, 60, 40, 25}};
  book.job.checklist = {"hose"};
  book.job.queue = {"/next.ngc"};
  book.job.stock_corner = {-150, -100};
  book.rack = {10, 20, 110, 20, 6, -70, -5, 55};
  book.machine.spindle.nut_diameter = 28;
  const auto again = read_book(write_book(book));
  ASSERT_TRUE(again) << again.error().message;
  EXPECT_EQ(again->book.job.frames, book.job.frames);
  EXPECT_EQ(again->book.job.frame, 8);
  EXPECT_EQ(again->book.job.zero_spot, book.job.zero_spot);
  EXPECT_EQ(again->book.job.clamps, book.job.clamps);
  EXPECT_EQ(again->book.job.checklist, book.job.checklist);
  EXPECT_EQ(again->book.job.queue, book.job.queue);
  EXPECT_EQ(again->book.job.stock_corner, book.job.stock_corner);
  EXPECT_EQ(again->book.rack, book.rack);
  EXPECT_EQ(again->book.machine.spindle, book.machine.spindle);

  // Twice the steps for a millimetre: the same places have half the numbers.
  book.machine.axis(Axis::x).steps_per_mm = 100;
  ASSERT_TRUE(change_steps_per_mm(book, Axis::x, 200));
  EXPECT_DOUBLE_EQ(*book.job.frames[0].x_mm, 50);
  EXPECT_DOUBLE_EQ(*book.job.frames[8].x_mm, 100);
  EXPECT_DOUBLE_EQ(book.job.zero_spot->x_mm, 25);
  EXPECT_DOUBLE_EQ(book.job.clamps[0].x_mm, 150);
  EXPECT_DOUBLE_EQ(book.job.clamps[0].y_mm, 310);
  EXPECT_DOUBLE_EQ(book.rack.last_x_mm, 55);

  for (const char* damaged : {R"("work_frame": 9)", R"("clamps": [{"width_mm": 0}])", R"("bed_skin_mm": -1)",
                              R"("work_zero": {"x_mm": "left"})"}) {
    const auto refused =
        read_book(std::string(R"({"format": "ypsilograph-book", "version": 1, "job": {)") + damaged + "}}");
    EXPECT_FALSE(refused) << damaged;
  }
}

TEST(ToolChange, SaysHowZIsKnownAgain) {
  Book book;
  Tool one, two, three;
  one.number = 1;
  two.number = 2;
  two.offset = 7.4;
  three.number = 3;
  three.offset = -1.6;
  book.tools = {one, two, three};
  EXPECT_EQ(zero_after_change(book, 1), ZeroAfterChange::not_set);
  book.job.frames[0] = {"", 0, 0, -80, false, 2};
  EXPECT_EQ(zero_after_change(book, 2), ZeroAfterChange::holds);
  EXPECT_EQ(zero_after_change(book, 1), ZeroAfterChange::by_touch) << "no reference tool, so T1's length is not known";
  EXPECT_EQ(zero_after_change(book, 3), ZeroAfterChange::by_length);
  EXPECT_DOUBLE_EQ(zero_by_length(book, 3), -89) << "nine shorter than T2";
  book.setter = ToolSetter{0, 0, 1, {-60}};
  EXPECT_DOUBLE_EQ(zero_by_length(book, 1), -87.4);
  book.setter.reset();
  book.job.zero_spot = ZeroSpot{10, 10, 0.25};
  EXPECT_EQ(zero_after_change(book, 1), ZeroAfterChange::by_spot);
  EXPECT_DOUBLE_EQ(zero_by_spot(-70, 12, *book.job.zero_spot), -82.25);
}

/// A head that was down is lowered, and a beam that was on is lit, before the line; those that were done with are not.
TEST(Resume, LowersAndLightsAgainWhatStoodSo) {
  Book b;
  Head spindle, wheel, beam;
  spindle.name = "spindle";
  wheel.name = "wheel";
  wheel.kind = HeadKind::wheel;
  wheel.lower = "M171";
  wheel.raise = "M172";
  beam.name = "beam";
  beam.kind = HeadKind::beam;
  beam.on = "M178 P{level}";
  beam.off = "M179";
  b.machine.heads = {spindle, wheel, beam};
  const std::string text =
      "G21 G90\nG0 X0 Y0 Z5\nM171\nG4 P0.3\nG1 X10 F900\nG1 X20\nM172\nG0 X0\nM178 P12.5\nG1 Y10\nM178 P20\nG1 Y20\n"
      "M179\nG0 X9\nM2\n";
  const auto lead_in = [&](std::uint32_t line) {
    const auto plan = plan_resume(text, line, 20, read_setting(b));
    return plan ? plan->lead_in : std::vector<std::string>{plan.error().message};
  };
  const auto place = [](const std::vector<std::string>& in, const std::string& block) {
    return std::find_if(in.begin(), in.end(), [&](const std::string& l) { return l.starts_with(block); }) - in.begin();
  };
  const auto in_wheel = lead_in(6);
  const auto wheel_at = place(in_wheel, "M171");
  ASSERT_LT(wheel_at, std::ssize(in_wheel));
  EXPECT_EQ(in_wheel[static_cast<std::size_t>(wheel_at) + 1], "G4 P0.3") << "until it is down";
  EXPECT_LT(place(in_wheel, "G1 Z"), wheel_at) << "over its place first";
  EXPECT_EQ(place(in_wheel, "M178"), std::ssize(in_wheel));
  const auto in_beam = lead_in(12);
  EXPECT_EQ(place(in_beam, "M171"), std::ssize(in_beam)) << "the wheel was raised";
  EXPECT_EQ(place(in_beam, "M178 P12.5"), std::ssize(in_beam)) << "it shines at what was said last";
  EXPECT_LT(place(in_beam, "G1 Z"), place(in_beam, "M178 P20"));
  ASSERT_LT(place(in_beam, "M178 P20"), std::ssize(in_beam));
  const auto after = lead_in(14);
  EXPECT_EQ(place(after, "M178"), std::ssize(after)) << "it was switched off";
}

TEST(Resume, BringsBackEveryModeOfTheDialect) {
  const std::string text =
      "#3=2.5\n#<deep>=-4\nG21 G90 G17\nT4 M6\nS8000 M4\nM8\nG0 Z20\nG55 G0 X10 Y10\nG92 X0 Y0\nG0 X5 Y6\nG1 Z-1 F400\n"
      "G18 G90.1 G99\nG20 G91\nG1 X.1\nG1 Z#<deep> F[#3*4]\nM30\n";
  ReadSetting setting;
  setting.frames.zeros[0] = {100, 100, -50};
  setting.frames.zeros[1] = {150, 130, -50};
  setting.base = setting.frames.zeros[0];
  const auto plan = plan_resume(text, 15, 30, setting, 0);
  ASSERT_TRUE(plan) << plan.error().message;
  Interpreter way({0, 0, 20}, setting.frames, 0, setting.base);
  Program moves;
  std::uint32_t n = 0;
  for (const auto& block : plan->lead_in) {
    const auto ok = way.line(block, ++n, moves);
    ASSERT_TRUE(ok) << block << ": " << ok.error().message;
  }
  const ModalState &now = way.state(), &then = plan->modes;
  for (const Axis a : all_axes) {
    EXPECT_NEAR(now.at[a], then.at[a], 1e-3) << letter(a);
    EXPECT_NEAR(now.shift[a], then.shift[a], 1e-3) << letter(a);
  }
  EXPECT_EQ(now.frame, 1);
  EXPECT_EQ(now.plane, Plane::zx);
  EXPECT_TRUE(now.arc_absolute && now.return_to_r && now.inches && now.incremental && now.g92_active);
  EXPECT_TRUE(now.spindle_on && now.spindle_reverse);
  EXPECT_EQ(now.coolant, 2);
  EXPECT_EQ(now.tool, 4);
  EXPECT_DOUBLE_EQ(way.parameters().get(3), 2.5);
  EXPECT_DOUBLE_EQ(way.parameters().get("deep"), -4);
  EXPECT_NEAR(now.feed, 400, 1e-3);
  EXPECT_GE(moves.motions[0].end.z, 30 - 1e-9) << "up first";
  // In a chain of drilled holes it begins with the chain.
  const auto chain = plan_resume("F100\nG0 Z5\nG81 X1 Z-1 R1\nX2\nX3\nG80\n", 5, 20);
  ASSERT_TRUE(chain);
  EXPECT_EQ(chain->line, 3u);
  EXPECT_EQ(plan_resume("G38.2 Z-5 F10\nG0 X1\nG0 X2\n", 3, 20).error().code, "probing");
  // A tool that is changed by the line itself is not asked for before.
  const auto changed = plan_resume("T1 M6\nG0 Z5\nT2 M6\nG0 X1\n", 3, 20, {}, 2);
  ASSERT_TRUE(changed);
  for (const auto& block : changed->lead_in) EXPECT_EQ(block.find("M6"), std::string::npos) << block;
}

}  // namespace
}  // namespace ypsi
