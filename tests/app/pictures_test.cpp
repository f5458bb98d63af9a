// Pictures of the main views from the demo data, for the documentation: scripts/screenshots runs these, nothing else
// does.
#include <QComboBox>
#include <QTableWidget>

#include "app/theme/theme.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class DISABLED_Pictures : public WindowTest {
 protected:
  void shoot(const QString& name) {
    find<QWidget>("notice")->hide();
    QTest::qWait(120);
    const QString folder = qEnvironmentVariable("YPSI_PICTURES", folder_.path());
    ASSERT_TRUE(window_->grab().save(folder + "/" + name + ".png")) << folder.toStdString();
  }
  void jog_to(Axis axis, double machine_mm) {
    session_->jog(axis, machine_mm - session_->status().position[axis]);
    ASSERT_TRUE(wait_ready());
  }
};

TEST_F(DISABLED_Pictures, OfTheDemo) {
  window_->resize(1280, 800);
  sheet("build");
  click("build-x");
  shoot("build");
  sheet("inputs");
  click("inputs-begin");
  for (const Axis a : {Axis::x, Axis::y}) {
    machine().bench().hold_switch(a, true);
    QTest::qWait(120);
    if (a == Axis::y) break;
    machine().bench().hold_switch(a, false);
    QTest::qWait(120);
  }
  shoot("inputs");
  machine().bench().hold_switch(Axis::y, false);
  sheet("directions");
  click("nudge-Z");
  ASSERT_TRUE(wait_for([this] {
    return find<QPushButton>("directions-yes")->isVisible() && find<QPushButton>("directions-yes")->isEnabled();
  }));
  click("directions-yes");
  click("nudge-X");
  ASSERT_TRUE(wait_for([this] {
    return find<QPushButton>("directions-yes")->isVisible() && find<QPushButton>("directions-yes")->isEnabled();
  }));
  shoot("directions");
  click("directions-yes");
  home();
  sheet("steps_per_unit");
  for (const char* told : {"700", "500", "300", "700", "600"}) {
    type("told", told);
    click("move-and-mark");
    ASSERT_TRUE(wait_for([this] { return text("hint").contains("It has moved"); }));
    click("read-instrument");
  }
  shoot("steps-per-unit");
  sheet("lost_motion");
  click("axis-y");
  for (int i = 0; i < 5; ++i) {
    ASSERT_TRUE(wait_for([this] { return find<QPushButton>("arrive")->isEnabled(); }));
    click("arrive");
    for (int side = 0; side < 2; ++side) {
      ASSERT_TRUE(wait_for([this] { return find<QPushButton>("read-here")->isEnabled(); }));
      click("read-here");
    }
  }
  shoot("lost-motion");
  click("lost-positioning");
  type("targets", "7");
  type("runs", "5");
  click("start-test");
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("read-deviation")->isEnabled(); }));
  click("read-all");
  ASSERT_TRUE(wait_for([this] { return text("positioning-hint").contains("The test is done"); }, 60000));
  shoot("positioning");
  sheet("steps_per_unit");
  click("apply");
  jog_to(Axis::x, 182);
  jog_to(Axis::y, 122);
  jog_to(Axis::z, -90.0);
  session_->set_work_zero({Axis::x, Axis::y, Axis::z});
  sheet("squareness");
  type("rail-spacing", "860");
  type("square-tolerance", "0.5");
  find<QComboBox>("square-instrument")->setCurrentText("ruler");
  emit find<QComboBox>("square-instrument")->textActivated("ruler");
  click("mark-points");
  ASSERT_TRUE(wait_for([this] { return text("square-hint").contains("The marks are down"); }, 60000));
  while (find<QPushButton>("read-between")->isEnabled()) {
    click("read-between");
    QTest::qWait(10);
  }
  shoot("squareness");
  load("dial-blank.ngc");
  sheet("program");
  shoot("stock-and-program");
  jog_to(Axis::z, -85);
  sheet("work_zero");
  shoot("work-zero");
  sheet("cut");
  session_->connection()->set_speed(0);
  click("start");
  ASSERT_TRUE(wait_for([this] { return session_->run().line_in_hand() > 128; }));
  session_->hold();
  ASSERT_TRUE(wait_for([this] { return session_->status().state == MachineState::held; }));
  shoot("cut");
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  shoot("tray");
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  session_->abandon_cut();
  ASSERT_TRUE(wait_ready());
  sheet("standing");
  shoot("where-it-stands");
  set_night(true);
  QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
  QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
  sheet("steps_per_unit");
  shoot("night");
  set_night(false);
}

TEST_F(DISABLED_Pictures, OfTravelHomingAndBed) {
  window_->resize(1280, 800);
  home();
  sheet("limits");
  type("overtravel", "3");
  type("travel", "812.5");
  shoot("travel-and-limits");
  sheet("homing");
  click("homing-begin");
  ASSERT_TRUE(wait_for([this] { return !session_->book().homing_worksheet.readings_mm[0].empty(); }, 60000));
  shoot("homing-repeat");
  sheet("bed_spindle");
  for (int i = 0; i < 8; ++i) click("sweep-read");
  shoot("bed-and-spindle");
  open_with([](nlohmann::json& j) {
    j.erase("stock");
    j["bed"] = {{"z_mm", -132.0}, {"tilt_mrad", {0.4, -0.3}}, {"waviness_mm", 0.3}};
  });
  window_->resize(1280, 800);
  home();
  jog_to(Axis::z, -90);
  sheet("bed_spindle");
  click("bed-map");
  type("map-columns", "7");
  type("map-rows", "5");
  click("map-begin");
  auto& bench = *session_->bench();
  bench.lay_plate(PlatePlace::at_cutter);
  QTest::qWait(60);
  bench.lay_plate(PlatePlace::on_bed);
  QTest::qWait(60);
  click("map-begin");
  ASSERT_TRUE(wait_for([this] { return session_->book().bed_worksheet.map.size() == 35; }, 60000));
  ASSERT_TRUE(wait_ready());
  shoot("bed-map");
}

TEST_F(DISABLED_Pictures, OfReferences) {
  window_->resize(1280, 800);
  home();
  session_->note_in_book([](Book& b) {
    b.plates = {{"corner plate", 12.07, 9.95, 10.02, {}}};
    b.setter = ToolSetter{790.1, 12.2, 1, {-58.221, -58.224, -58.219}};
    b.tools[0].length_out = 24;
    b.tools[0].flutes = 2;
    b.tools[1].length_out = 31.4;
    b.tools[1].flutes = 2;
    b.tools[1].offset = 7.402;
    b.tools[1].U_offset = 0.004;
    b.tools[1].offset_time = "2026-11-24T10:12:00+00:00";
    b.tools[2].length_out = 22;
    b.tools[2].angle = 60;
    b.tools[2].diameter = 6;
    b.tools[2].tip = 0.4;
  });
  sheet("touch_plate");
  shoot("touch-plate");
  sheet("tool_setter");
  shoot("tool-setter");
  sheet("tools");
  find<QTableWidget>("tools-table")->setCurrentCell(2, 1);
  shoot("tools");
}

}  // namespace
}  // namespace ypsi::app
