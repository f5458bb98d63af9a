// Squareness in the real window: marks put down by the simulated machine, read by its person, corrected, read again.
#include <QComboBox>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/sheets/squareness/square_drawing.h"
#include "core/book/record.h"
#include "core/book/worksheets/squareness.h"
#include "core/calibration/squareness.h"
#include "core/tasks/steps_per_unit.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class SquarenessWindow : public WindowTest {
 protected:
  /// The demo's machine with another lean, rails that the book knows, and Z zero set on a board.
  void start(double skew_mrad) {
    open_with([&](nlohmann::json& s) { s["skew_mrad"] = skew_mrad; });
    zero_over_the_stock();
    sheet("squareness");
    type("rail-spacing", QString::number(machine().scenario().rail_spacing));
  }
  void put_marks_down() {
    click("mark-points");
    ASSERT_TRUE(wait_for([this] { return text("square-hint").contains("The marks are down"); }, 60000))
        << text("square-hint").toStdString() << text("notice-text").toStdString();
  }
  void choose(const QString& instrument) {
    auto* box = find<QComboBox>("square-instrument");
    box->setCurrentText(instrument);
    emit box->textActivated(instrument);
  }
  void read_all() {
    while (find<QPushButton>("read-between")->isEnabled()) {
      click("read-between");
      QTest::qWait(5);
    }
  }
  double found_mrad(const char* key = "skew_mrad") {
    return session_->editor()
        .book()
        .history[*newest(session_->editor().book(), "squareness")]
        .result.at(key)
        .get<double>();
  }
  const SquareWorksheet& worksheet() { return *session_->editor().book().worksheets[square_worksheet]; }
};

TEST_F(SquarenessWindow, TheLeanIsFoundCorrectedAtTheSwitchAndGoneAfterwards) {
  start(3.1);
  choose("tape");
  put_marks_down();
  read_all();
  EXPECT_TRUE(text("square-lead").contains("towards +X")) << text("square-lead").toStdString();
  EXPECT_TRUE(text("square-verdict").contains("Not square"));
  click("set-offset");
  EXPECT_NEAR(found_mrad(), 3.1, found_mrad("U_skew_mrad"));
  EXPECT_EQ(standing_of(session_->editor().book(), "squareness").standing, Standing::out_of_date)
      << "until it is measured again";
  const auto& change = session_->editor().book().history.back();
  EXPECT_EQ(change.as_found.at("axis.y.second_switch_offset_mm"), 0);
  const double offset = change.as_left.at("axis.y.second_switch_offset_mm");
  EXPECT_LT(offset, 0) << "the right end goes to the front";
  EXPECT_DOUBLE_EQ(session_->machine().link()->setting("axis.y.second_switch_offset_mm").value(), offset);
  home();
  put_marks_down();
  read_all();
  EXPECT_TRUE(text("square-verdict").contains("Square, as far")) << text("square-verdict").toStdString();
  click("keep");
  EXPECT_LT(std::fabs(found_mrad()), found_mrad("U_skew_mrad"));
  EXPECT_EQ(standing_of(session_->editor().book(), "squareness").standing, Standing::current);
  undo();
  EXPECT_EQ(session_->machine().link()->setting("axis.y.second_switch_offset_mm").value_or(-1), offset)
      << "undoing what was only written down leaves the machine alone";
  while (session_->editor().undo_stack().undoText() != "Set the right side's offset") undo();
  undo();
  EXPECT_EQ(session_->machine().link()->setting("axis.y.second_switch_offset_mm").value_or(-1), 0);
  EXPECT_TRUE(session_->machine().setting_differences().empty());
}

TEST_F(SquarenessWindow, ABeamMovedByHandIsOnRecordAndAsksForAnotherMeasurement) {
  start(-2.4);
  put_marks_down();
  read_all();
  EXPECT_TRUE(text("square-lead").contains("towards −X"));
  const auto drawn = find<QWidget>("square-drawing");
  EXPECT_GT(static_cast<SquareDrawing*>(drawn)->exaggeration(), 10);
  click("beam-moved");
  const Entry& moved = session_->editor().book().history.back();
  const double way = moved.as_left.at("machine.beam_right_end_mm");
  EXPECT_GT(way, 0) << "the right end goes to the back";
  EXPECT_EQ(worksheet().distances.size(), 2u) << "the lines stay, the figures go";
  EXPECT_EQ(worksheet().distances[0].measured, 0);
  session_->machine().bench()->move_rail_end(RailEnd::right, way);
  put_marks_down();
  read_all();
  EXPECT_TRUE(text("square-verdict").contains("Square, as far")) << text("square-verdict").toStdString();
}

TEST_F(SquarenessWindow, WhatCannotBeToldSaysWhichDistanceWould) {
  start(1.7);
  put_marks_down();
  type("distance-0", "960,5");
  EXPECT_TRUE(text("square-lead").contains("do not tell")) << text("square-lead").toStdString();
  EXPECT_TRUE(text("square-verdict").contains("Measure")) << text("square-verdict").toStdString();
  EXPECT_EQ(session_->editor().book().worksheets[square_worksheet]->distances[0].measured, 960.5);
  type("distance-0", "-4");
  EXPECT_TRUE(text("notice-text").contains("above zero"));
  EXPECT_EQ(worksheet().distances[0].measured, 960.5);
}

TEST_F(SquarenessWindow, DistancesAreDraggedFromMarkToMarkAndReadOverEdges) {
  start(1.7);
  put_marks_down();
  auto* drawing = static_cast<SquareDrawing*>(find<QWidget>("square-drawing"));
  QTest::mousePress(drawing, Qt::LeftButton, {}, drawing->mark_at(1).toPoint());
  QTest::mouseMove(drawing, drawing->mark_at(2).toPoint());
  QTest::mouseRelease(drawing, Qt::LeftButton, {}, drawing->mark_at(2).toPoint());
  ASSERT_EQ(worksheet().distances.size(), 3u);
  EXPECT_EQ(worksheet().distances[2].from, 1u);
  EXPECT_EQ(worksheet().distances[2].to, 2u);
  EXPECT_TRUE(find<QLineEdit>("distance-2")->hasFocus());
  type("hole-diameter", "4");
  find<QLineEdit>("distance-2")->setFocus();
  QTest::keyClick(find<QLineEdit>("distance-2"), Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(worksheet().distances[2].edge, HoleEdge::outer);
  EXPECT_EQ(worksheet().distances[2].hole_diameter, 4);
  QTest::keyClick(find<QLineEdit>("distance-2"), Qt::Key_Delete, Qt::ControlModifier);
  EXPECT_EQ(worksheet().distances.size(), 2u);
  click("add-distance");
  EXPECT_EQ(worksheet().distances.size(), 3u);
}

TEST_F(SquarenessWindow, TooSmallASquareSaysHowLargeItMustBe) {
  start(1.7);
  type("marks-width", "100");
  type("marks-height", "100");
  type("square-tolerance", "1");
  choose("ruler");
  put_marks_down();
  read_all();
  EXPECT_TRUE(text("square-verdict").contains("Too small for")) << text("square-verdict").toStdString();
  type("marks-width", "5000");
  EXPECT_TRUE(text("notice-text").contains("do not fit"));
  EXPECT_EQ(worksheet().points[1].commanded.x - worksheet().points[0].commanded.x, 100);
}

TEST_F(SquarenessWindow, DiagonalsAreReadAgainUntilTheLeanIsKnownAsWellAsWanted) {
  start(1.7);
  type("marks-width", "100");
  type("marks-height", "100");
  type("square-tolerance", "3");
  choose("ruler");
  put_marks_down();
  read_all();
  EXPECT_TRUE(text("square-verdict").contains("read the diagonals")) << text("square-verdict").toStdString();
  for (int more = 0; more < 8 && text("square-verdict").contains("read the diagonals"); ++more) {
    const std::size_t before = worksheet().distances.size();
    click("add-distance");
    ASSERT_EQ(worksheet().distances.size(), before + 1);
    EXPECT_FALSE(is_side(worksheet(), worksheet().distances.back()));
    EXPECT_TRUE(find<QLineEdit>(("distance-" + std::to_string(before)).c_str())->hasFocus());
    read_all();
  }
  EXPECT_FALSE(text("square-verdict").contains("is wanted")) << text("square-verdict").toStdString();
  EXPECT_GT(worksheet().distances.size(), 4u);
  EXPECT_LE(worksheet().distances.size(), 12u);
  // A line that has a field waiting gets no second one.
  click("add-distance");
  const std::size_t now = worksheet().distances.size();
  click("add-distance");
  EXPECT_EQ(worksheet().distances.size(), now);
}

TEST_F(SquarenessWindow, SidesAreAskedForOnlyWhereTheScalesAreNotKnown) {
  start(1.7);
  put_marks_down();
  ASSERT_EQ(worksheet().distances.size(), 2u) << "the demo's scales are known";
  read_all();
  EXPECT_FALSE(text("square-figure").isEmpty());
  click("add-distance");
  ASSERT_EQ(worksheet().distances.size(), 3u);
  EXPECT_FALSE(is_side(worksheet(), worksheet().distances.back())) << "a diagonal again, not a scale";
  session_->editor().change_book(
      "", [](Book& b) { std::erase_if(b.history, [](const Entry& e) { return e.sheet == steps_per_unit_id; }); });
  type("marks-width", "300");
  ASSERT_EQ(worksheet().distances.size(), 4u);
  EXPECT_TRUE(is_side(worksheet(), worksheet().distances.back()));
}

TEST_F(SquarenessWindow, MarksWaitForZZeroAndOutliveARestart) {
  home();
  sheet("squareness");
  click("mark-points");
  EXPECT_TRUE(text("notice-text").contains("Set Z zero")) << text("notice-text").toStdString();
  EXPECT_EQ(session_->machine().status().state, MachineState::ready) << "nothing moved";
  type("distance-1", "700");
  close();
  open();
  sheet("squareness");
  EXPECT_EQ(worksheet().distances[1].measured, 700);
  EXPECT_TRUE(find<QLineEdit>("distance-1")->text().startsWith("700"));
}

TEST_F(SquarenessWindow, ASquareTurnedOverTellsTheMachineFromTheSquare) {
  open_with([](nlohmann::json& s) { s["skew_mrad"] = 2.2; });
  sheet("squareness");
  click("square-square");
  EXPECT_FALSE(find<QPushButton>("keep")->isEnabled());
  click("reversal-read");
  click("reversal-read");
  EXPECT_FALSE(find<QPushButton>("reversal-read")->isEnabled());
  EXPECT_TRUE(text("square-lead").contains("+X")) << text("square-lead").toStdString();
  EXPECT_TRUE(text("square-verdict").contains("Not square"));
  click("keep");
  EXPECT_NEAR(found_mrad(), 2.2, found_mrad("U_skew_mrad"));
  type("reversal-first", "0,66");
  type("reversal-turned", "400");
  EXPECT_TRUE(text("square-verdict").contains("smaller than the blade")) << text("square-verdict").toStdString();
  click("square-marks");
  EXPECT_TRUE(find<QPushButton>("mark-points")->isVisible());
}

TEST_F(SquarenessWindow, AnyNumberOfMarksTakenFromTheMachine) {
  start(1.7);
  type("marks-width", "600");
  const auto corners = worksheet().points.size();
  click("mark-here");
  ASSERT_EQ(worksheet().points.size(), corners + 1);
  EXPECT_EQ(worksheet().points.back().name, "E");
  EXPECT_NEAR(worksheet().points.back().commanded.x, session_->machine().status().position.x, 0.006);
  click("mark-here");
  EXPECT_EQ(worksheet().points.size(), corners + 1) << "there is one already";
  put_marks_down();
  click("add-distance");
  read_all();
  EXPECT_TRUE(text("square-lead").contains("+X"));
}

TEST_F(SquarenessWindow, ACorrectedCopyLiesBesideTheProgramAndIsLoaded) {
  start(3.5);
  choose("tape");
  put_marks_down();
  read_all();
  load("dial-blank.ngc");
  click("corrected-copy");
  EXPECT_TRUE(text("notice-text").contains("dial-blank-corrected.ngc")) << text("notice-text").toStdString();
  ASSERT_TRUE(QFile::exists(folder_.filePath("dial-blank-corrected.ngc")));
  load("dial-blank-corrected.ngc");
  ASSERT_TRUE(session_->job().program()->path.endsWith("-corrected.ngc"));
  EXPECT_TRUE(session_->job().program()->program.arcs.empty()) << "arcs became lines";
  const Extents& e = session_->job().program()->program.cut;
  EXPECT_NEAR(e.high.y - e.low.y, 280, 3) << "the rim, with the scales of this machine taken out";
}

}  // namespace
}  // namespace ypsi::app
