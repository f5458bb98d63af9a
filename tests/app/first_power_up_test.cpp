// Inputs and Directions in the real window, on a machine that is wired wrong.
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class FirstPowerUpWindow : public WindowTest {
 protected:
  /// Changes the scenario's text and starts it with an empty record.
  void start(const QString& from, const QString& to) {
    close();
    QFile file(demo_.scenario);
    ASSERT_TRUE(file.open(QIODevice::ReadWrite));
    QString text = QString::fromUtf8(file.readAll());
    ASSERT_TRUE(text.contains(from));
    text.replace(text.indexOf(from), from.size(), to);
    file.resize(0);
    file.write(text.toUtf8());
    file.close();
    open();
    session_->editor().note_in_book([](Book& b) { b.history.clear(); });
  }
  /// Holds something until the window has seen it, and lets go; what never answers is held for a moment.
  void hold_and_let_go(const std::function<bool()>& seen, const std::function<void(bool)>& hold) {
    const bool before = seen();
    hold(true);
    wait_for([&] { return seen() != before; }, 400);
    EXPECT_TRUE(told());
    hold(false);
    wait_for([&] { return seen() == before; }, 2000);
    EXPECT_TRUE(told());
  }
  void press(Axis axis) {
    hold_and_let_go([this, axis] { return session_->machine().status().inputs.home_switch[index(axis)]; },
                    [this, axis](bool on) { machine().bench().hold_switch(axis, on); });
  }
  void press_stop() {
    hold_and_let_go([this] { return session_->machine().status().inputs.emergency_stop; },
                    [this](bool on) { machine().bench().press_emergency_stop(on); });
  }
  bool asked(const char* words) {
    return wait_for([&] { return text("inputs-asked").contains(words); });
  }
};

TEST_F(FirstPowerUpWindow, ADeadSwitchIsNamedAndHomingAsksFirst) {
  start(R"("end": "min",
    "at_mm": 0.0,
    "s_mm": 0.004,
    "release_mm": 0.6,
    "wired": "ok")",
        R"("end": "min", "at_mm": 0.0, "s_mm": 0.004, "release_mm": 0.6, "wired": "never")");  // X's
  sheet("inputs");
  click("inputs-begin");
  ASSERT_TRUE(asked("X's switch"));
  press(Axis::x);
  EXPECT_TRUE(asked("X's switch")) << "nothing changed, so it still waits";
  click("inputs-nothing");
  EXPECT_TRUE(text("inputs-what").contains("X's switch never changed"));
  ASSERT_TRUE(asked("Y's switch"));
  press(Axis::y);
  ASSERT_TRUE(asked("Z's switch"));
  press(Axis::z);
  ASSERT_TRUE(asked("plate"));
  click("inputs-nothing");  // the probe is left for later
  ASSERT_TRUE(asked("emergency stop"));
  press_stop();
  ASSERT_TRUE(asked("Mend these"));
  const Entry& entry = session_->editor().book().history.back();
  EXPECT_EQ(entry.sheet, "inputs");
  EXPECT_EQ(entry.result.at("inputs").at("switch_x"), "stuck_off");
  EXPECT_EQ(entry.result.at("inputs").at("switch_y"), "works");
  EXPECT_EQ(entry.result.at("inputs").at("emergency_stop"), "works");
  EXPECT_EQ(standing_of(session_->editor().book(), "inputs").standing, Standing::failed);
  session_->machine().home();
  EXPECT_TRUE(told(6));
  EXPECT_TRUE(text("notice-text").contains("Inputs")) << text("notice-text").toStdString();
  EXPECT_NE(session_->machine().status().state, MachineState::moving)
      << "it must not drive at a switch that never answers";
}

TEST_F(FirstPowerUpWindow, AReversedSwitchIsTurnedRoundInTheController) {
  start(R"("wired": "ok")", R"("wired": "reversed")");  // the first is X's
  sheet("inputs");
  click("inputs-begin");
  ASSERT_TRUE(asked("X's switch"));
  press(Axis::x);
  EXPECT_TRUE(text("inputs-what").contains("on at rest and off when pressed"));
  click("inputs-invert");
  EXPECT_EQ(machine().link().setting("axis.x.switch_inverted").value(), 1);
  ASSERT_TRUE(asked("X's switch"));
  press(Axis::x);
  EXPECT_FALSE(text("inputs-what").contains("X's switch"));
  for (const Axis a : {Axis::y, Axis::z}) press(a);
  ASSERT_TRUE(asked("plate"));
  click("inputs-nothing");
  press_stop();
  ASSERT_TRUE(asked("Mend these"));  // the probe
  const Entry& entry = session_->editor().book().history.back();
  EXPECT_EQ(entry.as_found.at("axis.x.switch_inverted"), 0);
  EXPECT_EQ(entry.as_left.at("axis.x.switch_inverted"), 1);
}

TEST_F(FirstPowerUpWindow, AnInvertedZIsReversedBeforeAnythingHomes) {
  start(R"("true_steps_per_mm": 800.6,)", R"("true_steps_per_mm": 800.6, "inverted": true,)");
  session_->machine().home();
  EXPECT_TRUE(told());
  EXPECT_TRUE(text("notice-text").contains("Inputs") || text("notice-text").contains("Directions"));
  EXPECT_EQ(session_->machine().status().state, MachineState::not_homed);
  sheet("directions");
  const auto nudge_and_see = [&](const char* button, std::size_t axis) {
    const double before = machine().bench().tool_seen()[axis];
    click(button);
    ASSERT_TRUE(wait_for([this] {
      return find<QPushButton>("directions-yes")->isVisible() && find<QPushButton>("directions-yes")->isEnabled();
    }));
    click(machine().bench().tool_seen()[axis] > before ? "directions-yes" : "directions-no");
  };
  nudge_and_see("nudge-Z", 2);
  EXPECT_TRUE(text("directions-asked").contains("reversed in the controller"));
  nudge_and_see("nudge-Z", 2);
  nudge_and_see("nudge-X", 0);
  nudge_and_see("nudge-Y", 1);
  EXPECT_TRUE(text("directions-asked").contains("All three"));
  const Entry& entry = session_->editor().book().history.back();
  EXPECT_EQ(entry.sheet, "directions");
  EXPECT_EQ(entry.as_left.at("axis.z.reversed"), 1);
  EXPECT_EQ(machine().link().setting("axis.z.reversed").value(), 1);
  session_->machine().home(true);
  ASSERT_TRUE(
      wait_for([this] { return session_->machine().status().all_homed() && session_->machine().standing_ready(); }));
}

}  // namespace
}  // namespace ypsi::app
