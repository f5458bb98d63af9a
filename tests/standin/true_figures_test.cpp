// What a rehearsal told, beside the scenario: truths worked out by hand.
#include "standin/true_figures.h"

#include <gtest/gtest.h>

#include "standin/scenario.h"

namespace ypsi::standin {
namespace true_figures_test {

Scenario leaning_and_warm() {
  Scenario s;
  s.axes[0].true_steps_per_mm = 80.4;
  s.axes[1].lost_motion = 0.2;
  s.skew = 0.0013;
  s.temperature = 303;
  s.expansion = 1e-4;  // a thousandth longer
  s.tools = {{1, 6, 30, 0}, {4, 3, 24.5, 0.01}};
  s.deflection_per_N = 0.001;
  s.cutting_force = 10;
  PhysicalHead spindle, pen;
  spindle.name = "spindle";
  pen.name = "pen";
  pen.offset_x = -42;
  pen.offset_y = 12;
  s.heads = {spindle, pen};
  return s;
}

TEST(TrueFigures, StandBesideAllThatHasAU) {
  const auto machine = ServedMachine::from(leaning_and_warm());
  Rehearsal told;
  told.axes[0].steps_per_mm = 80.30;
  told.axes[0].U_steps = 0.02;
  told.axes[1].lost_motion = 0.21;
  told.axes[1].U_lost_motion = 0.01;
  told.axes[2].lost_motion = 0.5;  // no U: nothing to be judged by
  told.skew = 0.001;
  told.U_skew = 0.0001;
  told.book.setter = ToolSetter{0, 0, 1, {}};
  told.tools = {{1, 0, std::nullopt}, {4, -5.49, 0.02}};
  told.cutter = 4;
  told.nominal_cutter = 3;
  FirstCutResult cut;
  cut.estimates = {{CutQuantity::tool_diameter, -0.02, 0.005, 0.01, true}};
  told.first_cut = cut;
  Head pen;
  pen.name = "pen";
  pen.place = HeadPlace{};
  pen.place->x_mm = CountedLength(-42.5);
  pen.place->y_mm = CountedLength(12.1);
  pen.place->U_mm = 0.1;
  told.book.machine.heads = {pen};
  const auto all = true_figures(told, *machine);
  const struct {
    const char* figure;
    double truth;
    bool far_off;
  } wanted[] = {{"steps of X", 80.4 / 1.001, false},  // 0.98 U
                {"lost motion of Y", 0.2, false},
                {"lean", 1.3, true},
                {"tool 4", -5.5, false},
                {"cutter", 3 + 0.01 - 0.02, false},  // what pushes it aside makes it cut less
                {"pen, X", -42, true},
                {"pen, Y", 12, false}};
  ASSERT_EQ(all.size(), std::size(wanted));
  for (std::size_t i = 0; i < all.size(); ++i) {
    EXPECT_EQ(all[i].figure, wanted[i].figure);
    EXPECT_NEAR(all[i].truth, wanted[i].truth, 1e-9) << all[i].figure;
    EXPECT_EQ(all[i].far_off(), wanted[i].far_off) << all[i].figure;
  }
}

TEST(TrueFigures, SayHowFarOff) {
  EXPECT_EQ(far_off_words({"steps of X", "a mm", 80.3521, 0.011, 80.31}),
            "steps of X came out as 80.352 a mm ±0.011, and 80.310 is true: 3.8 times as far off as it says. Of a "
            "thousand such figures about three are, by chance.");
}

}  // namespace true_figures_test
}  // namespace ypsi::standin
