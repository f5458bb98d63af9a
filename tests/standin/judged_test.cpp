// A job with tool lengths, another work frame, cycles and arcs, cut on the stand-in: its tip goes as it was judged,
// down to the least distance that it keeps from a clamp.
#include "core/program/checks.h"
#include "core/program/interpreter.h"
#include "core/program/read_setting.h"
#include "standin/references_fixture.h"

namespace ypsi::standin {
namespace {

const std::vector<std::string> judged_job = {"G21 G90 G17 G40 G49 G80 G94 G54",
                                             "T2 M6",
                                             "S9000 M3",
                                             "G43 H2 G0 Z40",
                                             "G0 X60 Y40",
                                             "G99 G81 X60 Y40 Z-2 R5 F300",
                                             "X75 Y45",
                                             "X90 Y40",
                                             "G80 G0 Z40",
                                             "G55",
                                             "G0 X20 Y10",
                                             "G1 Z4 F400",
                                             "G2 X20 Y30 I0 J10 F700",
                                             "G3 X10 Y20 I0 J-10",
                                             "G1 X2 Y2 Z3 F500",
                                             "G0 Z40",
                                             "G54",
                                             "G49",
                                             "M5"};

class Judged : public References {
 protected:
  /// The book of that machine: what its owner knows of it.
  Book book(const MachinePosition& zero) const {
    Book b;
    for (const Axis a : all_axes) {
      b.machine.axis(a).soft_min = machine_->link().setting(axis_setting(a, "soft_min_mm")).value();
      b.machine.axis(a).soft_max = machine_->link().setting(axis_setting(a, "soft_max_mm")).value();
    }
    Tool first, second;
    first.number = 1;
    second.number = 2;
    first.diameter = second.diameter = 6;
    second.offset = 2.5;
    b.tools = {first, second};
    b.setter = ToolSetter{790, 12, 1, {-60}};
    b.job.stock_size = {260, 300, 18};
    b.job.frames[0] = {"", zero.x, zero.y, zero.z, false, 1};
    b.job.frames[1] = {"", zero.x + 110, zero.y + 20, zero.z, false, 1};
    b.job.clamps = {{"in the middle", zero.x + 111.5, zero.y + 58.25, 8, 9, 23}};
    return b;
  }
};

TEST_F(Judged, TheTipGoesAsItWasForetoldToAHundredth) {
  Scenario s = plain();
  s.tools = {{1, 6, 31.4, 0}, {2, 6, 33.9, 0}};
  start(s);
  home();
  const auto at = link().status().position;
  const Point3 tip = machine_->plant().tip();
  const MachinePosition zero{at.x + 90, at.y + 80, -90};
  const Book b = book(zero);
  for (std::size_t f = 0; f < 2; ++f)
    for (const Axis a : all_axes)
      ASSERT_TRUE(link().set_setting(work_zero_setting(static_cast<int>(f), a), *b.job.frames[f].zero(a)));
  ASSERT_TRUE(link().set_setting("tool.2.offset_mm", 2.5));

  std::string text;
  for (const auto& line : judged_job) text += line + "\n";
  const auto program = read_program(text, read_setting(b));
  ASSERT_TRUE(program) << program.error().message;
  CheckSetting setting;
  setting.tool = 1;
  const Judgement judged = judge_program(*program, b, setting);
  ASSERT_TRUE(judged.clearance);

  // The clamp as it stands at the machine; the tool by its tip, wherever it is.
  const Clamp& c = b.job.clamps.front();
  const double top = zero.z - 18 + c.height_mm;
  double least = 1e9, lowest = 1e9;
  const auto look = [&] {
    if (machine_->plant().tool().number != 2) return;
    const Point3 now = machine_->plant().tip();
    const double x = now[0] - tip[0] + at.x, y = now[1] - tip[1] + at.y, z = now[2] - tip[2] + at.z;
    const double dx = std::max(std::fabs(x - c.x_mm) - c.width_mm / 2, 0.0),
                 dy = std::max(std::fabs(y - c.y_mm) - c.depth_mm / 2, 0.0);
    const double beside = std::max(0.0, std::hypot(dx, dy) - 3), above = std::max(0.0, z - top);
    least = std::min(least, std::hypot(beside, above));
    lowest = std::min(lowest, z - zero.z);
  };
  ASSERT_TRUE(link().begin_program());
  std::uint32_t line = 0;
  for (const auto& block : judged_job) {
    const auto sent = link().send(block, ++line);
    ASSERT_TRUE(sent) << sent.error().message;
  }
  link().end_program();
  bool ended = false;
  for (int ms = 0; ms < 120'000 && !ended; ++ms) {
    machine_->advance(0.001);
    look();
    const auto state = link().status().state;
    if (state == MachineState::tool_change) {
      ASSERT_TRUE(bench().put_tool(2));
      link().tool_changed(2);
    }
    ended = ms > 100 && state == MachineState::ready;
  }
  ASSERT_TRUE(ended) << link().status().message;
  EXPECT_NEAR(least, judged.clearance->distance, 0.01) << judged.clearance->line;
  EXPECT_GT(least, 0.5);
  EXPECT_LT(least, 20);
  EXPECT_NEAR(lowest, judged.tip.low.z, 0.01);
  EXPECT_NEAR(judged.tip.low.z, -2, 1e-9);
}

}  // namespace
}  // namespace ypsi::standin
