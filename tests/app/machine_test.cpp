// Hold while cutting, refused moves, armed keys, abandon: what touches the machine.
#include <QSlider>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class Machine : public WindowTest {
 protected:
  void start_dial(double speed) {
    zero_over_the_stock();
    load("dial-blank.ngc");
    sheet("cut");
    session_->machine().connection()->set_speed(speed);
    start();
    ASSERT_TRUE(wait_for([this] {
      return session_->machine().status().state == MachineState::cutting && session_->machine().status().feed > 100;
    }));
  }
};

TEST_F(Machine, HoldStopsACutAndContinueGoesOn) {
  start_dial(5);
  QTest::keyClick(window_.get(), Qt::Key_Space, Qt::ControlModifier);
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::held; }));
  const auto at = session_->machine().status().position;
  EXPECT_TRUE(told(6));
  EXPECT_EQ(session_->machine().status().position, at) << "it moved while held";
  EXPECT_GT(session_->machine().status().spindle_rpm, 0);
  EXPECT_EQ(text("state"), "Held");
  const auto line = session_->job().run().line_in_hand();
  session_->machine().connection()->set_speed(0);
  click("continue");
  ASSERT_TRUE(wait_for([this] { return !session_->job().cutting(); }, 60000));
  EXPECT_EQ(session_->job().run().state(), RunState::finished);
  EXPECT_GT(session_->job().run().line_in_hand(), line);
}

TEST_F(Machine, HoldButtonOnTheRailWorksFromAnySheet) {
  start_dial(5);
  sheet("standing");
  click("hold");
  EXPECT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::held; }));
}

TEST_F(Machine, AbandonTakesTwoSecondsAndKeepsThePosition) {
  start_dial(2);
  auto* abandon = find<QPushButton>("abandon");
  QTest::mousePress(abandon, Qt::LeftButton);
  QTest::qWait(500);
  QTest::mouseRelease(abandon, Qt::LeftButton);
  EXPECT_TRUE(session_->job().cutting()) << "half a second must not end a job";
  QTest::mousePress(abandon, Qt::LeftButton);
  EXPECT_TRUE(wait_for([this] { return !session_->job().cutting(); }));
  QTest::mouseRelease(abandon, Qt::LeftButton);
  ASSERT_TRUE(wait_ready());
  EXPECT_TRUE(session_->machine().status().all_homed()) << "the position is kept";
  EXPECT_EQ(session_->editor().book().history.back().result.at("ended"), "abandoned");
}

TEST_F(Machine, AMoveBeyondALimitIsRefusedInWords) {
  home();
  const auto before = session_->machine().status().position;
  session_->machine().jog(Axis::x, -100);
  EXPECT_TRUE(told());
  EXPECT_EQ(session_->machine().status().position, before);
  EXPECT_TRUE(text("notice-text").contains("soft limit")) << text("notice-text").toStdString();
  EXPECT_TRUE(find<QWidget>("notice")->isVisible());
}

TEST_F(Machine, AProgramThatLeavesTheLimitsStopsBeforeThem) {
  home();
  session_->machine().set_work_zero({Axis::x, Axis::y, Axis::z});
  write("far.ngc", "G21 G90 F1000\nG1 X20\nG1 X2000\nM30\n");
  load("far.ngc");
  sheet("cut");
  start();
  EXPECT_TRUE(text("notice-text").contains("ready check")) << "it is known before the start";
  // The controller keeps its own watch even then.
  answer_for_all();
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().run().state() == RunState::failed; }));
  EXPECT_TRUE(text("notice-text").contains("Line 3")) << text("notice-text").toStdString();
  EXPECT_LE(session_->machine().status().position.x, 26);
}

TEST_F(Machine, BeforeHomingOnlyShortMovesAndNoProgram) {
  session_->machine().jog(Axis::x, 200);
  EXPECT_TRUE(text("notice-text").contains("Before homing")) << text("notice-text").toStdString();
  load("dial-blank.ngc");
  sheet("cut");
  EXPECT_FALSE(find<QPushButton>("start")->isEnabled());
  EXPECT_TRUE(text("cut-message").contains("Home"));
  sheet("work_zero");
  EXPECT_FALSE(find<QPushButton>("set-zero-xy")->isEnabled());
}

TEST_F(Machine, ArrowKeysMoveOnlyWhileArmed) {
  home();
  sheet("work_zero");
  auto* plan = find<QWidget>("plan");
  session_->machine().set_jog_step(1);
  plan->setFocus();
  QTest::keyClick(plan, Qt::Key_Right);
  EXPECT_TRUE(told());
  const double start = session_->machine().status().position.x;
  EXPECT_NEAR(start, 5, 0.05);
  QTest::keyClick(plan, Qt::Key_Return);  // arms
  QTest::keyClick(plan, Qt::Key_Right);
  ASSERT_TRUE(wait_for(
      [&] { return session_->machine().standing_ready() && session_->machine().status().position.x > start + 0.5; }));
  EXPECT_NEAR(session_->machine().status().position.x, start + 1, 0.02);
  find<QWidget>("paper")->setFocus();  // focus leaves: disarmed
  plan->setFocus();
  QTest::keyClick(plan, Qt::Key_Right);
  EXPECT_TRUE(told());
  EXPECT_NEAR(session_->machine().status().position.x, start + 1, 0.02);
}

TEST_F(Machine, AHeldArrowKeyMovesSteadilyAndStopsOnRelease) {
  home();
  sheet("work_zero");
  session_->machine().connection()->set_speed(1);
  auto* plan = find<QWidget>("plan");
  plan->setFocus();
  QTest::keyClick(plan, Qt::Key_Return);
  session_->machine().set_jog_step(0.01);
  QTest::keyPress(plan, Qt::Key_Right);
  EXPECT_TRUE(told(6));
  QKeyEvent repeat(QEvent::KeyPress, Qt::Key_Right, Qt::NoModifier, {}, true);
  QApplication::sendEvent(plan, &repeat);
  EXPECT_TRUE(wait_for([this] { return session_->machine().status().position.x > 15; }));
  QTest::keyRelease(plan, Qt::Key_Right);
  ASSERT_TRUE(wait_ready());
  const double stopped = session_->machine().status().position.x;
  EXPECT_TRUE(told(12));
  EXPECT_EQ(session_->machine().status().position.x, stopped);
  EXPECT_LT(stopped, 400) << "it ran on to the limit";
}

TEST_F(Machine, FeedOverrideSlowsTheCut) {
  start_dial(1);
  auto* slider = find<QSlider>("feed-override");
  slider->setValue(50);
  EXPECT_TRUE(
      wait_for([this] { return session_->machine().status().feed > 0 && session_->machine().status().feed < 700; }));
}

}  // namespace
}  // namespace ypsi::app
