// Lost motion by indicator in the real window.
#include <QTableWidget>

#include "app/sheets/lost_motion_sheet.h"
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
  const Entry& entry = session_->book().history.back();
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
  const auto& kept = session_->book().lost_motion_worksheets[0];
  ASSERT_EQ(kept.size(), 1u);
  EXPECT_DOUBLE_EQ(kept[0].place, 200);
  EXPECT_DOUBLE_EQ(kept[0].reading.arriving_minus, 0.075);
  auto* table = find<QTableWidget>("places");
  table->selectRow(0);
  QTest::keyClick(table, Qt::Key_Delete);
  EXPECT_EQ(table->rowCount(), 0);
}

}  // namespace
}  // namespace ypsi::app
