// Bed and spindle in the real window: tram, an edge, the map, and a surfacing program that covers its area.
#include <QTableWidget>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "core/book/worksheets/bed.h"
#include "core/program/interpreter.h"
#include "core/program/surfacing.h"
#include "core/tasks/bed_spindle.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class BedWindow : public WindowTest {
 protected:
  const BedWorksheet& worksheet() { return session_->editor().book().worksheets[bed_worksheet]; }
};

TEST_F(BedWindow, TheSweepFindsTheLeanAndTheShimsMakeWhatStandsOnItOutOfDate) {
  sheet("bed_spindle");
  for (int i = 0; i < 8; ++i) click("sweep-read");
  EXPECT_FALSE(find<QPushButton>("sweep-read")->isEnabled());
  click("keep");
  // The demo's spindle: 0.8 and -0.3 mrad; an indicator of 1 µm with s 2 µm on a radius of 100 mm.
  EXPECT_NEAR(last().result.at("tilt_x_mrad").get<double>(), 0.8, 0.04);
  EXPECT_NEAR(last().result.at("tilt_y_mrad").get<double>(), -0.3, 0.04);
  const double U = last().result.at("U_tilt_x_mrad").get<double>();
  EXPECT_NEAR(last().result.at("tilt_x_mrad").get<double>(), 0.8, U);
  EXPECT_GT(U, 0.01) << "two readings across are told to some micrometres, 200 mm apart";
  EXPECT_LT(U, 0.08);
  EXPECT_NEAR(last().result.at("shim_x_mm").get<double>(), 0.8e-3 * 80, 0.004);
  EXPECT_TRUE(worksheet().sweep.empty());
  EXPECT_EQ(standing_of(session_->editor().book(), "bed_spindle").standing, Standing::current);
  // Typed on the circle, in thousandths of an inch.
  session_->editor().note_in_book([](Book& b) { b.length_unit = "in"; });
  for (const auto& [angle, reading] : {std::pair{"sweep-0", "0.001"}, {"sweep-90", "0"}, {"sweep-180", "-0.001"}})
    type(angle, reading);
  EXPECT_EQ(worksheet().sweep.size(), 3u);
  EXPECT_NEAR(worksheet().sweep[0].reading_mm, 0.0254, 1e-12);
  EXPECT_TRUE(text("bed-spread").contains("X +0.25")) << text("bed-spread").toStdString();
  click("bed-second");
  EXPECT_EQ(standing_of(session_->editor().book(), "bed_spindle").standing, Standing::out_of_date);
  type("sweep-radius", "-3");
  EXPECT_TRUE(text("notice-text").contains("above zero"));
  EXPECT_EQ(worksheet().sweep_radius_mm, 100);
}

TEST_F(BedWindow, ZsTravelIsReadUpASquareThatIsOutItself) {
  open_with([](nlohmann::json& s) {
    s["z_lean_mrad"] = {1.5, -0.7};
    s["bed"]["tilt_mrad"] = {0.4, 0};
    s["bed"]["waviness_mm"] = 0;
  });
  sheet("bed_spindle");
  click("bed-travel");
  EXPECT_FALSE(find<QPushButton>("keep")->isEnabled());
  click("blade-read");
  click("blade-read");
  EXPECT_FALSE(find<QPushButton>("blade-read")->isEnabled());
  EXPECT_TRUE(text("bed-lead").contains("+X")) << text("bed-lead").toStdString();
  EXPECT_TRUE(text("bed-text").contains("taken for level"));
  const auto found = [this](const char* what) { return last().result.at(what).get<double>(); };
  click("keep");
  EXPECT_NEAR(found("lean_mrad"), 1.5 + 0.4, found("U_lean_mrad")) << "against the bed, which rises towards +X";
  EXPECT_LT(found("U_lean_mrad"), 0.1);
  EXPECT_FALSE(last().result.contains("bed_slope_mrad"));
  EXPECT_FALSE(worksheet().blade[0].turned_mm);
  EXPECT_EQ(standing_of(session_->editor().book(), "bed_spindle").standing, Standing::never_done)
      << "the spindle itself was not looked at";
  // With its map the bed's slope goes out, and what the map leaves open comes in.
  session_->editor().note_in_book([](Book& b) {
    Entry map;
    map.time = "2026-04-09T10:00";
    map.sheet = bed_spindle_id;
    map.subject = map_subject;
    map.result = {
        {"slope_x_mm_per_m", 0.4}, {"slope_y_mm_per_m", 0.0}, {"u_slope_x_mm_per_m", 0.1}, {"u_slope_y_mm_per_m", 0.1}};
    b.history.push_back(map);
  });
  click("blade-read");
  click("blade-read");
  click("keep");
  EXPECT_NEAR(found("lean_mrad"), 1.5, found("U_lean_mrad"));
  EXPECT_GT(found("U_lean_mrad"), 1.96 * 0.1);
  EXPECT_NEAR(found("bed_slope_mrad"), 0.4, 1e-9);
  // Along Y it leans the other way, by hand and with the readings of a turned square: (-0.05 - 0.09)/2 over 100.
  click("blade-along-y");
  type("blade-length", "0");
  EXPECT_TRUE(text("notice-text").contains("above zero"));
  type("blade-first", "-0.05");
  type("blade-turned", "-0.09");
  EXPECT_TRUE(text("bed-lead").contains("−Y")) << text("bed-lead").toStdString();
  EXPECT_TRUE(text("bed-figure").startsWith("0.70")) << text("bed-figure").toStdString();
  EXPECT_TRUE(text("bed-spread").contains("-0.20") || text("bed-spread").contains("−0.20"))
      << text("bed-spread").toStdString();
  click("keep");
  EXPECT_EQ(last().subject, "Z along Y");
}

TEST_F(BedWindow, AnEdgeSaysHowFarToTapItsFarEnd) {
  home();
  sheet("bed_spindle");
  click("bed-edge");
  click("edge-take");
  type("edge-reading", "0,00");
  EXPECT_NEAR(worksheet().edge.at(0).position_mm, session_->machine().status().position.x, 1e-9);
  type("edge-position", "205");
  type("edge-reading", "0.10");
  type("edge-position", "405");
  type("edge-reading", "0.20");
  EXPECT_TRUE(text("bed-verdict").contains("0.200 mm towards the front")) << text("bed-verdict").toStdString();
  auto* table = find<QTableWidget>("edge-readings");
  EXPECT_EQ(table->rowCount(), 3);
  table->setCurrentCell(1, 0);
  QTest::keyClick(table, Qt::Key_Delete);
  EXPECT_EQ(worksheet().edge.size(), 2u);
  click("keep");
  EXPECT_NEAR(last().result.at("edge_mm_per_m").get<double>(), 0.5, 0.01);
  type("edge-reading", "0.1");
  EXPECT_TRUE(text("notice-text").contains("Say first where"));
}

TEST_F(BedWindow, TheGridIsTouchedOnceTheCircuitWasSeenToWork) {
  open_with([](nlohmann::json& s) {
    s.erase("stock");
    s["bed"] = {{"z_mm", -132.0}, {"tilt_mrad", {0.5, -0.2}}, {"waviness_mm", 0.0}};
  });
  home();
  session_->machine().jog(Axis::z, -90 - session_->machine().status().position.z);
  ASSERT_TRUE(wait_ready());
  sheet("bed_spindle");
  click("bed-map");
  type("map-columns", "4");
  type("map-rows", "3");
  auto& bench = *session_->machine().bench();
  bench.lay_plate(PlatePlace::at_cutter);
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().inputs.probe; }));
  click("map-begin");
  EXPECT_TRUE(text("notice-text").contains("nothing should touch yet")) << "on already: refused";
  bench.lay_plate(PlatePlace::away);
  ASSERT_TRUE(wait_for([this] { return !session_->machine().status().inputs.probe; }));
  click("map-begin");
  ASSERT_TRUE(wait_for([this] { return text("map-hint").contains("Touch the plate to the tool"); }));
  bench.lay_plate(PlatePlace::at_cutter);
  ASSERT_TRUE(wait_for([this] { return text("map-hint").contains("Take it off"); }));
  bench.lay_plate(PlatePlace::on_bed);
  ASSERT_TRUE(wait_for([this] { return text("map-hint").contains("The circuit works"); }));
  click("map-begin");
  ASSERT_TRUE(wait_for([this] { return worksheet().map.size() == 12; }, 60000)) << text("notice-text").toStdString();
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("keep")->isEnabled(); }));
  click("keep");
  EXPECT_NEAR(last().result.at("slope_x_mm_per_m").get<double>(), 0.5, 0.03);
  EXPECT_NEAR(last().result.at("slope_y_mm_per_m").get<double>(), -0.2, 0.03);
  EXPECT_LT(last().result.at("peak_to_valley_mm").get<double>(), 0.02);

  // Without the clip nothing is found, and the machine stands.
  bench.set_clip(false);
  click("map-begin");
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("touched nothing"); }, 60000))
      << text("notice-text").toStdString();
  ASSERT_TRUE(wait_ready());
  EXPECT_TRUE(worksheet().map.size() < 12);
}

TEST_F(BedWindow, SurfacingStaysInsideTheLimitsAndMakesTheBedsZerosOutOfDate) {
  zero_over_the_stock();
  session_->editor().note_in_book([](Book& b) {
    Entry e;
    e.sheet = "touch_plate";
    b.history.push_back(e);
  });
  sheet("bed_spindle");
  click("bed-surfacing");
  EXPECT_TRUE(text("bed-verdict").contains("stays inside the limits")) << text("bed-verdict").toStdString();
  type("area-width", "2000");
  EXPECT_TRUE(text("bed-verdict").contains("would leave the soft limits")) << text("bed-verdict").toStdString();
  EXPECT_FALSE(find<QPushButton>("keep")->isEnabled());
  undo();
  type("surface-stepover", "25");
  EXPECT_TRUE(text("bed-verdict").contains("stepover must be below"));
  undo();
  click("passes-y");
  click("passes-one");
  EXPECT_TRUE(worksheet().along_y && worksheet().one_way);
  EXPECT_FALSE(text("bed-figure").isEmpty()) << "how long it takes";
  for (const auto& [field, value] :
       {std::pair{"area-x", "0"}, {"area-y", "0"}, {"area-width", "120"}, {"area-height", "90"}})
    type(field, value);
  click("keep");
  ASSERT_TRUE(wait_for(
      [this] { return session_->job().program() && session_->job().program()->path.endsWith("surfacing.ngc"); }));
  EXPECT_EQ(window_->current_sheet(), "cut");
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().run().state() == RunState::finished; }, 60000))
      << session_->job().run().why();
  sheet("bed_spindle");
  click("bed-second");
  EXPECT_EQ(standing_of(session_->editor().book(), "touch_plate").standing, Standing::out_of_date);
  EXPECT_EQ(standing_of(session_->editor().book(), "work_zero").standing, Standing::out_of_date);
  undo();
  EXPECT_EQ(worksheet().map.size(), 0u);
}

}  // namespace
}  // namespace ypsi::app
