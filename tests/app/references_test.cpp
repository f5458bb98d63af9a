// Touch plate, tool setter, tools and the touches of work zero, in the real window on the simulated machine.
#include <QTableWidget>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/widgets/table_menu.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class ReferencesWindow : public WindowTest {
 protected:
  /// The tip's place against the stock's corner, by truth.
  double from_corner(Axis axis) {
    const auto& stock = machine().scenario().stock;
    return machine().plant().tip()[index(axis)] - (axis == Axis::x ? stock.x : stock.y);
  }
};

TEST_F(ReferencesWindow, ThePlatesThicknessIsCheckedWithItAndWithoutIt) {
  home();
  sheet("touch_plate");
  type("plate-thickness", "12,5");
  EXPECT_EQ(session_->editor().book().plates.front().thickness, 12.5);
  type("plate-thickness", "0");
  EXPECT_TRUE(text("notice-text").contains("cannot be"));
  EXPECT_EQ(session_->editor().book().plates.front().thickness, 12.5);
  jog_to(Axis::x, 250);
  jog_to(Axis::y, 200);
  jog_to(Axis::z, -72);
  click("touch-with");
  EXPECT_TRUE(text("notice-text").contains("not seen to work")) << text("notice-text").toStdString();
  see_the_circuit("circuit-check");
  EXPECT_TRUE(text("plate-hint").contains("The circuit works")) << text("plate-hint").toStdString();
  session_->machine().bench()->lay_plate(PlatePlace::on_stock);
  click("touch-with");
  ASSERT_TRUE(wait_for([this] { return text("plate-verdict").contains("With the plate"); }))
      << text("notice-text").toStdString();
  ASSERT_TRUE(wait_ready());
  session_->machine().bench()->lay_plate(PlatePlace::away);
  jog_to(Axis::z, -85);
  click("touch-without");
  ASSERT_TRUE(wait_for([this] { return text("plate-lead").contains("measures"); }))
      << text("notice-text").toStdString();
  EXPECT_TRUE(text("plate-verdict").contains("The book has 12.500")) << text("plate-verdict").toStdString();
  click("keep");
  // 12.07 mm by the truth; the controller's millimetre of Z is 800 of the screw's 800.6 steps.
  EXPECT_NEAR(session_->editor().book().plates.front().thickness, 12.07 * 800.6 / 800, 0.004);
  EXPECT_EQ(last().sheet, "touch_plate");
  EXPECT_NEAR(last().as_found.at("plate.thickness_mm").get<double>(), 12.5, 1e-12);
}

TEST_F(ReferencesWindow, ATouchThatFindsNothingStopsAndKeepsTheBook) {
  home();
  sheet("touch_plate");
  jog_to(Axis::z, -20);
  see_the_circuit("circuit-check");
  const std::size_t entries = session_->editor().book().history.size();
  click("touch-with");
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("touched nothing"); }))
      << text("notice-text").toStdString();
  EXPECT_NEAR(session_->machine().status().position.z, -30, 0.02) << "no further than the search";
  EXPECT_EQ(session_->editor().book().history.size(), entries);
  EXPECT_TRUE(text("plate-hint").contains("First the circuit")) << "the circuit is to be seen again";
}

TEST_F(ReferencesWindow, TheSetterIsPlacedMeasuredAndTellsEveryToolsLength) {
  home();
  sheet("tool_setter");
  EXPECT_FALSE(find<QPushButton>("measure-reference")->isEnabled()) << "it has no place yet";
  // The owner brings the tool over the setter's middle by eye.
  const auto& truth = *machine().scenario().setter;
  jog_to(Axis::x, session_->machine().status().position.x + (truth.x - machine().plant().tip()[0]) * 80.37 / 80);
  jog_to(Axis::y, session_->machine().status().position.y + (truth.y - machine().plant().tip()[1]) * 79.82 / 80);
  click("take-setter");
  ASSERT_TRUE(session_->editor().book().setter);
  see_the_circuit("setter-circuit");
  click("measure-reference");
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("keep")->isEnabled(); }, 60000))
      << text("notice-text").toStdString();
  ASSERT_TRUE(wait_ready());
  click("keep");
  EXPECT_EQ(session_->editor().book().setter->reference.size(), 5u);
  EXPECT_EQ(session_->editor().book().setter->reference_tool, 1);
  EXPECT_LT(last().result.at("s_mm").get<double>(), 0.02);

  sheet("tools");
  auto* table = find<QTableWidget>("tools-table");
  ASSERT_GE(table->rowCount(), 3);
  table->setCurrentCell(1, 1);
  click("tool-put-in");
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().tool == 2; }));
  see_the_circuit("tools-circuit");
  click("tool-measure");
  ASSERT_TRUE(wait_for([this] { return session_->editor().book().tool(2)->offset.has_value(); }, 60000))
      << text("notice-text").toStdString();
  // Stickouts 31.4 and 24.0; Z counts 800 for 800.6.
  const Tool* tool = session_->editor().book().tool(2);
  EXPECT_NEAR(*tool->offset, (31.4 - 24.0) * 800.6 / 800, *tool->U_offset + 0.002);
  EXPECT_NEAR(session_->machine().link()->setting("tool.2.offset_mm").value(), *tool->offset, 1e-12);
  EXPECT_TRUE(text("tool-spread").contains("against T1")) << text("tool-spread").toStdString();
  EXPECT_EQ(last().subject, "T2");
  EXPECT_EQ(standing_of(session_->editor().book(), "tools").standing, Standing::current);

  // The setter is moved: what was told against it is out of date.
  ASSERT_TRUE(wait_ready());
  sheet("tool_setter");
  type("setter-x", "700");
  EXPECT_TRUE(session_->editor().book().setter->reference.empty());
  EXPECT_EQ(standing_of(session_->editor().book(), "tools").standing, Standing::out_of_date);
}

TEST_F(ReferencesWindow, ToolsAreTypedAndRefusedByTheCell) {
  sheet("tools");
  auto* table = find<QTableWidget>("tools-table");
  const int rows = table->rowCount();
  click("tool-add");
  ASSERT_EQ(table->rowCount(), rows + 1);
  table->item(rows, 3)->setText("6,35");
  EXPECT_TRUE(told());
  EXPECT_EQ(session_->editor().book().tools.back().diameter, 6.35);
  table->item(rows, 4)->setText("two");
  EXPECT_TRUE(told());
  EXPECT_TRUE(text("notice-text").contains("left as it is"));
  EXPECT_EQ(session_->editor().book().tools.back().angle, 0);
  table->item(rows, 0)->setText("1");
  EXPECT_TRUE(told());
  EXPECT_TRUE(text("notice-text").contains("already"));
  undo();
  EXPECT_EQ(session_->editor().book().tools.back().diameter, 0);
  click("tool-remove");
  EXPECT_EQ(table->rowCount(), rows);
}

TEST_F(ReferencesWindow, TheCornerPlateSetsAllThreeZeros) {
  home();
  session_->editor().note_in_book([](Book& b) {
    b.plates = {{"corner plate", 12.07, 9.95, 10.02, {}}};
    for (auto& t : b.tools)
      if (t.number == 1) t.diameter = 2.96;
  });
  sheet("work_zero");
  // Over the plate near the corner, by eye.
  jog_to(Axis::x, session_->machine().status().position.x + 8 - from_corner(Axis::x));
  jog_to(Axis::y, session_->machine().status().position.y + 8 - from_corner(Axis::y));
  jog_to(Axis::z, -72);
  see_the_circuit("touch-corner");
  session_->machine().bench()->lay_plate(PlatePlace::on_corner);
  click("touch-corner");
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("front left"); }, 60000))
      << text("notice-text").toStdString();
  ASSERT_TRUE(wait_ready());
  const WorkZero zero = session_->machine().status().work_zero;
  const auto at = session_->machine().status().position;
  // Over some 20 mm the axes' scales and the slack of 0.05 and 0.11 mm stay within a tenth.
  EXPECT_NEAR(at.x - from_corner(Axis::x), zero.x, 0.12);
  EXPECT_NEAR(at.y - from_corner(Axis::y), zero.y, 0.18);
  EXPECT_NEAR(at.z + machine().plant().stock_top(0, 0) - machine().plant().tip()[2], zero.z, 0.04);
  EXPECT_EQ(last().sheet, "work_zero");
  EXPECT_EQ(last().subject, "XYZ");
  EXPECT_EQ(last().readings.size(), 9u);

  // After a tool change Z alone: another tool, the flat way.
  ASSERT_TRUE(session_->machine().bench()->put_tool(2));
  jog_to(Axis::z, -64);
  session_->machine().bench()->lay_plate(PlatePlace::on_stock);
  click("touch-top");
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("Z zero is the top"); }, 60000))
      << text("notice-text").toStdString();
  EXPECT_EQ(last().subject, "Z");
  EXPECT_EQ(session_->machine().status().work_zero.x, zero.x);
  EXPECT_NEAR(session_->machine().status().work_zero.z - zero.z, 31.4 - 24.0, 0.05)
      << "the longer tool's zero is higher";
}

TEST_F(ReferencesWindow, ACornerTouchNeedsAPlateWithWallsAndAKnownTool) {
  home();
  sheet("work_zero");
  const WorkZero zero = session_->machine().status().work_zero;
  session_->editor().note_in_book([](Book& b) { b.plates.clear(); });
  click("touch-corner");
  EXPECT_TRUE(text("notice-text").contains("no touch plate yet"));
  session_->editor().note_in_book([](Book& b) { b.plates = {{"flat", 12, 0, 0, {}}}; });
  see_the_circuit("touch-corner");
  click("touch-corner");
  EXPECT_TRUE(text("notice-text").contains("no walls")) << text("notice-text").toStdString();
  session_->machine().bench()->set_clip(false);
  click("touch-top");
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("touched nothing"); }, 30000))
      << text("notice-text").toStdString();
  EXPECT_EQ(session_->machine().status().work_zero, zero) << "work zero is untouched";
}

TEST_F(ReferencesWindow, TheMiddleBetweenEdgesBecomesWorkZero) {
  open_with([](nlohmann::json& s) {
    for (const char* axis : {"X", "Y"}) {
      s["axes"][axis]["true_steps_per_mm"] = 80.0;
      s["axes"][axis]["lost_motion_mm"] = 0.0;
    }
    s["skew_mrad"] = 0.0;
  });
  home();
  sheet("work_zero");
  click("zero-part-centre");
  for (const char* chip : {"zero-part-zero", "zero-part-turned"}) EXPECT_FALSE(find<QPushButton>(chip)->isChecked());
  EXPECT_TRUE(find<QPushButton>("zero-part-centre")->isChecked());
  EXPECT_TRUE(find<QPushButton>("centre-edges")->isChecked());
  see_the_circuit("touch-right");
  const auto beside = [&](double u, double v) {
    jog_to(Axis::z, -60);
    jog_to(Axis::x, session_->machine().status().position.x + u - from_corner(Axis::x));
    jog_to(Axis::y, session_->machine().status().position.y + v - from_corner(Axis::y));
    jog_to(Axis::z, -95);
  };
  const double before_z = session_->machine().status().work_zero.z;
  EXPECT_FALSE(find<QPushButton>("set-zero-centre")->isEnabled());
  const struct {
    double u, v;
    const char* button;
  } touches[] = {{-8, 100, "touch-right"}, {328, 100, "touch-left"}, {100, -8, "touch-away"}, {100, 328, "touch-near"}};
  for (const auto& t : touches) {
    beside(t.u, t.v);
    const std::size_t at = session_->machine().status().probe.count;
    click(t.button);
    ASSERT_TRUE(wait_for([&] { return session_->machine().status().probe.count >= at + 4; }, 60000))
        << text("notice-text").toStdString();
    ASSERT_TRUE(wait_ready());
    EXPECT_TRUE(told());
  }
  EXPECT_TRUE(text("centre-result").contains("X ")) << text("centre-result").toStdString();
  click("set-zero-centre");
  const WorkZero zero = session_->machine().status().work_zero;
  const auto at = session_->machine().status().position;
  EXPECT_NEAR(zero.x, at.x + 160 - from_corner(Axis::x), 0.02);
  EXPECT_NEAR(zero.y, at.y + 160 - from_corner(Axis::y), 0.02);
  EXPECT_EQ(zero.z, before_z) << "Z is as it was";
  EXPECT_EQ(last().subject, "XY");

  // Four touches as of a round boss: no circle through points of a square's sides can have its diameter twice.
  click("centre-boss");
  EXPECT_TRUE(text("centre-result").contains("three places"));
  EXPECT_FALSE(find<QPushButton>("set-zero-centre")->isEnabled()) << "begun again";
}

TEST_F(ReferencesWindow, ATurnedStockIsToldAndTheProgramTurnsWithIt) {
  open_with([](nlohmann::json& s) {
    s["stock"]["rotation_mrad"] = 20.0;
    s["axes"]["X"]["true_steps_per_mm"] = 80.0;
    s["axes"]["Y"]["true_steps_per_mm"] = 80.0;
  });
  home();
  load("dial-blank.ngc");
  sheet("work_zero");
  click("zero-part-turned");
  see_the_circuit("touch-edge");
  for (const double along : {30.0, 280.0}) {
    jog_to(Axis::z, -60);
    jog_to(Axis::y, session_->machine().status().position.y + along * 0.02 - 9 - from_corner(Axis::y));
    jog_to(Axis::x, session_->machine().status().position.x + along - from_corner(Axis::x));
    jog_to(Axis::z, -95);  // four millimetres below the top
    click("touch-edge");
    ASSERT_TRUE(
        wait_for([&] { return text("turned-result").contains(along < 100 ? "second place" : "is turned by"); }, 60000))
        << text("notice-text").toStdString();
    ASSERT_TRUE(wait_ready());
  }
  EXPECT_TRUE(text("turned-words").contains("runs off by")) << text("turned-words").toStdString();
  click("keep-turn");
  EXPECT_NEAR(last().result.at("rotation_mrad").get<double>(), 20, 0.3);
  const Extents straight = session_->job().program()->program.cut;
  click("turn-program");
  ASSERT_TRUE(wait_for([this] { return session_->job().program()->path.endsWith("-turned.ngc"); }));
  EXPECT_NE(session_->job().program()->program.cut.high.x, straight.high.x);
  EXPECT_TRUE(text("notice-text").contains("turned by 1.1")) << text("notice-text").toStdString();
  click("edge-again");
  EXPECT_FALSE(find<QPushButton>("turn-program")->isEnabled());
}

TEST_F(ReferencesWindow, ATableOfToolsIsReadWholeOrNotAtAll) {
  sheet("tools");
  const std::size_t before = session_->editor().book().tools.size();
  session_->editor().note_in_book([](Book& b) { b.tools[0].offset = 0.5; });
  write("bad.csv", "number,name,kind,diameter\n8,eight,flat,3\n9,nine,flat,wide\n");
  find<TableMenu>("table-menu")->read_file(folder_.filePath("bad.csv"));
  EXPECT_TRUE(text("notice-text").contains("Line 3")) << text("notice-text").toStdString();
  EXPECT_EQ(session_->editor().book().tools.size(), before);
  write("good.csv", "1;three;flat;3,1\n8;eight;ball;6\n");
  find<TableMenu>("table-menu")->read_file(folder_.filePath("good.csv"));
  EXPECT_EQ(session_->editor().book().tools.size(), before + 1);
  EXPECT_EQ(session_->editor().book().tool(1)->diameter, 3.1);
  EXPECT_EQ(session_->editor().book().tool(1)->offset, 0.5) << "what was measured here stays";
  EXPECT_EQ(session_->editor().book().tool(8)->kind, "ball");
  undo();
  EXPECT_EQ(session_->editor().book().tools.size(), before);
}

}  // namespace
}  // namespace ypsi::app
