// A jog pad that SDL makes up: it moves only under its guard, as fast as it is pushed, and not a moment longer.
#include "app/pad/jog_pad.h"

#define SDL_MAIN_HANDLED
#include <SDL2/SDL.h>

#include <QDialog>
#include <QKeySequenceEdit>
#include <QSettings>
#include <QSignalSpy>
#include <QTableWidget>
#include <cmath>

#include "app/pad/own_keys.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

constexpr int guard = SDL_CONTROLLER_BUTTON_LEFTSHOULDER, hold = SDL_CONTROLLER_BUTTON_B;
constexpr double fast = 1200;  // mm a minute
constexpr Sint16 all_the_way = 32767, most_of_the_way = 22937;

class JogPadWindow : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    QSettings().remove("pad");
    pad_ = window_->findChild<JogPad*>("jog-pad");
    ASSERT_NE(pad_, nullptr);
    plug_in();
    home();
    jog_to(Axis::x, 300);
    jog_to(Axis::y, 200);
    session_->machine().connection()->set_speed(1);
    session_->machine().set_jog_rate(fast);
    QTest::keyClick(window_.get(), Qt::Key_J, Qt::ControlModifier);
    ASSERT_TRUE(find<QWidget>("jog-strip")->isVisible());
    QApplication::setActiveWindow(window_.get());
  }
  void TearDown() override {
    unplug();
    QSettings().remove("pad");
    QSettings().remove("keys");
    WindowTest::TearDown();
  }
  void plug_in() {
    device_ = SDL_JoystickAttachVirtual(SDL_JOYSTICK_TYPE_GAMECONTROLLER, SDL_CONTROLLER_AXIS_MAX,
                                        SDL_CONTROLLER_BUTTON_MAX, 0);
    ASSERT_GE(device_, 0) << SDL_GetError();
    joystick_ = SDL_JoystickOpen(device_);
    ASSERT_NE(joystick_, nullptr);
    ASSERT_TRUE(wait_for([this] { return pad_->reading().there; }));
  }
  void unplug() {
    if (!joystick_) return;
    SDL_JoystickClose(std::exchange(joystick_, nullptr));
    SDL_JoystickDetachVirtual(device_);
  }
  void push(int axis, Sint16 how_far) { SDL_JoystickSetVirtualAxis(joystick_, axis, how_far); }
  void press(int button, bool down = true) { SDL_JoystickSetVirtualButton(joystick_, button, down ? 1 : 0); }
  void looks(int times = 4) {
    for (int i = 0; i < times; ++i) {
      QSignalSpy looked(pad_, &JogPad::looked);
      ASSERT_TRUE(wait_for([&] { return !looked.isEmpty(); }));
    }
  }
  bool moves() { return session_->machine().status().state == MachineState::moving; }
  double x() { return machine().plant().place(Axis::x); }
  double feed() { return machine().controller().status().feed; }
  bool reaches(double mm_min) {
    return wait_for([&] { return std::fabs(feed() - mm_min) < 0.02 * mm_min; });
  }
  JogPad* pad_ = nullptr;
  SDL_Joystick* joystick_ = nullptr;
  int device_ = -1;
};

TEST_F(JogPadWindow, ItMovesOnlyUnderItsGuard) {
  const double before = x();
  push(SDL_CONTROLLER_AXIS_LEFTX, all_the_way);
  looks();
  EXPECT_FALSE(moves());
  EXPECT_EQ(x(), before);
  press(guard);
  ASSERT_TRUE(reaches(fast));
  shoot("extra-strip");
  press(guard, false);
  ASSERT_TRUE(wait_ready()) << "though the stick is pushed still";
  EXPECT_GT(x(), before + 0.4) << "at least what it needs to brake";
  const double stood = x();
  looks();
  EXPECT_EQ(x(), stood);
}

TEST_F(JogPadWindow, AsFastAsItIsPushed) {
  press(guard);
  push(SDL_CONTROLLER_AXIS_LEFTX, static_cast<Sint16>(JogPad::dead_zone * all_the_way * 0.9));
  looks();
  EXPECT_FALSE(moves()) << "a stick that does not rest quite in its middle";
  push(SDL_CONTROLLER_AXIS_LEFTX, -most_of_the_way);
  ASSERT_TRUE(reaches(0.5 * fast));
  push(SDL_CONTROLLER_AXIS_LEFTX, -all_the_way);
  ASSERT_TRUE(reaches(fast));
  push(SDL_CONTROLLER_AXIS_LEFTX, 0);
  ASSERT_TRUE(wait_ready());
  // The axis that is pushed farthest moves, alone.
  const double stood = x(), y = machine().plant().place(Axis::y);
  push(SDL_CONTROLLER_AXIS_LEFTY, -all_the_way);  // away from the operator
  push(SDL_CONTROLLER_AXIS_LEFTX, most_of_the_way);
  ASSERT_TRUE(wait_for([&] { return machine().plant().place(Axis::y) > y + 1; }));
  EXPECT_NEAR(x(), stood, 0.01);
  push(SDL_CONTROLLER_AXIS_LEFTY, 0);
  push(SDL_CONTROLLER_AXIS_LEFTX, 0);
  ASSERT_TRUE(wait_ready());
}

TEST_F(JogPadWindow, AButtonIsAStepAndHoldNeedsNoGuard) {
  session_->machine().set_jog_step(2);
  const double before = session_->machine().status().position.x;
  press(SDL_CONTROLLER_BUTTON_DPAD_RIGHT);
  looks();
  EXPECT_FALSE(moves()) << "without the guard";
  press(SDL_CONTROLLER_BUTTON_DPAD_RIGHT, false);
  press(guard);
  looks();
  press(SDL_CONTROLLER_BUTTON_DPAD_RIGHT);
  ASSERT_TRUE(wait_for([&] { return session_->machine().status().position.x > before + 1.9; }));
  ASSERT_TRUE(wait_ready());
  looks();
  EXPECT_NEAR(session_->machine().status().position.x, before + 2, 0.01) << "one step, held or not";
  press(guard, false);
  click("jog-close");
  session_->machine().jog(Axis::x, 100);
  ASSERT_TRUE(reaches(fast));
  press(hold);
  ASSERT_TRUE(wait_for([this] { return feed() == 0; }));
  EXPECT_LT(session_->machine().status().position.x, before + 100);
  press(hold, false);
}

TEST_F(JogPadWindow, APadThatGoesWhileItMovesStopsIt) {
  press(guard);
  push(SDL_CONTROLLER_AXIS_LEFTX, all_the_way);
  ASSERT_TRUE(reaches(fast));
  unplug();
  ASSERT_TRUE(wait_ready());
  EXPECT_FALSE(pad_->reading().there);
  const double stood = x();
  plug_in();
  looks();
  EXPECT_EQ(x(), stood) << "and does not go on when it comes back";
}

TEST_F(JogPadWindow, ADialogOrAnotherWindowStopsIt) {
  press(guard);
  push(SDL_CONTROLLER_AXIS_LEFTX, all_the_way);
  ASSERT_TRUE(reaches(fast));
  QDialog dialog(window_.get());
  dialog.setModal(true);
  dialog.show();
  ASSERT_TRUE(wait_ready());
  const double stood = x();
  looks();
  EXPECT_EQ(x(), stood);
  dialog.close();
  QApplication::setActiveWindow(window_.get());
  ASSERT_TRUE(reaches(fast)) << "in front again, and the guard is held";
  QWidget other;
  other.show();
  QApplication::setActiveWindow(&other);
  ASSERT_TRUE(wait_ready());
  QApplication::setActiveWindow(window_.get());
  ASSERT_TRUE(reaches(fast));
  click("jog-close");
  ASSERT_TRUE(wait_ready()) << "without the strip";
}

TEST_F(JogPadWindow, ButtonsAreGivenButHoldsIsNotTaken) {
  find<QAction>("keys-and-pad")->trigger();
  auto* dialog = window_->findChild<QDialog*>("keys-dialog");
  ASSERT_NE(dialog, nullptr);
  const auto give = [&](PadAct act, int button) {
    QTest::mouseClick(dialog->findChild<QPushButton*>(QStringLiteral("pad-button-%1").arg(static_cast<int>(act))),
                      Qt::LeftButton);
    press(button);
    looks();
    press(button, false);
    looks();
    return dialog->findChild<QLabel*>("keys-says")->text();
  };
  EXPECT_TRUE(give(PadAct::guard, hold).contains("Hold's"));
  EXPECT_EQ(PadButtons::kept().of(PadAct::guard), guard);
  EXPECT_TRUE(give(PadAct::guard, SDL_CONTROLLER_BUTTON_RIGHTSHOULDER).contains("Button 10"));
  EXPECT_EQ(PadButtons::kept().of(PadAct::guard), SDL_CONTROLLER_BUTTON_RIGHTSHOULDER);
  EXPECT_TRUE(give(PadAct::hold, SDL_CONTROLLER_BUTTON_RIGHTSHOULDER).contains("Hold"));
  EXPECT_EQ(PadButtons::kept().of(PadAct::guard), -1) << "who had it has it no more";
  dialog->close();
}

TEST_F(JogPadWindow, KeysAreGivenButHoldsIsNotTaken) {
  find<QAction>("keys-and-pad")->trigger();
  auto* dialog = window_->findChild<QDialog*>("keys-dialog");
  ASSERT_NE(dialog, nullptr);
  auto* jog = find<QAction>("jog");
  auto* edit = dialog->findChild<QKeySequenceEdit*>("key-jog");
  ASSERT_NE(edit, nullptr);
  const auto give = [&](const char* key) {
    edit->setKeySequence(QKeySequence(key));
    emit edit->editingFinished();
    return dialog->findChild<QLabel*>("keys-says")->text();
  };
  EXPECT_TRUE(give("Ctrl+Space").contains("Hold's"));
  EXPECT_EQ(jog->shortcut(), QKeySequence("Ctrl+J"));
  EXPECT_TRUE(give("Ctrl+H").contains("has “Home” already"));
  EXPECT_EQ(edit->keySequence(), QKeySequence("Ctrl+J")) << "what it has is shown";
  EXPECT_TRUE(give("Ctrl+Alt+J").contains("Ctrl+Alt+J now"));
  EXPECT_EQ(jog->shortcut(), QKeySequence("Ctrl+Alt+J"));
  // Another window has it too.
  const QList<QAction*> acts{jog};
  jog->setShortcut(QKeySequence("Ctrl+J"));
  take_own_keys(acts);
  EXPECT_EQ(jog->shortcut(), QKeySequence("Ctrl+Alt+J"));
  QTest::mouseClick(dialog->findChild<QPushButton*>("keys-usual"), Qt::LeftButton);
  EXPECT_EQ(jog->shortcut(), QKeySequence("Ctrl+J"));
  EXPECT_EQ(find<QAction>("keys-and-pad")->shortcut(), QKeySequence());
  dialog->close();
}

}  // namespace
}  // namespace ypsi::app
