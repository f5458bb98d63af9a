// Each kind of fault, met by the right state and sentence in the window, and the way on from it.

#include <QComboBox>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class Faults : public WindowTest {
 protected:
  void happen(standin::FaultKind kind, Axis axis = Axis::x) { machine().break_down({0, kind, axis, 400}); }
  void cut_the_dial() {
    zero_over_the_stock();
    load("dial-blank.ngc");
    sheet("cut");
    session_->machine().connection()->set_speed(80);
    start();
    ASSERT_TRUE(wait_for([this] { return session_->job().run().line_in_hand() > 20; }));
    session_->machine().connection()->set_speed(5);
    ASSERT_TRUE(wait_for([this] { return session_->machine().status().feed > 100; }));
  }
  void run_program(const QByteArray& text) {
    write("probe.ngc", text);
    load("probe.ngc");
    answer_for_all();
    sheet("cut");
    start();
    ASSERT_TRUE(wait_for([this] { return session_->job().run().state() != RunState::running; }));
  }
  bool notice_says(const QString& words) {
    return wait_for([&] { return find<QWidget>("notice")->isVisible() && text("notice-text").contains(words); });
  }
  bool state_is(const char* word) {
    return wait_for([&] { return text("state") == word; });
  }
  QPushButton* action(const QString& label) {
    for (auto* button : window_->findChild<QWidget*>("notice")->findChildren<QPushButton*>())
      if (button->isVisible() && button->text().startsWith(label)) return button;
    return nullptr;
  }
};

TEST_F(Faults, ADroppedLineEndsTheCutAndAfterHomingItGoesOnToTheEnd) {
  cut_the_dial();
  happen(standin::FaultKind::link_drop);
  ASSERT_TRUE(state_is("Offline"));
  ASSERT_TRUE(notice_says("was cut")) << text("notice-text").toStdString();
  EXPECT_TRUE(text("notice-text").contains(QString("Cut up to line %1 of").arg(session_->job().run().line_in_hand())));
  EXPECT_EQ(session_->editor().book().history.back().result.at("ended"), "failed");
  const std::uint32_t line = session_->job().resume_line();
  EXPECT_GT(line, 20u);
  ASSERT_NE(action("Resume from line"), nullptr);
  QTest::qWait(2100);  // the line is down for two seconds
  ASSERT_NE(action("Connect again"), nullptr);
  QTest::mouseClick(action("Connect again"), Qt::LeftButton);
  ASSERT_TRUE(state_is("Stopped"));
  EXPECT_EQ(machine().link().status().spindle_rpm, 0) << "it stopped by itself";
  EXPECT_TRUE(notice_says("Home the machine"));
  session_->machine().connection()->set_speed(0);
  home();
  session_->job().resume_cut(line);
  ASSERT_TRUE(wait_for([this] { return session_->job().run().state() != RunState::running; }, 60000));
  EXPECT_EQ(session_->job().run().state(), RunState::finished) << session_->job().run().why();
  EXPECT_EQ(session_->editor().book().history.back().result.at("ended"), "finished");
  EXPECT_EQ(session_->job().resume_line(), 0u);
}

TEST_F(Faults, ResumingBeforeHomingAsksForHomingFirst) {
  cut_the_dial();
  happen(standin::FaultKind::estop);
  ASSERT_TRUE(state_is("Emergency stop"));
  ASSERT_NE(action("Resume from line"), nullptr);
  QTest::mouseClick(action("Resume from line"), Qt::LeftButton);
  EXPECT_TRUE(notice_says("Home the machine first"));
  EXPECT_NE(session_->job().run().state(), RunState::running);
}

TEST_F(Faults, TheEmergencyStopIsSaidAndNothingMovesUntilItIsReleased) {
  cut_the_dial();
  happen(standin::FaultKind::estop);
  ASSERT_TRUE(state_is("Emergency stop"));
  EXPECT_TRUE(notice_says("emergency stop is pressed"));
  EXPECT_TRUE(text("notice-text").contains("Cut up to line"));
  session_->machine().home();
  EXPECT_TRUE(notice_says("release it"));
  machine().bench().press_emergency_stop(false);
  ASSERT_TRUE(state_is("Stopped"));
  session_->machine().connection()->set_speed(0);
  home();
  EXPECT_TRUE(state_is("Ready"));
}

TEST_F(Faults, ASwitchThatSticksStopsTheCut) {
  cut_the_dial();
  happen(standin::FaultKind::switch_stuck, Axis::y);
  ASSERT_TRUE(state_is("Stopped"));
  EXPECT_TRUE(notice_says("Y's switch"));
  EXPECT_TRUE(text("notice-text").contains("Inputs"));
}

TEST_F(Faults, ABrownoutLeavesItNotHomed) {
  cut_the_dial();
  happen(standin::FaultKind::brownout);
  ASSERT_TRUE(state_is("Not homed"));
  EXPECT_TRUE(notice_says("supply failed"));
}

TEST_F(Faults, LostStepsAreToldByTheNextHoming) {
  home();
  session_->machine().jog(Axis::x, 100);
  ASSERT_TRUE(wait_ready());
  happen(standin::FaultKind::lost_steps);
  EXPECT_TRUE(state_is("Ready")) << "no controller notices by itself";
  home();
  EXPECT_TRUE(notice_says("lost steps"));
}

TEST_F(Faults, AGarbledLineIsSaidAndTheCutGoesOnToItsEnd) {
  cut_the_dial();
  happen(standin::FaultKind::link_garbage);
  EXPECT_TRUE(notice_says("line to the machine is disturbed"));
  EXPECT_TRUE(session_->job().cutting());
  QTest::qWait(700);
  session_->machine().connection()->set_speed(0);
  ASSERT_TRUE(wait_for([this] { return !session_->job().cutting(); }, 60000));
  EXPECT_EQ(session_->job().run().state(), RunState::finished) << session_->job().run().why();
}

TEST_F(Faults, AProbeThatSticksIsSaidAndNoSearchStarts) {
  zero_over_the_stock();
  happen(standin::FaultKind::probe_stuck);
  EXPECT_TRUE(notice_says("probe's input came on"));
  const double z = session_->machine().status().position.z;
  run_program("G91 G21\nG38.2 Z-5 F100\nM30\n");
  EXPECT_TRUE(notice_says("nothing moved"));
  EXPECT_EQ(session_->machine().status().position.z, z);
}

TEST_F(Faults, WithTheClipOffASearchEndsInWords) {
  zero_over_the_stock();
  happen(standin::FaultKind::clip_off);
  run_program("G91 G21\nG38.2 Z-3 F100\nG1 Z-2 F100\nM30\n");
  EXPECT_TRUE(notice_says("touched nothing")) << text("notice-text").toStdString();
  EXPECT_TRUE(text("notice-text").contains("clip"));
  EXPECT_TRUE(state_is("Ready"));
}

TEST_F(Faults, TheTrayDoesWhatHandsDo) {
  home();
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  ASSERT_TRUE(find<QWidget>("tray")->isVisible());
  EXPECT_TRUE(find<QPushButton>("simulated")->isVisible());
  click("tray-clip");
  EXPECT_FALSE(machine().bench().surroundings().clip_on);
  click("tray-switch-Y");
  EXPECT_TRUE(wait_for([this] { return session_->machine().status().inputs.home_switch[1]; }));
  click("tray-switch-Y");
  click("tray-clamp");
  EXPECT_EQ(machine().bench().surroundings().clamps.size(), 1u);
  click("tray-clamps-away");
  EXPECT_TRUE(machine().bench().surroundings().clamps.empty());
  click("tray-mark");
  session_->machine().jog(Axis::x, 50);
  ASSERT_TRUE(wait_ready());
  find<QComboBox>("tray-instrument")->setCurrentText("ruler");
  click("tray-read");
  EXPECT_TRUE(text("tray-reading").contains("ruler: 49") || text("tray-reading").contains("ruler: 50"))
      << text("tray-reading").toStdString();
  click("tray-stop");
  EXPECT_TRUE(state_is("Emergency stop"));
  click("tray-stop");
  EXPECT_TRUE(state_is("Stopped"));
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  EXPECT_FALSE(find<QWidget>("tray")->isVisible());
}

}  // namespace
}  // namespace ypsi::app
