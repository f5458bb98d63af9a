// Pictures of the main views from the demo data; scripts/screenshots keeps them for the documentation.
#include <QComboBox>
#include <QTableWidget>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/sheets/certificate_sheet.h"
#include "app/theme/large.h"
#include "app/theme/theme.h"
#include "core/book/worksheets/bed.h"
#include "core/book/worksheets/cut.h"
#include "core/book/worksheets/homing.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class Pictures : public WindowTest {
 protected:
};

TEST_F(Pictures, OfTheDemo) {
  window_->resize(1280, 800);
  sheet("build");
  click("build-x");
  shoot("build");
  sheet("inputs");
  click("inputs-begin");
  for (const Axis a : {Axis::x, Axis::y}) {
    machine().bench().hold_switch(a, true);
    EXPECT_TRUE(told(6));
    if (a == Axis::y) break;
    machine().bench().hold_switch(a, false);
    EXPECT_TRUE(told(6));
  }
  shoot("extra-inputs");
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
  shoot("extra-directions");
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
  set_large(1.5);
  window_->resize(QSize(1920, 1080) / large());
  QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier);
  shoot("extra-large-wide");
  set_large(1.25);
  window_->resize(QSize(1280, 800) / large());
  shoot("large");
  QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier);
  shoot("extra-large");
  QTest::keyClick(window_.get(), Qt::Key_F11);
  shoot("extra-positions");
  QTest::keyClick(window_.get(), Qt::Key_F11);
  set_large(1);
  window_->resize(1280, 800);
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
  click("lost-turn");
  type("turn", "5");
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("turn-begin")->isEnabled(); }));
  click("turn-begin");
  for (int i = 0; i < 60 && !text("turn-hint").contains("Jog"); ++i) {
    ASSERT_TRUE(
        wait_for([this] { return find<QPushButton>("turn-read")->isEnabled() || text("turn-hint").contains("Jog"); }));
    if (find<QPushButton>("turn-read")->isEnabled()) click("turn-read");
  }
  shoot("extra-turn");
  click("turn-clear");
  click("lost-positioning");
  type("targets", "7");
  type("runs", "5");
  click("start-test");
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("read-deviation")->isEnabled(); }));
  click("read-all");
  ASSERT_TRUE(wait_for([this] { return text("positioning-hint").contains("The test is done"); }, 60000));
  shoot("extra-positioning");
  sheet("steps_per_unit");
  click("apply");
  home();
  jog_to(Axis::x, 182);
  jog_to(Axis::y, 122);
  jog_to(Axis::z, -90.0);
  session_->machine().set_work_zero({Axis::x, Axis::y, Axis::z});
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
  shoot("extra-stock-and-program");
  jog_to(Axis::z, -85);
  sheet("work_zero");
  shoot("work-zero");
  sheet("cut");
  session_->machine().connection()->set_speed(0);
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().run().line_in_hand() > 128; }));
  session_->machine().hold();
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::held; }));
  shoot("cut");
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  shoot("extra-tray");
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  session_->job().abandon_cut();
  ASSERT_TRUE(wait_ready());
  sheet("standing");
  shoot("where-it-stands");
  set_night(true);
  QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
  QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
  sheet("steps_per_unit");
  shoot("extra-night");
  set_night(false);
}

TEST_F(Pictures, OfTravelHomingAndBed) {
  window_->resize(1280, 800);
  home();
  sheet("limits");
  type("overtravel", "3");
  type("travel", "812.5");
  shoot("travel-and-limits");
  sheet("homing");
  click("homing-begin");
  ASSERT_TRUE(wait_for(
      [this] { return !session_->editor().book().worksheets[homing_worksheet].readings_mm[0].empty(); }, 60000));
  shoot("extra-homing-repeat");
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
  auto& bench = *session_->machine().bench();
  bench.lay_plate(PlatePlace::at_cutter);
  EXPECT_TRUE(told());
  bench.lay_plate(PlatePlace::on_bed);
  EXPECT_TRUE(told());
  click("map-begin");
  ASSERT_TRUE(wait_for([this] { return session_->editor().book().worksheets[bed_worksheet].map.size() == 35; }, 60000));
  ASSERT_TRUE(wait_ready());
  shoot("extra-bed-map");
  click("bed-travel");
  click("blade-read");
  click("blade-read");
  shoot("extra-z-travel");
}

TEST_F(Pictures, OfReferences) {
  window_->resize(1280, 800);
  home();
  session_->editor().note_in_book([](Book& b) {
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
  shoot("extra-touch-plate");
  sheet("tool_setter");
  shoot("extra-tool-setter");
  sheet("tools");
  find<QTableWidget>("tools-table")->setCurrentCell(2, 1);
  shoot("extra-tools");
}

TEST_F(Pictures, OfAMachineThatIsWorkedByHand) {
  window_->resize(1280, 800);
  session_->editor().note_in_book([](Book& b) {
    b.machine.setting_names = {{"axis.x.steps_per_mm", "motor tuning, axis X, steps"}};
  });
  ASSERT_TRUE(session_->machine().work_by_hand());
  EXPECT_TRUE(told());
  shoot("extra-look-up");
  click("hand-done");
  session_->machine().home(true);
  EXPECT_TRUE(told());
  click("hand-done");
  sheet("steps_per_unit");
  type("told", "700");
  click("move-and-mark");
  ASSERT_TRUE(told());
  for (int cards = 0; cards < 4 && !text("hint").contains("Mark where"); ++cards) {
    click("hand-done");
    ASSERT_TRUE(told(4));
  }
  click("move-and-mark");
  ASSERT_TRUE(told());
  shoot("by-hand");
}

TEST_F(Pictures, OfTheJob) {
  window_->resize(1280, 800);
  zero_over_the_stock();
  session_->editor().note_in_book([](Book& b) {
    b.job.stock_size = {320, 320, 18};
    b.job.checklist = {"held down, all four corners", "hose clear of the way", "clip off, key out"};
    const double x = *b.job.zero(Axis::x), y = *b.job.zero(Axis::y);
    b.job.clamps = {{"left clamp", x - 24, y + 160, 40, 40, 30}, {"front clamp", x + 150, y + 20, 40, 60, 30}};
    b.tools[0].diameter = 3;
    b.machine.spindle.nut_diameter = 28;
  });
  load("dial-blank.ngc");
  sheet("program");
  shoot("extra-stock-and-program");
  sheet("ready_check");
  find<QTableWidget>("findings")->setCurrentCell(0, 2);
  shoot("extra-ready-check");
  session_->editor().note_in_book([](Book& b) {
    b.job.clamps.pop_back();
    b.setter = ToolSetter{700, 40, 1, {-60}};
    b.job.checklist.clear();
  });
  write("dial-two-tools.ngc",
        "G21 G90\nT1 M6\nS12000 M3\nG0 Z20\nG0 X20 Y20\nG1 Z-1 F300\nG1 X290 F1500\nG0 Z20\nT2 M6\nS12000 M3\nG0 "
        "Z20\nG0 X20 Y60\nG1 Z-1 F300\nG1 X290 Y280 F1500\nG0 Z20\nM5\nM30\n");
  load("dial-two-tools.ngc");
  sheet("cut");
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().tool_awaited() == 2; }, 60000));
  ASSERT_TRUE(wait_ready());
  shoot("extra-tool-change");
  session_->job().abandon_cut();
  write("dial-two-speeds.ngc",
        "G21 G90\nT1 M6\nS16000 M3\nG0 Z20\nG0 X20 Y20\nG1 Z-1 F300\nG1 X290 F1500\nG0 Z20\nS12000 M3\nG0 X20 "
        "Y60\nG1 Z-1 F300\nG1 X290 Y280 F1500\nG0 Z20\nM5\nM30\n");
  load("dial-two-speeds.ngc");
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().awaited().has_value(); }, 60000));
  ASSERT_TRUE(wait_ready());
  shoot("extra-dial");
}

TEST_F(Pictures, OfWorkZeroByHeights) {
  window_->resize(1280, 800);
  open_with([](nlohmann::json& s) { s["stock"]["conductive"] = false; });
  home();
  session_->editor().note_in_book([](Book& b) {
    b.plates = {{"corner plate", 12.07, 9.95, 10.02, {}}};
    b.job.stock_size = {320, 320, 18};
    b.job.frames[0].name = "dial blanks";
    b.places = {{"spoilboard corner", {20, 15, -90}, false, {}}, {"left vice", {310, 260, -80}, false, {}}};
    b.machine.spindle.nut_diameter = 28;
    b.rack = {120, 30, 420, 30, 6, -70, -5, 60};
    for (std::size_t i = 0; i < b.tools.size(); ++i) b.tools[i].slot = static_cast<int>(i + 1);
  });
  sheet("work_zero");
  click("zero-part-height");
  auto& bench = *session_->machine().bench();
  see_the_circuit("touch-stock-top");
  jog_to(Axis::x, 250);
  jog_to(Axis::y, 200);
  const auto touch = [&](const char* button, double z, PlatePlace place) {
    jog_to(Axis::z, z);
    bench.lay_plate(place);
    const std::size_t at = session_->machine().status().probe.count;
    click(button);
    ASSERT_TRUE(wait_for([&] { return session_->machine().status().probe.count >= at + 4; }, 60000));
    ASSERT_TRUE(wait_ready());
    EXPECT_TRUE(told());
    bench.lay_plate(PlatePlace::away);
    jog_to(Axis::z, -50);
  };
  touch("touch-stock-top", -72, PlatePlace::on_stock);
  jog_to(Axis::x, 140);
  touch("touch-bed", -90, PlatePlace::on_bed);
  click("zero-on-bed");
  click("mark-spot");
  shoot("extra-work-zero-height");
  click("zero-part-places");
  find<QTableWidget>("places-table")->setCurrentCell(1, 0);
  shoot("extra-work-zero-places");
  click("zero-part-zero");
  session_->machine().link()->tool_changed(2);
  EXPECT_TRUE(told(6));
  shoot("extra-work-zero-changed");
  sheet("tools");
  click("tools-part-rack");
  shoot("extra-rack");
}

TEST_F(Pictures, OfTheFirstCutAndTheCertificate) {
  window_->resize(1280, 800);
  zero_over_the_stock();
  session_->machine().set_work_zero_at({{Axis::z, -90.0}}, RecordJson::from_text("[]"), "");
  session_->editor().note_in_book([](Book& b) {
    b.job.stock_size = {150, 210, 18};
    b.job.clamps.clear();
    for (Tool& t : b.tools)
      if (t.number == 1) t.diameter = 3;
  });
  sheet("measure_cut");
  shoot("extra-measure-empty");
  find<QComboBox>("coupon-kind")->setCurrentIndex(1);
  click("make-coupon");
  ASSERT_TRUE(wait_for(
      [this] { return session_->job().program() && !session_->job().loader().busy() && session_->job().checked(); }));
  answer_for_all();
  session_->job().start_cut(true);
  answer_for_the_dial();
  ASSERT_TRUE(wait_for(
      [this] { return session_->job().run().state() == RunState::finished && !session_->job().in_job(); }, 120000));
  sheet("measure_cut");
  for (std::size_t i = 0; i < session_->editor().book().worksheets[cut_worksheet].sizes.size(); ++i) click("read-size");
  find<QWidget>("size-1")->setFocus();
  shoot("measure-the-cut");
  click("keep");
  sheet("certificate");
  shoot("certificate");
  window_->findChild<CertificateSheet*>()->write(qEnvironmentVariable("YPSI_PICTURES", folder_.path()) +
                                                 "/extra-certificate.pdf");
  click("certificate-page-2");
  window_->resize(1024, 700);
  shoot("extra-certificate-2");
  sheet("measure_cut");
  find<QComboBox>("coupon-kind")->setCurrentIndex(4);
  click("make-coupon");
  EXPECT_TRUE(told(12));
  shoot("extra-measure-circles");
}

}  // namespace
}  // namespace ypsi::app
