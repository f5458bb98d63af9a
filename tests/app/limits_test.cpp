// Travel and limits in the real window: measured to a far switch and by eye, dragged, proved, and what is wrong named
// before anything meets a stop.
#include "core/book/worksheets/limits.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/sheets/limits/travel_drawing.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class LimitsWindow : public WindowTest {
 protected:
  void start(const std::function<void(nlohmann::json&)>& edit = [](nlohmann::json&) {}) {
    open_with(edit);
    home();
    sheet("limits");
  }
  double setting(const char* name) { return session_->machine().link()->setting(name).value(); }
  bool hint(const char* words, int ms = 20000) {
    return wait_for([&] { return text("limits-hint").contains(words); }, ms);
  }
  TravelDrawing* drawing() { return static_cast<TravelDrawing*>(find<QWidget>("travel-drawing")); }
};

TEST_F(LimitsWindow, TheFarSwitchIsPressedSoughtAndTheLimitsAreProved) {
  start([](nlohmann::json& s) { s["axes"]["X"]["far_switch"] = {{"at_mm", 806.0}}; });
  click("search-far");
  ASSERT_TRUE(hint("Press X's far switch"));
  session_->machine().bench()->hold_far_switch(Axis::x, true);
  ASSERT_TRUE(hint("Let it go"));
  session_->machine().bench()->hold_far_switch(Axis::x, false);
  ASSERT_TRUE(wait_for(
      [this] { return session_->editor().book().worksheets[limits_worksheets][0].far_end_mm.has_value(); }, 60000))
      << text("notice-text").toStdString();
  // 80.37 true steps to the 80 that the controller counts.
  EXPECT_NEAR(*session_->editor().book().worksheets[limits_worksheets][0].far_end_mm, 806 * 80.37 / 80, 0.15);
  ASSERT_TRUE(
      wait_for([this] { return session_->machine().standing_ready() && session_->machine().status().all_homed(); }));
  type("clearance-far", "2");
  type("overtravel", "3");
  click("set-limits");
  EXPECT_TRUE(wait_for([this] { return text("notice-text").contains("both limits are proved"); }))
      << text("notice-text").toStdString();
  const double high = setting("axis.x.soft_max_mm");
  EXPECT_NEAR(high, 806 * 80.37 / 80 - 2, 0.15);
  EXPECT_EQ(session_->editor().book().machine.axis(Axis::x).soft_max, high);
  EXPECT_EQ(last().sheet, "limits");
  EXPECT_EQ(last().as_found.at("axis.x.soft_max_mm"), 808);
  EXPECT_EQ(standing_of(session_->editor().book(), "limits", Axis::x).standing, Standing::current);
  session_->machine().jog(Axis::x, high + 1 - session_->machine().status().position.x);
  EXPECT_TRUE(text("notice-text").contains("soft limit")) << text("notice-text").toStdString();
  undo();
  EXPECT_EQ(setting("axis.x.soft_max_mm"), 808) << "undone in the controller too";
}

TEST_F(LimitsWindow, ByEyeTheLimitIsLiftedUntilTheEndIsTaken) {
  start();
  click("axis-z");
  click("let-further");
  EXPECT_LT(setting("axis.z.soft_min_mm"), -108);
  EXPECT_TRUE(hint("The far limit is lifted"));
  session_->machine().jog(Axis::z, -107 - session_->machine().status().position.z);
  ASSERT_TRUE(wait_ready());
  session_->machine().set_jog_step(1);
  for (int i = 0; i < 3; ++i) {
    click("creep-out");
    ASSERT_TRUE(wait_ready());
  }
  EXPECT_NEAR(session_->machine().status().position.z, -110, 0.01);
  click("creep-back");
  ASSERT_TRUE(wait_ready());
  click("take-far-end");
  EXPECT_EQ(setting("axis.z.soft_min_mm"), -108) << "put back once it was taken";
  EXPECT_NEAR(*session_->editor().book().worksheets[limits_worksheets][2].far_end_mm, -109, 0.01);
  EXPECT_TRUE(find<QLineEdit>("travel")->text().startsWith("109.0"));
  click("let-further");
  click("let-further");
  EXPECT_EQ(setting("axis.z.soft_min_mm"), -108) << "the same button puts it back";
}

TEST_F(LimitsWindow, ALimitThatAKilledRunLeftLiftedIsPutBackByTheNext) {
  start();
  click("axis-z");
  click("let-further");
  EXPECT_TRUE(told());
  const double lifted = setting("axis.z.soft_min_mm");
  ASSERT_LT(lifted, -108);
  // What a kill leaves: this file, and a controller that keeps what it was set to.
  const QString file = demo_.book + ".lent";
  const auto left = read_file(file);
  ASSERT_TRUE(left) << left.error().message;
  click("let-further");
  EXPECT_TRUE(told());
  EXPECT_FALSE(QFile::exists(file));
  ASSERT_TRUE(session_->machine().link()->set_setting("axis.z.soft_min_mm", lifted));
  session_->machine().keep_settings();
  close();
  ASSERT_TRUE(write_file(file, *left));
  open();
  EXPECT_TRUE(wait_for([this] { return text("notice-text").contains("It was put back"); }))
      << text("notice-text").toStdString();
  EXPECT_EQ(setting("axis.z.soft_min_mm"), -108);
  EXPECT_TRUE(told());
  EXPECT_FALSE(QFile::exists(file));
}

TEST_F(LimitsWindow, ALimitTooCloseAndAnApproachTooFastAreNamedBeforeTheyAreSet) {
  start();
  ASSERT_TRUE(session_->machine().link()->set_setting("axis.x.home_seek_mm_min", 5000));
  const double found = setting("axis.x.soft_max_mm");
  type("overtravel", "3");
  EXPECT_TRUE(text("limits-verdict").contains("Homing seeks at 5000")) << text("limits-verdict").toStdString();
  EXPECT_TRUE(find<QPushButton>("slow-approach")->isVisible());
  type("clearance-far", "0,2");
  EXPECT_TRUE(text("limits-verdict").contains("far limit is 0.20 mm from the end"));
  click("set-limits");
  EXPECT_TRUE(text("notice-text").contains("set it further in")) << text("notice-text").toStdString();
  EXPECT_EQ(setting("axis.x.soft_max_mm"), found) << "not set without being asked twice";
  const auto before = session_->machine().status().position;
  QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier);
  EXPECT_TRUE(text("notice-text").contains("would hit its stop")) << text("notice-text").toStdString();
  EXPECT_EQ(session_->machine().status().position, before) << "it asks first";
  click("slow-approach");
  const double safe = setting("axis.x.home_seek_mm_min");
  // By hand: v from v t + v^2 / 2a = 3 mm with a 400 mm/s^2 and t 0.01 s.
  EXPECT_NEAR(safe, 60 * 400 * (-0.01 + std::sqrt(0.0001 + 2 * 3 / 400.0)), 10);
  EXPECT_FALSE(text("limits-verdict").contains("Homing seeks"));
  EXPECT_EQ(last().as_found.at("axis.x.home_seek_mm_min"), 5000);
  type("clearance-far", "5");
  type("clearance-home", "20");
  EXPECT_TRUE(text("limits-verdict").contains("stand outside its limits")) << text("limits-verdict").toStdString();
  type("clearance-home", "900");
  click("set-limits");
  EXPECT_TRUE(text("notice-text").contains("leave nothing of the travel"));
  EXPECT_EQ(setting("axis.x.soft_max_mm"), found);
  type("clearance-home", "-1");
  EXPECT_TRUE(text("notice-text").contains("zero or more"));
  EXPECT_EQ(session_->editor().book().worksheets[limits_worksheets][0].clearance_home_mm, 900);
}

TEST_F(LimitsWindow, ALimitIsDraggedOnTheDrawing) {
  start();
  const QPoint from = drawing()->handle(Axis::y, true).toPoint();
  QTest::mousePress(drawing(), Qt::LeftButton, {}, from);
  QTest::mouseMove(drawing(), from + QPoint(0, 30));
  QTest::mouseRelease(drawing(), Qt::LeftButton, {}, from + QPoint(0, 30));
  ASSERT_TRUE(session_->editor().book().worksheets[limits_worksheets][1].clearance_far_mm);
  EXPECT_GT(*session_->editor().book().worksheets[limits_worksheets][1].clearance_far_mm, 20)
      << "thirty pixels further in";
  EXPECT_TRUE(find<QPushButton>("axis-y")->isChecked()) << "the dragged axis is the chosen one";
  undo();
  EXPECT_FALSE(session_->editor().book().worksheets[limits_worksheets][1].clearance_far_mm);
}

TEST_F(LimitsWindow, AFarSwitchThatIsNotThereStopsBeforeTheEnd) {
  start([](nlohmann::json& s) { s["axes"]["Y"]["far_switch"] = {{"at_mm", 700.0}}; });
  click("axis-y");
  click("search-far");
  session_->machine().bench()->hold_far_switch(Axis::y, true);
  ASSERT_TRUE(hint("Let it go"));
  session_->machine().bench()->hold_far_switch(Axis::y, false);
  ASSERT_TRUE(wait_for([this] { return text("notice-text").contains("never came"); }, 60000));
  EXPECT_LT(machine().true_place(Axis::y), machine().scenario().axes[1].stop_high);
  EXPECT_EQ(setting("axis.y.soft_max_mm"), 594);
  EXPECT_FALSE(session_->editor().book().worksheets[limits_worksheets][1].far_end_mm);
}

}  // namespace
}  // namespace ypsi::app
