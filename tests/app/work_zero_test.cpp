// Work zero by top and bed, by numbers and stored places, in several frames and after a tool change, in the real
// window.
#include <QComboBox>
#include <QTableWidget>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "core/book/rack.h"
#include "core/book/worksheets/surface.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class ZeroWindow : public WindowTest {
 protected:
  void touch(const char* button, double x, double y, double z, PlatePlace place) {
    jog_to(Axis::z, -55);
    jog_to(Axis::x, x);
    jog_to(Axis::y, y);
    jog_to(Axis::z, z);
    session_->machine().bench()->lay_plate(place);
    const std::size_t at = session_->machine().status().probe.count;
    click(button);
    ASSERT_TRUE(wait_for([&] { return session_->machine().status().probe.count >= at + 4; }, 60000))
        << text("notice-text").toStdString();
    ASSERT_TRUE(wait_ready());
    EXPECT_TRUE(told());
    session_->machine().bench()->lay_plate(PlatePlace::away);
  }
};

TEST_F(ZeroWindow, TopAndBedAreComparedAndZeroGoesToEither) {
  open_with([](nlohmann::json& s) { s["stock"]["conductive"] = false; });
  home();
  session_->editor().note_in_book([](Book& b) {
    b.plates = {{"plate", 12.07, 0, 0, {}}};
    b.job.stock_size = {320, 320, 20};
  });
  sheet("work_zero");
  click("zero-part-height");
  EXPECT_FALSE(find<QPushButton>("zero-on-top")->isEnabled());
  see_the_circuit("touch-stock-top");
  touch("touch-stock-top", 250, 200, -72, PlatePlace::on_stock);
  EXPECT_TRUE(text("height-words").contains("Touch it too")) << text("height-words").toStdString();
  touch("touch-bed", 150, 200, -90, PlatePlace::on_bed);
  // 18 mm of stock, an uneven bed; the book says 20.
  EXPECT_TRUE(text("height-result").contains("thick where it was touched")) << text("height-result").toStdString();
  EXPECT_TRUE(text("height-words").contains("thinner")) << text("height-words").toStdString();
  click("zero-on-bed");
  const double bed = session_->machine().status().work_zero.z;
  EXPECT_TRUE(session_->editor().book().job.used().on_bed);
  EXPECT_TRUE(text("zero-when").contains("Z zero is the bed"));
  EXPECT_EQ(last().result.at("on_bed").get<bool>(), true);
  click("zero-on-top");
  EXPECT_NEAR(session_->machine().status().work_zero.z - bed, 18, 0.4);
  EXPECT_FALSE(session_->editor().book().job.used().on_bed);
  undo();
  EXPECT_NEAR(session_->machine().status().work_zero.z, bed, 1e-9) << "the controller follows the undo";
  EXPECT_TRUE(session_->editor().book().job.used().on_bed);
}

TEST_F(ZeroWindow, AfterAToolChangeZComesFromLengthsSpotOrATouch) {
  open_with([](nlohmann::json& s) { s["stock"]["conductive"] = false; });
  home();
  session_->editor().note_in_book([](Book& b) {
    b.plates = {{"plate", 12.07, 0, 0, {}}};
    b.setter = ToolSetter{700, 40, 1, {-60}};
    for (auto& t : b.tools) t.offset = t.number == 2 ? std::optional(7.4) : std::nullopt;
  });
  sheet("work_zero");
  click("zero-part-height");
  see_the_circuit("touch-stock-top");
  touch("touch-stock-top", 250, 200, -72, PlatePlace::on_stock);
  click("zero-on-top");
  const WorkZero zero = session_->machine().status().work_zero;
  click("mark-spot");
  ASSERT_TRUE(session_->editor().book().job.zero_spot);
  EXPECT_NEAR(session_->editor().book().job.zero_spot->height_mm, 0, 1e-9);
  EXPECT_FALSE(find<QPushButton>("rezero")->isVisible());

  const auto change_to = [this](int tool) {
    jog_to(Axis::z, -40);
    ASSERT_TRUE(session_->machine().bench()->put_tool(tool));
    session_->machine().link()->tool_changed(tool);
    ASSERT_TRUE(wait_for([&] { return session_->machine().status().tool == tool; }));
    EXPECT_TRUE(told());
  };
  change_to(2);
  EXPECT_TRUE(text("tool-changed").contains("Z zero was set with T1, and T2")) << text("tool-changed").toStdString();
  EXPECT_TRUE(find<QPushButton>("rezero")->text().contains("lengths"));
  click("rezero");
  EXPECT_NEAR(session_->machine().status().work_zero.z - zero.z, 7.4, 1e-9);
  EXPECT_EQ(session_->machine().status().work_zero.x, zero.x);
  EXPECT_EQ(session_->machine().status().work_zero.y, zero.y);
  EXPECT_EQ(last().subject, "Z");
  EXPECT_FALSE(find<QPushButton>("rezero")->isVisible());

  // T3 was never measured: the spot.
  change_to(3);
  EXPECT_TRUE(find<QPushButton>("rezero")->text().contains("spot"));
  click("rezero");
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(session_->machine().status().position.x, session_->editor().book().job.zero_spot->x_mm, 0.02);
  EXPECT_NEAR(session_->machine().status().position.y, session_->editor().book().job.zero_spot->y_mm, 0.02);
  EXPECT_FALSE(find<QPushButton>("zero-from-spot")->isEnabled()) << "not touched yet";
  const double longer = [this] {
    for (const auto& t : machine().scenario().tools)
      if (t.number == 3) return t.stickout - machine().scenario().tools[0].stickout;
    return 0.0;
  }();
  touch("touch-stock-top", 250, 200, -72 + longer, PlatePlace::on_stock);
  click("zero-from-spot");
  EXPECT_NEAR(session_->machine().status().work_zero.z - zero.z, longer, 0.02);
  EXPECT_EQ(session_->editor().book().job.used().z_tool, 3);
}

TEST_F(ZeroWindow, NumbersPlacesAndTheMiddleOfTheBed) {
  home();
  sheet("work_zero");
  click("zero-part-places");
  const std::size_t places = session_->editor().book().places.size();
  const WorkZero before = session_->machine().status().work_zero;
  click("place-middle");
  click("zero-by-number");
  const auto x = session_->machine().room(Axis::x);
  EXPECT_NEAR(session_->machine().status().work_zero.x, (x.low + x.high) / 2, 1e-9);
  EXPECT_EQ(session_->machine().status().work_zero.z, before.z) << "no number, no change";
  type("zero-number-x", "120,5");
  type("zero-number-y", "1/2 in");
  click("place-keep");
  ASSERT_EQ(session_->editor().book().places.size(), places + 1);
  EXPECT_NEAR(session_->editor().book().places.back().at.y, 12.7, 1e-9);
  click("zero-by-number");
  EXPECT_NEAR(session_->machine().status().work_zero.x, 120.5, 1e-9);
  type("zero-number-x", "5000");
  click("zero-by-number");
  EXPECT_TRUE(text("notice-text").contains("outside the machine's travel")) << text("notice-text").toStdString();
  EXPECT_NEAR(session_->machine().status().work_zero.x, 120.5, 1e-9);
  // A stored place brings its numbers back, and the machine goes there lifted.
  auto* table = find<QTableWidget>("places-table");
  table->setCurrentCell(0, 0);
  table->setCurrentCell(static_cast<int>(places), 0);
  click("place-go");
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(session_->machine().status().position.x, 120.5, 0.02);
  EXPECT_GE(session_->machine().status().position.z, session_->editor().book().machine.safe_height - 0.02);
}

/// The stock's top is touched over what the program cuts; zero is set on it, and the program follows it.
TEST_F(ZeroWindow, AProgramFollowsTheSurfaceThatWasTouched) {
  open_with([](nlohmann::json& s) {
    s["stock"]["conductive"] = false;
    s["stock"]["thickness_variation_mm"] = 0.4;
  });
  home();
  sheet("work_zero");
  click("zero-part-height");
  click("height-surface");
  EXPECT_FALSE(find<QPushButton>("surface-begin")->isEnabled());
  EXPECT_TRUE(text("surface-words").contains("Set work zero of X and Y first")) << text("surface-words").toStdString();
  session_->editor().note_in_book([](Book& b) { b.plates = {{"plate", 12.07, 0, 0, {}}}; });
  session_->machine().set_work_zero_at({{Axis::x, 200.0}, {Axis::y, 150.0}, {Axis::z, -60.0}},
                                       RecordJson::from_text("[]"), "");
  write("bow.ngc",
        "G21 G90\nG0 Z5\nG0 X0 Y0\nS9000 M3\nG1 Z-0.5 F300\nG1 X120 Y60 F900\nG1 Y0\nG1 X0\nG0 Z5\nM5\nM2\n");
  load("bow.ngc");
  type("surface-columns", "1");
  EXPECT_TRUE(text("notice-text").contains("between 2 and 50"));
  type("surface-columns", "5");
  type("surface-rows", "3");
  jog_to(Axis::x, 250);
  jog_to(Axis::y, 180);
  jog_to(Axis::z, -73);
  see_the_circuit("surface-begin");
  session_->machine().bench()->lay_plate(PlatePlace::on_stock);
  click("surface-begin");
  const auto& points = [this]() -> const std::vector<MapPoint>& {
    return session_->editor().book().worksheets[surface_worksheet].points;
  };
  ASSERT_TRUE(wait_for([&] { return points().size() == 15; })) << text("notice-text").toStdString();
  ASSERT_TRUE(wait_ready());
  EXPECT_TRUE(told());
  session_->machine().bench()->lay_plate(PlatePlace::away);
  EXPECT_DOUBLE_EQ(points()[0].x_mm, 200) << "over what is cut";
  EXPECT_DOUBLE_EQ(points()[14].x_mm, 320);
  EXPECT_TRUE(text("surface-hint").contains("set Z zero on it")) << text("surface-hint").toStdString();
  EXPECT_FALSE(find<QPushButton>("follow-surface")->isEnabled()) << "zero lies elsewhere";
  click("surface-zero");
  ASSERT_TRUE(wait_for([this] { return find<QPushButton>("follow-surface")->isEnabled(); }));
  EXPECT_NEAR(session_->editor().book().job.zero(Axis::z)->mm, points()[7].z_mm - 12.07, 1e-6) << "its middle";
  shoot("extra-surface");
  // Depths that are counted from the bed follow the same surface, as much higher as the stock is thick.
  const double top = *session_->editor().book().job.zero(Axis::z);
  session_->editor().note_in_book([](Book& b) { b.job.stock_size = {120, 60, 18}; });
  session_->machine().set_work_zero_at({{Axis::z, top - 18}}, RecordJson::from_text("[]"), "", true);
  EXPECT_TRUE(wait_for([this] { return find<QPushButton>("follow-surface")->isEnabled(); }));
  click("follow-surface");
  ASSERT_TRUE(wait_for([this] {
    return session_->job().program() && session_->job().program()->path.endsWith("bow-following.ngc");
  })) << text("notice-text").toStdString();
  const Program& copy = session_->job().program()->program;
  EXPECT_GT(copy.motions.size(), 12u) << "broken where the surface bends";
  EXPECT_NE(copy.motions[3].end.z, -0.5);
  // Abandoned half way, what was touched stays, and the machine stands.
  jog_to(Axis::z, -73);
  session_->machine().bench()->lay_plate(PlatePlace::on_stock);
  click("surface-begin");
  ASSERT_TRUE(wait_for([&] { return !points().empty() && points().size() < 15; }));
  sheet("cut");
  ASSERT_TRUE(wait_ready());
  EXPECT_LT(points().size(), 15u);
  sheet("work_zero");
  EXPECT_FALSE(find<QPushButton>("follow-surface")->isEnabled()) << "not all of it was touched";
}

TEST_F(ZeroWindow, EachFrameHasItsOwnZeroAndName) {
  home();
  sheet("work_zero");
  jog_to(Axis::x, 200);
  click("set-zero-xy");
  const double g54 = session_->machine().status().work_zero.x;
  auto* frames = find<QComboBox>("work-frame");
  frames->setCurrentIndex(1);
  emit frames->activated(1);
  EXPECT_TRUE(told());
  EXPECT_EQ(session_->machine().status().work_frame, 1);
  auto* name = find<QLineEdit>("frame-name");
  name->setText("left vice");
  emit name->editingFinished();
  EXPECT_EQ(frames->itemText(1), "G55 left vice");
  jog_to(Axis::x, 300);
  click("set-zero-xy");
  EXPECT_NEAR(session_->machine().link()->setting("work.g55.x_mm").value(), 300, 0.02);
  EXPECT_NEAR(session_->machine().link()->setting("work.g54.x_mm").value(), g54, 1e-9);
  EXPECT_NEAR(last().as_left.at("work_zero.G55.x").get<double>(), 300, 0.02);
  frames->setCurrentIndex(0);
  emit frames->activated(0);
  EXPECT_TRUE(told());
  EXPECT_NEAR(session_->machine().status().work_zero.x, g54, 1e-9);
}

TEST_F(ZeroWindow, TheCornerThatIsTouchedIsTheChosenOne) {
  open_with([](nlohmann::json& s) {
    s["stock"]["conductive"] = false;
    for (const char* axis : {"X", "Y"}) s["axes"][axis]["true_steps_per_mm"] = 80.0;
  });
  home();
  session_->editor().note_in_book([](Book& b) {
    b.plates = {{"corner plate", 12.07, 9.95, 10.02, {}}};
    for (auto& t : b.tools)
      if (t.number == 1) t.diameter = 2.96;
  });
  sheet("work_zero");
  find<QComboBox>("which-corner")->setCurrentIndex(1);  // front right
  const auto& stock = machine().scenario().stock;
  const auto tip = machine().plant().tip();
  jog_to(Axis::x, session_->machine().status().position.x + stock.x + stock.size[0] - 8 - tip[0]);
  jog_to(Axis::y, session_->machine().status().position.y + stock.y + 8 - tip[1]);
  jog_to(Axis::z, -72);
  see_the_circuit("touch-corner");
  session_->machine().bench()->lay_plate(PlatePlace::on_corner);
  click("touch-corner");
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("front right"); }, 60000))
      << text("notice-text").toStdString();
  ASSERT_TRUE(wait_ready());
  const auto at = session_->machine().status().position, zero = session_->machine().status().work_zero;
  const auto now = machine().plant().tip();
  // The slack of X and Y and the skew over the stock's height stay within a tenth or so.
  EXPECT_NEAR(zero.x, at.x + stock.x + stock.size[0] - now[0], 0.12);
  EXPECT_NEAR(zero.y, at.y + stock.y - now[1], 0.18);
}

TEST_F(ZeroWindow, TheRackIsTakenFromItsEndsAndChecked) {
  home();
  sheet("tools");
  click("tools-part-rack");
  type("rack-slots", "4");
  jog_to(Axis::x, 100);
  jog_to(Axis::y, 20);
  EXPECT_TRUE(told());
  click("rack-first");
  jog_to(Axis::x, 160);
  EXPECT_TRUE(told());
  click("rack-last");
  type("rack-grip", "-60");
  type("rack-clear", "-5");
  EXPECT_NEAR(slot_place(session_->editor().book().rack, 2).x, 120, 0.02);
  EXPECT_TRUE(text("rack-result").contains("4 slots, 20.00 mm apart")) << text("rack-result").toStdString();
  EXPECT_TRUE(text("rack-words").contains("never entered")) << text("rack-words").toStdString();
  session_->editor().note_in_book([](Book& b) {
    b.machine.spindle.nut_diameter = 46;
    b.tools[0].slot = 1;
    b.tools[1].slot = 2;
  });
  EXPECT_TRUE(text("rack-words").contains("Over slot 1 the nut or the boot meets")) << text("rack-words").toStdString();
  type("rack-slots", "2,5");
  EXPECT_TRUE(text("notice-text").contains("whole number"));
  EXPECT_EQ(session_->editor().book().rack.slot_count, 4);
}

}  // namespace
}  // namespace ypsi::app
