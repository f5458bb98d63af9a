// The Build sheet in the real window: drawn figures typed, drives computed, differences settled one by one.
#include <QComboBox>
#include <QTableWidget>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/sheets/budget_bars.h"
#include "app/widgets/table_menu.h"
#include "core/book/worksheets/scale.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class BuildWindow : public WindowTest {
 protected:
  void choose(const char* name, int item) {
    auto* box = find<QComboBox>(name);
    box->setCurrentIndex(item);
    emit box->activated(item);
  }
  const MachineSetup& machine_setup() { return session_->editor().book().machine; }
};

TEST_F(BuildWindow, ADriveTypedOnItsDrawingGivesStepsAndWaitsUntilItIsKept) {
  sheet("build");
  click("build-z");
  type("transmission-1", "5");
  EXPECT_TRUE(text("computed").contains("640.0 steps per mm") || text("computed").contains("640.000 steps per mm"))
      << text("computed").toStdString();
  EXPECT_TRUE(text("build-changes").contains("screw, lead 5 mm")) << text("build-changes").toStdString();
  EXPECT_EQ(machine_setup().axis(Axis::z).steps_per_mm, 800) << "only a draft";
  EXPECT_EQ(session_->machine().link()->setting("axis.z.steps_per_mm").value(), 800);
  type("transmission-1", "0");
  EXPECT_TRUE(find<QWidget>("notice")->isVisible());
  EXPECT_EQ(find<QLineEdit>("transmission-1")->text(), "5.000") << "a lead that cannot be goes back";
  close();
  open();
  sheet("build");
  EXPECT_TRUE(text("build-changes").contains("screw, lead 5 mm")) << "a draft outlives a restart";
  click("drop-build");
  EXPECT_FALSE(find<QPushButton>("drop-build")->isVisible());
  EXPECT_EQ(machine_setup().axis(Axis::z).drive.transmission, Transmission(Screw{4}));
  undo();
  EXPECT_TRUE(text("build-changes").contains("screw, lead 5 mm"));
  QApplication::setActiveWindow(window_.get());
  QTest::keyClick(window_.get(), Qt::Key_Return, Qt::ControlModifier);
  EXPECT_TRUE(wait_for([this] { return machine_setup().axis(Axis::z).steps_per_mm == 640; }));
  EXPECT_EQ(session_->machine().link()->setting("axis.z.steps_per_mm").value(), 640)
      << "the controller is set as the book says";
}

TEST_F(BuildWindow, ARotaryAxisCountsInDegrees) {
  sheet("build");
  click("build-z");
  choose("transmission", 3);
  EXPECT_FALSE(find<QWidget>("transmission-1")->isVisible());
  EXPECT_TRUE(text("computed").contains("steps per degree")) << text("computed").toStdString();
  choose("transmission", 2);
  EXPECT_TRUE(find<QWidget>("transmission-2")->isVisible());
  EXPECT_TRUE(text("computed").contains("steps per mm"));
}

TEST_F(BuildWindow, TheDialAnswersForASpeedAndRefusesOneItDoesNotHave) {
  sheet("build");
  click("build-spindle");
  type("dial-wanted", "14250");
  EXPECT_TRUE(text("dial-answer").contains("2.5")) << "half way from 12,500 to 16,000";
  type("dial-wanted", "40000");
  EXPECT_FALSE(text("dial-answer").contains("Set the dial")) << text("dial-answer").toStdString();
  auto* table = find<QTableWidget>("dial");
  table->item(0, 1)->setText("many");
  EXPECT_TRUE(told());
  EXPECT_TRUE(text("notice-text").contains("Row 1 of the dial"));
  EXPECT_EQ(table->item(0, 1)->text(), "9000");
  click("dial-add");
  EXPECT_EQ(table->rowCount(), 7);
  table->setCurrentCell(6, 0);
  click("dial-remove");
  EXPECT_EQ(table->rowCount(), 6);
}

TEST_F(BuildWindow, EachDifferenceIsSettledByItself) {
  ASSERT_TRUE(session_->machine().link()->set_setting("axis.x.max_rate_mm_min", 4321));
  ASSERT_TRUE(session_->machine().link()->set_setting("axis.y.accel_mm_s2", 222));
  const double y_book = machine_setup().axis(Axis::y).acceleration;
  home();
  sheet("build");
  click("build-controller");
  EXPECT_TRUE(told());
  EXPECT_TRUE(text("controller-summary").contains("2 of 21")) << text("controller-summary").toStdString();
  click("take-axis.x.max_rate_mm_min");
  EXPECT_TRUE(told());
  EXPECT_EQ(machine_setup().axis(Axis::x).max_rate, 4321);
  EXPECT_EQ(session_->machine().link()->setting("axis.y.accel_mm_s2").value(), 222)
      << "the other waits for its own word";
  EXPECT_TRUE(text("controller-summary").contains("1 of 21"));
  click("set-axis.y.accel_mm_s2");
  EXPECT_EQ(session_->machine().link()->setting("axis.y.accel_mm_s2").value(), y_book);
  EXPECT_TRUE(text("controller-summary").contains("agree"));
  const Entry& last = session_->editor().book().history.back();
  EXPECT_EQ(last.sheet, "build");
  EXPECT_EQ(last.as_found.at("axis.y.accel_mm_s2"), 222);
  EXPECT_EQ(last.as_left.at("axis.y.accel_mm_s2"), y_book);
}

TEST_F(BuildWindow, InstrumentsThatCannotBeAreLeftAsTheyWere) {
  sheet("build");
  click("build-instruments");
  auto* table = find<QTableWidget>("instruments");
  const QString was = table->item(0, 1)->text();
  const auto before = session_->editor().book().instruments;
  table->item(0, 1)->setText("-1");
  EXPECT_TRUE(told());
  EXPECT_TRUE(find<QWidget>("notice")->isVisible());
  EXPECT_EQ(session_->editor().book().instruments.size(), before.size());
  EXPECT_EQ(table->item(0, 1)->text(), was);
}

TEST_F(BuildWindow, ABarOfTheBudgetLeadsToItsEntry) {
  sheet("standing");
  QTest::mouseClick(find<QWidget>("budget"), Qt::LeftButton, {}, QPoint(40, 12));
  const auto* list = find<QAbstractItemView>("history");
  ASSERT_TRUE(list->currentIndex().isValid());
  const QString row = list->currentIndex().siblingAtColumn(1).data().toString();
  EXPECT_TRUE(row.contains("Steps per unit X")) << row.toStdString() << ": the largest part is the first bar";
}

TEST_F(BuildWindow, ScaleReadingsComeAndGoAsATable) {
  sheet("steps_per_unit");
  write("taken.csv", "\xef\xbb\xbf\"told\";\"measured\"\r\n100,0;100,4\r\n200,0;200,9\r\n300,0;\"301,2\"\r\n");
  find<TableMenu>("table-menu")->read_file(folder_.filePath("taken.csv"));
  const auto readings = [this] { return session_->editor().book().worksheets[scale_worksheets][0].readings; };
  ASSERT_EQ(readings().size(), 3u) << text("notice-text").toStdString();
  EXPECT_DOUBLE_EQ(readings()[2].measured, 301.2);
  write("bad.csv", "told,measured\n100,100.2\n200,about\n");
  find<TableMenu>("table-menu")->read_file(folder_.filePath("bad.csv"));
  EXPECT_TRUE(text("notice-text").contains("line 3") || text("notice-text").contains("Line 3"))
      << text("notice-text").toStdString();
  EXPECT_EQ(readings().size(), 3u) << "nothing of a bad table is taken";
}

}  // namespace
}  // namespace ypsi::app
