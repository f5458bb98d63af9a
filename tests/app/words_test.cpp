// Findings, records and refusals in words: what a person reads must name the axis, the number and what to do.
#include <gtest/gtest.h>

#include "app/session/entry_text.h"
#include "app/session/session.h"
#include "app/sheets/steps_words.h"
#include "core/calibration/scale.h"

namespace ypsi::app {
namespace {

ScaleInput readings(std::vector<ScaleReading> r) {
  ScaleInput in;
  in.current_steps = 80;
  in.instrument = {"ruler", 0.5, 2, 0.15, 0, 0};
  in.readings = std::move(r);
  in.tolerance_per_m = 0.5;
  in.transmission = Belt{2, 20};
  return in;
}

StepsWords words(const ScaleInput& in, LengthUnit unit = LengthUnit::millimetre) {
  return describe(in, fit_scale(in).value(), 'X', 300, 800, unit);
}

TEST(StepsWords, EachVerdictSaysWhatToDo) {
  EXPECT_TRUE(words(readings({{600, 597}, {600, 597.5}, {400, 398}})).verdict.contains("0.47 % too short"));
  EXPECT_TRUE(words(readings({{600, 597}, {600, 597.5}, {400, 398}})).verdict.contains("Sure enough to apply"));
  EXPECT_TRUE(words(readings({{600, 603}, {400, 402}})).verdict.contains("too far"));
  EXPECT_TRUE(words(readings({{100, -100}, {200, -199}})).verdict.contains("X runs the wrong way"));
  const auto mixed = words(readings({{100, 100}, {200, -199}, {300, 300}}));
  EXPECT_TRUE(mixed.verdict.contains("number 2")) << mixed.verdict.toStdString();
  EXPECT_TRUE(words(readings({{300, 299, true}, {300, 298.5, true}})).explanation.contains("same side"));
  auto fine = readings({{700, 700}, {700, 700.5}, {700, 699.5}});
  EXPECT_FALSE(words(fine).good) << "0.5 mm per m is more than this ruler tells";
  fine.tolerance_per_m = 5;
  EXPECT_TRUE(words(fine).verdict.contains("Leave it as it is"));
}

TEST(StepsWords, TheArithmeticCanBeCheckedOnPaper) {
  auto in = readings({{700, 703}});
  in.current_steps = 160;
  EXPECT_TRUE(words(in).explanation.contains("160 × 700 / 703 = 159.32")) << words(in).explanation.toStdString();
  EXPECT_TRUE(words(in).was.contains("was 160, from one reading"));
  EXPECT_TRUE(words(in).explanation.contains("Take at least three readings"));
}

TEST(StepsWords, GrossErrorsNameTheirLikelyCause) {
  const auto w = words(readings({{300, 240}, {500, 400}, {600, 480}}));
  EXPECT_FALSE(w.good);
  EXPECT_TRUE(w.verdict.contains("find it before you apply"));
  EXPECT_TRUE(w.explanation.contains("16 teeth instead of 20")) << w.explanation.toStdString();
  auto screw = readings({{60, 96}, {80, 128}});
  screw.transmission = Screw{5};
  EXPECT_TRUE(words(screw).explanation.contains("a screw of 8 mm lead instead of 5"))
      << words(screw).explanation.toStdString();
}

TEST(StepsWords, InchesWhereTheScreenHasInches) {
  const auto w = words(readings({{600, 597}, {600, 597.5}, {400, 398}}), LengthUnit::inch);
  EXPECT_TRUE(w.explanation.contains("15.7–23.6 in")) << w.explanation.toStdString();
}

TEST(RecordWords, EveryKindOfEntryReadsAsASentence) {
  Entry e;
  e.time = "2026-11-21T09:40:00+00:00";
  e.sheet = "steps_per_unit";
  e.subject = "X";
  e.as_found = {{"axis.x.steps_per_mm", 160.0}};
  e.as_left = {{"axis.x.steps_per_mm", 159.36}};
  e.result = {{"U_new_steps_per_mm", 0.04}};
  EXPECT_EQ(entry_date(e), "21 Nov 09:40");
  EXPECT_EQ(entry_text(e, LengthUnit::millimetre), "Steps per unit X 160.000 → 159.360 ±0.040");
  e.note = "undone";
  EXPECT_TRUE(entry_text(e, LengthUnit::millimetre).endsWith(", undone"));
  e.as_left = e.as_found;
  EXPECT_TRUE(entry_text(e, LengthUnit::millimetre).contains("left as it was"));
  Entry cut;
  cut.sheet = "cut";
  cut.subject = "dial.ngc";
  cut.result = {{"ended", "abandoned"}, {"line", 7}, {"lines", 20}};
  EXPECT_EQ(entry_text(cut, LengthUnit::millimetre), "Cut dial.ngc: abandoned at line 7 of 20");
  Entry strange;
  strange.sheet = "from_the_future";
  strange.result = {{"what", {1, 2}}};
  EXPECT_FALSE(entry_text(strange, LengthUnit::inch).isEmpty()) << "a sheet this version does not know";
}

TEST(RecordWords, OutOfDateSaysSinceWhenAndBecauseOfWhat) {
  Book book;
  Entry square;
  square.sheet = "squareness";
  book.history.push_back(square);
  Entry steps;
  steps.time = "2026-11-21T09:40:00+00:00";
  steps.sheet = "steps_per_unit";
  steps.subject = "X";
  steps.as_found = {{"v", 1}};
  steps.as_left = {{"v", 2}};
  book.history.push_back(steps);
  EXPECT_EQ(out_of_date_reason(book, standing_of(book, "squareness")),
            "Steps per unit of X changed on 21 Nov, after this was measured.");
}

TEST(Records, TheNewSheetsSayWhatTheyFound) {
  const auto entry = [](const char* sheet, const char* subject, nlohmann::json result) {
    Entry e;
    e.sheet = sheet;
    e.subject = subject;
    e.result = std::move(result);
    return e;
  };
  const auto mm = LengthUnit::millimetre, inch = LengthUnit::inch;
  EXPECT_EQ(
      entry_text(entry("bed_spindle", "tram", {{"tilt_x_mrad", 0.6}, {"tilt_y_mrad", -0.8}, {"ridge_mm", 0.016}}), mm),
      "Bed and spindle tram 1.00 mrad, ridge 0.016 mm");
  EXPECT_TRUE(
      entry_text(entry("bed_spindle", "map", {{"peak_to_valley_mm", 0.508}}), inch).contains("0.020 in uneven"));
  EXPECT_TRUE(entry_text(entry("bed_spindle", "edge", {{"edge_mm_per_m", 0.25}}), mm).contains("0.25 mm per m"));
  EXPECT_TRUE(entry_text(entry("bed_spindle", "Z along X", {{"lean_mrad", -1.5}, {"U_lean_mrad", 0.08}}), mm)
                  .contains("Z along X −1.50 ±0.08 mrad"));
  EXPECT_TRUE(entry_text(entry("touch_plate", "", {{"thickness_mm", 12.07}}), mm).contains("12.070 mm"));
  EXPECT_TRUE(
      entry_text(entry("tool_setter", "", {{"trigger_mm", -58.2}, {"s_mm", 0.003}}), mm).contains("s 0.0030 mm"));
  EXPECT_TRUE(entry_text(entry("tools", "T2", {{"offset_mm", 7.402}}), mm).contains("T2 7.402 mm"));
  EXPECT_TRUE(entry_text(entry("work_zero", "turn", {{"rotation_mrad", 20.0}, {"U_rotation_mrad", 0.06}}), mm)
                  .contains("20.00 ±0.06 mrad"));
  EXPECT_TRUE(entry_text(entry("bed_spindle", "surface", {{"words", "bed surfaced"}}), mm).contains("bed surfaced"));
}

}  // namespace
}  // namespace ypsi::app
