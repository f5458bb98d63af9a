// A beam through the real window: seen to before it shines, flashed from nothing upwards, a grid marked and kept.
#include "app/sheets/trials/grid_drawing.h"
#include "beam_scenario.h"
#include "core/book/worksheets/trials.h"
#include "core/tasks/power_speed.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace beam_window {

class BeamWindow : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    open_with([](nlohmann::json& s) { s["heads"] = beam_heads(); });
    window_->resize(1280, 800);
    session_->editor().change_book("a beam", [](Book& b) {
      Head spindle, beam = book_beam(40);
      spindle.name = "spindle";
      beam.place = HeadPlace{40, -5, 0.1};
      b.machine.heads = {spindle, beam};
    });
    home();
  }
  const Book& book() { return session_->editor().book(); }
  void see_to_all() {
    for (const char* point : {"beam-glasses", "beam-lid", "beam-extraction", "beam-fire"})
      if (!find<QPushButton>(point)->isChecked()) click(point);
  }
};

TEST_F(BeamWindow, TheLeastPowerIsFlashedFromNothingUpwards) {
  sheet("trials");
  EXPECT_FALSE(find<QPushButton>("trial-flash")->isEnabled()) << "nothing is seen to";
  for (const char* point : {"beam-glasses", "beam-lid", "beam-extraction"}) click(point);
  EXPECT_FALSE(find<QPushButton>("trial-flash")->isEnabled()) << "nor the fire";
  click("beam-fire");
  double before = -1;
  for (int i = 0; i < 14; ++i) {
    const double x = session_->machine().status().position.x;
    click("trial-flash");
    ASSERT_TRUE(wait_for([this] { return !session_->machine().runner().running(); }));
    EXPECT_TRUE(told());
    EXPECT_NEAR(session_->machine().status().position.x, x + 2, 0.02) << "aside, to fresh ground";
    EXPECT_FALSE(session_->machine().status().beam_on);
    click("trial-take");
    const auto& looks = book().worksheets[trials_worksheet].looks;
    ASSERT_EQ(looks.size(), static_cast<std::size_t>(i) + 1);
    if (std::none_of(looks.begin(), looks.end(), [](const TrialLook& l) { return l.through; })) {
      EXPECT_GT(looks.back().level, before) << "upwards as long as there was no dot";
      before = looks.back().level;
    }
    EXPECT_LE(looks.back().level, 40);
  }
  shoot("extra-beam-least");
  const auto found = evaluate_trials(book());
  ASSERT_TRUE(found && found->through && found->through->threshold);
  EXPECT_NEAR(*found->through->threshold, 7.4, 3);
  machine().bench().press_emergency_stop(true);
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::emergency_stop; }));
  EXPECT_TRUE(told());
  EXPECT_FALSE(session_->machine().beam_points().all_seen()) << "to be seen to anew";
  EXPECT_FALSE(find<QPushButton>("trial-flash")->isEnabled());
}

TEST_F(BeamWindow, ALevelAboveTheCapIsNeverSwitchedOn) {
  sheet("trials");
  see_to_all();
  type("trial-level", "41");
  click("trial-flash");
  EXPECT_TRUE(text("notice-text").contains("above the 40")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->machine().runner().running());
  session_->editor().change_book("no cap", [](Book& b) { b.machine.heads[1].cap = 0; });
  see_to_all();
  type("trial-level", "5");
  click("trial-flash");
  EXPECT_TRUE(text("notice-text").contains("most that the beam may ever have")) << text("notice-text").toStdString();
}

TEST_F(BeamWindow, AProgramWithABeamAsksForThePointsAndEachStartAnew) {
  ready_for_a_job();
  write("burn.ngc", "G21 G90\nG0 X20 Y20 Z8\nM178 P20\nG1 X60 F3000\nM179\nG0 Z9\nM2\n");
  load("burn.ngc");
  sheet("cut");
  EXPECT_TRUE(find<QWidget>("beam-checks")->isVisible());
  start();
  EXPECT_TRUE(text("notice-text").contains("switches the beam on")) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->job().cutting());
  see_to_all();
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().cut_finished(); })) << text("notice-text").toStdString();
  EXPECT_FALSE(session_->machine().status().beam_on);
  EXPECT_FALSE(session_->machine().beam_points().all_seen()) << "the next part is seen to anew";
  write("plain.ngc", good_part);
  load("plain.ngc");
  EXPECT_FALSE(find<QWidget>("beam-checks")->isVisible());
}

TEST_F(BeamWindow, AGridIsPlannedMarkedAndKept) {
  sheet("trials");
  find<QComboBox>("trial-material")->lineEdit()->setText("birch ply 3");
  QTest::keyClick(find<QLineEdit>("trial-material-name"), Qt::Key_Return);
  click("trials-grid");
  EXPECT_FALSE(find<QPushButton>("grid-write")->isEnabled());
  EXPECT_TRUE(text("grid-hint").contains("from which to which"));
  type("grid-power-low", "8");
  type("grid-power-high", "40");
  type("grid-feed-low", "300");
  type("grid-feed-high", "4800");
  const auto grid = planned_grid(book());
  ASSERT_TRUE(grid) << grid.error().message;
  EXPECT_TRUE(find<QPushButton>("grid-write")->isEnabled());
  auto* drawing = find<GridDrawing>("grid-drawing");
  drawing->setFocus();
  const auto go = [&](std::initializer_list<Qt::Key> keys) {
    for (const Qt::Key k : keys) QTest::keyClick(drawing, k);
  };
  go({Qt::Key_Right, Qt::Key_Right, Qt::Key_Up, Qt::Key_Up, Qt::Key_Space, Qt::Key_Right, Qt::Key_Space, Qt::Key_Up,
      Qt::Key_Space});
  EXPECT_EQ(book().worksheets[trials_worksheet].grid.wanted.size(), 3u);
  EXPECT_EQ(book().worksheets[trials_worksheet].grid.wanted[0], (BeamSetting{24, 1200}));
  QTest::mouseClick(drawing, Qt::LeftButton, Qt::NoModifier, QPoint(drawing->width() - 30, 30));
  EXPECT_EQ(book().worksheets[trials_worksheet].grid.wanted.back(), (BeamSetting{40, 4800}));
  QTest::mouseClick(drawing, Qt::LeftButton, Qt::NoModifier, QPoint(drawing->width() - 30, 30));
  EXPECT_EQ(book().worksheets[trials_worksheet].grid.wanted.size(), 3u) << "a second click takes it off";
  shoot("beam");
  click("keep");
  EXPECT_EQ(power_speed_for(book(), "birch ply 3"), (BeamSetting{32, 2400}));
  EXPECT_TRUE(text("trials-verdict").contains("In the book")) << text("trials-verdict").toStdString();
  close();
  open();
  EXPECT_EQ(power_speed_for(book(), "birch ply 3"), (BeamSetting{32, 2400}));
}

}  // namespace beam_window
}  // namespace ypsi::app
