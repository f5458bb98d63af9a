// The jog strip: from any sheet, by presses, keys and a typed distance; slow, and stopped by letting go.
#include "app/jog_strip.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class JogWindow : public WindowTest {
 protected:
  void show_strip() {
    QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier);
    ASSERT_TRUE(strip()->isVisible());
  }
  JogStrip* strip() { return static_cast<JogStrip*>(find<QWidget>("jog-strip")); }
  const MachineStatus& now() { return session_->machine().status(); }
};

TEST_F(JogWindow, ATapIsOneStepOfTheTypedDistanceAtTheTypedRate) {
  home();
  sheet("tools");
  show_strip();
  jog_to(Axis::x, 100);
  jog_to(Axis::z, -20);
  type("jog-distance", "2,5");
  EXPECT_EQ(session_->machine().jog_step(), 2.5);
  click("jog-right");
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(now().position.x, 102.5, 0.01);
  click("jog-up");
  ASSERT_TRUE(wait_ready());
  EXPECT_NEAR(now().position.z, -17.5, 0.01);
  type("jog-distance", "-1");
  EXPECT_EQ(session_->machine().jog_step(), 2.5) << "a step is a way, not a direction";
  EXPECT_EQ(window_->current_sheet(), "tools") << "the page is not lost";
  EXPECT_EQ(find<QLabel>("jog-place-X")->text(), QString::number(now().position.x - now().work_zero.x, 'f', 2));

  session_->machine().connection()->set_speed(1);
  EXPECT_EQ(session_->machine().jog_rate(), slow_jog_mm_min);
  type("jog-distance", "30");
  click("jog-right");
  double fastest = 0;
  wait_for(
      [&] {
        fastest = std::max(fastest, now().feed);
        return false;
      },
      700);
  EXPECT_GT(fastest, 0.8 * slow_jog_mm_min);
  EXPECT_LT(fastest, 1.05 * slow_jog_mm_min) << "never faster than it says";
  QTest::keyClick(window_.get(), Qt::Key_Space, Qt::ControlModifier);
  ASSERT_TRUE(wait_ready());
}

TEST_F(JogWindow, HeldItGoesOnUntilItIsLetGo) {
  home();
  jog_to(Axis::x, 100);
  session_->machine().connection()->set_speed(1);
  show_strip();
  auto* right = find<QPushButton>("jog-right");
  QTest::mousePress(right, Qt::LeftButton);
  ASSERT_TRUE(wait_for([this] { return now().position.x > 104; })) << "further than a step";
  QTest::mouseRelease(right, Qt::LeftButton);
  ASSERT_TRUE(wait_ready());
  const double at = now().position.x;
  EXPECT_LT(at, 130);
  QTest::qWait(200);
  EXPECT_EQ(now().position.x, at) << "it stands";

  // The same by keys, and letting go of the strip lets go of the machine.
  strip()->setFocus();
  QTest::keyPress(strip(), Qt::Key_Left);
  ASSERT_TRUE(wait_ready());
  QKeyEvent again(QEvent::KeyPress, Qt::Key_Left, Qt::NoModifier, QString(), true);
  QApplication::sendEvent(strip(), &again);
  ASSERT_TRUE(wait_for([&] { return now().position.x < at - 3; }));
  click("jog-close");
  ASSERT_TRUE(wait_ready());
  EXPECT_GT(now().position.x, 60);
}

TEST_F(JogWindow, BeforeHomingAndOfflineItSaysWhy) {
  show_strip();
  EXPECT_TRUE(text("jog-hint").contains("Not homed")) << text("jog-hint").toStdString();
  type("jog-distance", "20");
  click("jog-right");
  EXPECT_TRUE(text("notice-text").contains("Before homing")) << text("notice-text").toStdString();
  session_->machine().use_connection(nullptr);
  click("jog-right");
  EXPECT_TRUE(text("notice-text").contains("No machine is connected")) << text("notice-text").toStdString();
}

}  // namespace
}  // namespace ypsi::app
