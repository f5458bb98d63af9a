// Lost motion by indicator in the real window.
#include <QTableWidget>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/widgets/table_menu.h"
#include "core/book/readings_csv.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/program/interpreter.h"
#include "core/tasks/budget.h"
#include "core/tasks/lost_motion.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class LostMotionWindow : public WindowTest {
 protected:
  void read_a_place() {
    ASSERT_TRUE(wait_for([this] { return find<QPushButton>("arrive")->isEnabled(); }));
    click("arrive");
    for (const char* sign : {"+", "−"}) {
      ASSERT_TRUE(wait_for([&] { return text("lost-hint").contains(QString("towards %1").arg(sign)); }));
      click("read-here");
    }
  }
};

TEST_F(LostMotionWindow, FivePlacesTellTheSlackOfYAndTheRecordKeepsThem) {
  home();
  sheet("lost_motion");
  click("axis-y");
  for (int i = 0; i < 5; ++i) read_a_place();
  auto* table = find<QTableWidget>("places");
  ASSERT_EQ(table->rowCount(), 5);
  EXPECT_TRUE(text("lost-verdict").contains("mend what is loose")) << text("lost-verdict").toStdString();
  EXPECT_TRUE(text("lost-figure").startsWith("0.1")) << text("lost-figure").toStdString();
  click("keep");
  const Entry& entry = session_->editor().book().history.back();
  EXPECT_EQ(entry.sheet, "lost_motion");
  EXPECT_EQ(entry.subject, "Y");
  EXPECT_EQ(entry.readings.size(), 5u);
  const double found = entry.result.at("lost_motion_mm"), U = entry.result.at("U_lost_motion_mm");
  EXPECT_NEAR(found, machine().scenario().axes[1].lost_motion, U);
  EXPECT_EQ(table->rowCount(), 0) << "settled readings are in the record";
  undo();
  EXPECT_EQ(table->rowCount(), 5);
}

TEST_F(LostMotionWindow, ReadingsAreTypedOnTheArrivalsAndOutliveARestart) {
  home();
  sheet("lost_motion");
  type("place", "200");
  click("arrive");
  ASSERT_TRUE(wait_for([this] { return text("lost-hint").contains("towards +"); }));
  type("arriving-plus", "0.02");
  ASSERT_TRUE(wait_for([this] { return text("lost-hint").contains("towards −"); }));
  type("arriving-minus", "0,075");
  EXPECT_EQ(find<QTableWidget>("places")->rowCount(), 1);
  EXPECT_TRUE(text("lost-figure").startsWith("0.05")) << text("lost-figure").toStdString();
  EXPECT_TRUE(text("lost-verdict").contains("Three places"));
  close();
  open();
  sheet("lost_motion");
  const auto& kept = session_->editor().book().worksheets[lost_motion_worksheets][0];
  ASSERT_EQ(kept.size(), 1u);
  EXPECT_DOUBLE_EQ(kept[0].place, 200);
  EXPECT_DOUBLE_EQ(kept[0].reading.arriving_minus, 0.075);
  auto* table = find<QTableWidget>("places");
  table->selectRow(0);
  QTest::keyClick(table, Qt::Key_Delete);
  EXPECT_EQ(table->rowCount(), 0);
}

TEST_F(LostMotionWindow, ThePositioningTestRunsAndSaysTheStandardsFigures) {
  home();
  sheet("lost_motion");
  click("axis-y");
  click("lost-positioning");
  type("targets", "6");
  type("runs", "2");
  click("start-test");
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("read-deviation")->isEnabled(); }));
  click("read-deviation");  // the first is the reference
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("read-deviation")->isEnabled(); }));
  type("deviation", "0,25");
  EXPECT_EQ(session_->editor().book().worksheets[positioning_worksheets][1].runs[0].deviations,
            (std::vector<double>{0, 0.25}))
      << "typed, and in the book at once";
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("read-all")->isEnabled(); }));
  click("read-all");
  ASSERT_TRUE(wait_for([this] { return text("positioning-hint").contains("The test is done"); }, 60000));
  EXPECT_TRUE(text("lost-lead").contains("accuracy A"));
  for (const char* figure : {"A↑", "A↓", "E", "M", "R↑", "R↓", "B"})
    EXPECT_TRUE(text("lost-text").contains(figure)) << figure;
  // 117 mm between targets see nothing of a belt's turn of 40 mm: without knowing that to be small there is no table.
  EXPECT_TRUE(text("lost-text").contains("No table of these")) << text("lost-text").toStdString();
  EXPECT_FALSE(find<QPushButton>("lost-second")->isVisible());
  session_->editor().note_in_book([](Book& b) {
    Entry turn;
    turn.time = "2026-04-09T10:00";
    turn.sheet = lost_motion_id;
    turn.subject = over_a_turn(Axis::y);
    turn.result = {{"amplitude_mm", 0.01}, {"period_mm", 40}};
    b.history.push_back(turn);
  });
  EXPECT_TRUE(text("lost-text").contains("it sees in part only")) << text("lost-text").toStdString();
  click("as-corrected");
  EXPECT_TRUE(find<QPushButton>("as-corrected")->isChecked());
  write("line.ngc", "G21 G90\nG0 X20 Y20 Z8\nG1 Y300 F600\nG1 Y20\nM2\n");
  load("line.ngc");
  click("lost-second");
  QFile copy(folder_.filePath("line-by-table.ngc"));
  ASSERT_TRUE(copy.open(QIODevice::ReadOnly)) << text("notice-text").toStdString();
  const auto read = read_program(copy.readAll().toStdString());
  ASSERT_TRUE(read);
  EXPECT_GT(read->motions.size(), 4u) << "broken at the targets, and told anew where Y turns round";
  // Which way Y first comes nobody knows; coming back from above it is told less by half of what is lost on turning.
  EXPECT_NEAR(read->motions.back().end.y - read->motions.front().end.y, -0.11 / 2, 0.03);
  click("keep");
  const Entry& entry = session_->editor().book().history.back();
  EXPECT_EQ(entry.subject, "Y");
  EXPECT_NEAR(entry.result.at("mean_reversal_mm").get<double>(), -0.11, 0.03) << "one reading was typed wrong";
  EXPECT_EQ(entry.readings.at(0).at("runs").size(), 4u);
  EXPECT_TRUE(session_->editor().book().worksheets[positioning_worksheets][1].targets.empty());
  EXPECT_EQ(standing_of(session_->editor().book(), "lost_motion", Axis::y).standing, Standing::current);
}

TEST_F(LostMotionWindow, AMoveEndedByHandEndsTheTestAndKeepsWhatWasRead) {
  home();
  sheet("lost_motion");
  click("lost-positioning");
  session_->machine().connection()->set_speed(1);
  click("start-test");
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::moving; }));
  session_->machine().hold();
  EXPECT_TRUE(wait_for([this] { return text("notice-text").contains("The test was ended"); }));
  EXPECT_TRUE(wait_for([this] { return find<QPushButton>("start-test")->isEnabled(); }));
}

TEST_F(LostMotionWindow, TablesAreReadAndRefusedAsAWhole) {
  sheet("lost_motion");
  write("turns.csv", "\xEF\xBB\xBFplace;arriving +;arriving -\r\n100;0,00;0,10\r\n300;0,01;0,13\r\n500;0;0,12\r\n");
  find<TableMenu>("table-menu")->read_file(folder_.filePath("turns.csv"));
  EXPECT_EQ(session_->editor().book().worksheets[lost_motion_worksheets][0].size(), 3u);
  EXPECT_TRUE(text("lost-figure").startsWith("0.11")) << text("lost-figure").toStdString();
  write("bad.csv", "100,0,0.1\n300,zero,0.1\n");
  find<TableMenu>("table-menu")->read_file(folder_.filePath("bad.csv"));
  EXPECT_TRUE(text("notice-text").contains("Line 2")) << text("notice-text").toStdString();
  EXPECT_EQ(session_->editor().book().worksheets[lost_motion_worksheets][0].size(), 3u) << "nothing was taken";
  click("lost-positioning");
  std::string table;
  for (int run = 1; run <= 4; ++run)
    for (const double target : {10.0, 200.0, 390.0})
      table += std::to_string(run) + (run % 2 ? ",+," : ",-,") + std::to_string(target) + "," +
               std::to_string(run % 2 ? 0.01 : 0.03) + "\n";
  write("test.csv", QByteArray::fromStdString(table));
  find<TableMenu>("table-menu")->read_file(folder_.filePath("test.csv"));
  EXPECT_TRUE(text("lost-text").contains("−0.020")) << text("lost-text").toStdString();
  find<TableMenu>("table-menu")
      ->write_file(folder_.filePath("out.csv"),
                   positioning_to_csv(session_->editor().book().worksheets[positioning_worksheets][0]));
  EXPECT_EQ(positioning_from_csv(*read_file(folder_.filePath("out.csv")))->runs.size(), 4u);
  find<TableMenu>("table-menu")->write_file("/nowhere/out.csv", "x");
  EXPECT_TRUE(text("notice-text").contains("could not be written"));
}

TEST_F(LostMotionWindow, WhatAScrewRepeatsIsReadOverTwoTurnsAndCountsInAPart) {
  home();
  sheet("lost_motion");
  const auto part_U = [this] { return error_budget(session_->editor().book()).sizes.axes[1].spacing.value().U; };
  const double before = part_U();
  click("axis-y");
  click("lost-turn");
  type("turn", "4");
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("turn-begin")->isEnabled(); }));
  click("turn-begin");
  for (int i = 0; i < 60 && text("turn-hint").contains("Jog the axis") == false; ++i) {
    if (!wait_for([this] { return find<QPushButton>("turn-read")->isEnabled() || text("turn-hint").contains("Jog"); }))
      break;
    if (find<QPushButton>("turn-read")->isEnabled()) click("turn-read");
  }
  auto* table = find<QTableWidget>("turn-readings");
  ASSERT_GE(table->rowCount(), 20);
  EXPECT_TRUE(find<QPushButton>("keep")->isEnabled()) << text("lost-verdict").toStdString();
  click("keep");
  EXPECT_EQ(table->rowCount(), 0);
  const Entry& entry = session_->editor().book().history.back();
  EXPECT_EQ(entry.subject, "Y turn");
  const double amplitude = entry.result.at("amplitude_mm"), U = entry.result.at("U_amplitude_mm");
  EXPECT_LE(amplitude, U + 0.003) << "the demo's screw is true";
  EXPECT_NEAR(part_U(), std::hypot(before, 1.959964 * amplitude), 1e-6) << "a distance has two phases of it";
  // It stands beside the lost motion, which is what it was.
  EXPECT_TRUE(text("lost-figure").startsWith("0.0")) << text("lost-figure").toStdString();
  click("lost-indicator");
  EXPECT_TRUE(text("lost-figure").startsWith("0.11")) << text("lost-figure").toStdString();
  undo();
  click("lost-turn");
  EXPECT_GE(table->rowCount(), 20);
}

TEST_F(LostMotionWindow, AReadingOverATurnIsTakenOnlyWhereOneIsWaitedFor) {
  home();
  sheet("lost_motion");
  click("lost-turn");
  EXPECT_FALSE(find<LengthField>("turn-reading")->isEnabled());
  EXPECT_FALSE(find<QPushButton>("turn-read")->isEnabled());
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("turn-begin")->isEnabled(); }));
  click("turn-begin");
  ASSERT_TRUE(wait_for([this] { return find<LengthField>("turn-reading")->isEnabled(); }));
  type("turn-reading", "0.01");
  EXPECT_EQ(session_->editor().book().worksheets[turn_worksheets][0].size(), 1u);
  sheet("build");
  EXPECT_FALSE(session_->machine().runner().running()) << "left in the middle it ends";
  sheet("lost_motion");
  EXPECT_EQ(find<QTableWidget>("turn-readings")->rowCount(), 1);
  click("turn-begin");
  EXPECT_TRUE(text("notice-text").contains("begin anew")) << text("notice-text").toStdString();
  click("turn-clear");
  EXPECT_TRUE(session_->editor().book().worksheets[turn_worksheets][0].empty());
}

}  // namespace
}  // namespace ypsi::app
