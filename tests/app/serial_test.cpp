// A serial line: a whole program over it, its speed found, its ready line, pulled out and plugged in again.
#include <QListWidget>
#include <filesystem>

#include "app/connect_dialog.h"
#include "app/session/described_controllers.h"
#include "app/session/lines_found.h"
#include "app/session/machine_session.h"
#include "pty_machine.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class SerialLine : public WindowTest {
 protected:
  ConnectDialog* dialog() {
    EXPECT_TRUE(wait_for([&] { return !window_->findChild<ConnectDialog*>("connect-dialog"); })) << "one is open";
    window_->activateWindow();
    EXPECT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    QTest::keyClick(window_.get(), Qt::Key_L, Qt::ControlModifier);
    ConnectDialog* shown = nullptr;
    EXPECT_TRUE(wait_for([&] { return (shown = window_->findChild<ConnectDialog*>("connect-dialog")) != nullptr; }))
        << text("notice-text").toStdString();
    return shown;
  }
  /// The dialog with a serial line of that name chosen.
  ConnectDialog* dialog_for(const QString& name, const QString& controller = {}) {
    auto* d = dialog();
    auto* lines = d->findChild<QListWidget*>("connect-lines");
    lines->setCurrentItem(lines->findItems("Another serial line", Qt::MatchStartsWith).value(0));
    d->findChild<QLineEdit*>("connect-address")->setText(name);
    auto* talks = d->findChild<QComboBox*>("connect-talks");
    talks->setCurrentIndex(std::max(0, talks->findData(controller)));
    return d;
  }
  /// What the dialog says once it is done; empty once it is connected.
  QString press(ConnectDialog* d, const char* button) {
    const QPointer<QPushButton> connect = d->findChild<QPushButton*>("connect-now");
    const QPointer<QLabel> said = d->findChild<QLabel*>("connect-status");
    QTest::mouseClick(d->findChild<QPushButton*>(button), Qt::LeftButton);
    QTest::qWait(20);  // one that is open already is closed first
    EXPECT_TRUE(wait_for([&] { return !connect || connect->isEnabled(); }, 60000));
    return said && said->isVisible() ? said->text() : QString();
  }
  const Line& line() { return session_->machine().connection()->line(); }
};

TEST_F(SerialLine, OverASerialLineAProgramRunsToItsEnd) {
  const PtyMachine machine(demo_.scenario);
  EXPECT_TRUE(press(dialog_for(machine.name()), "connect-now").isEmpty());
  ASSERT_TRUE(wait_for([this] { return session_->machine().connection()->line().kind == Line::Kind::serial; }));
  home();
  const double x = session_->machine().status().position.x;
  std::string text = "G21 G91 F3000\n";
  for (int i = 0; i < 300; ++i) text += "G1 X0.1\n";
  ProgramRun run;
  ASSERT_TRUE(run.start(*session_->machine().link(), text));
  ASSERT_TRUE(wait_for([&] {
    run.tick();
    return run.state() != RunState::running;
  }));
  EXPECT_EQ(run.state(), RunState::finished) << run.why();
  EXPECT_NEAR(session_->machine().status().position.x, x + 30, 0.02);
}

TEST_F(SerialLine, ItsSpeedIsFoundWhereTheControllerAnswers) {
  const PtyMachine machine(demo_.scenario, {}, B500000);
  auto* d = dialog_for(machine.name());
  EXPECT_TRUE(press(d, "connect-find-speed").isEmpty());
  ASSERT_TRUE(wait_for([this] { return line().kind == Line::Kind::serial; }));
  EXPECT_EQ(line().number, 500000);
  EXPECT_EQ(last_line()->number, 500000) << "it is remembered";
}

TEST_F(SerialLine, ASpeedIsSoughtOnlyOfWhatGreets) {
  const PtyMachine machine(demo_.scenario, "asked", B500000);
  link::ControllerDescription silent = *read_described("bare");
  silent.name = "Silent bench";
  silent.greeting = {};
  const auto kept = keep_described(silent);
  ASSERT_TRUE(kept) << kept.error().message;
  auto* d = dialog_for(machine.name(), *kept);
  EXPECT_FALSE(d->findChild<QPushButton*>("connect-find-speed")->isEnabled());
  auto* talks = d->findChild<QComboBox*>("connect-talks");
  talks->setCurrentIndex(talks->findData("asked"));
  ASSERT_TRUE(d->findChild<QPushButton*>("connect-find-speed")->isEnabled());
  EXPECT_TRUE(press(d, "connect-find-speed").isEmpty());
  ASSERT_TRUE(wait_for([this] { return line().kind == Line::Kind::serial; }));
  EXPECT_EQ(line().number, 500000);
  EXPECT_EQ(line().controller, "asked");
}

TEST_F(SerialLine, WhatAnswersAtNoSpeedIsSaidAndNothingIsLost) {
  auto* d = dialog_for("/dev/no-such-line");
  const QString said = press(d, "connect-find-speed");
  EXPECT_TRUE(said.startsWith("It answers at none of these speeds.")) << said.toStdString();
  EXPECT_TRUE(said.contains("no serial line")) << said.toStdString();
  EXPECT_TRUE(session_->machine().connection()->in_this_window());
  EXPECT_TRUE(d->findChild<QPushButton*>("connect-find-speed")->isEnabled());
}

TEST_F(SerialLine, ItsReadyLineStaysUpWhereTheOwnerSaysSo) {
  const PtyMachine machine(demo_.scenario);
  auto* d = dialog_for(machine.name());
  d->findChild<QCheckBox*>("connect-stays-up")->setChecked(true);
  EXPECT_TRUE(press(d, "connect-now").isEmpty());
  ASSERT_TRUE(wait_for([this] { return line().kind == Line::Kind::serial; }));
  EXPECT_TRUE(line().stays_up);
  EXPECT_FALSE(machine.settings().c_cflag & HUPCL);
  // It is remembered, and taken back; closing the line leaves it as it was said last.
  d = dialog();
  EXPECT_TRUE(d->findChild<QCheckBox*>("connect-stays-up")->isChecked());
  auto* lines = d->findChild<QListWidget*>("connect-lines");
  lines->setCurrentItem(lines->findItems("The stand-in in this window", Qt::MatchStartsWith).value(0));
  EXPECT_TRUE(press(d, "connect-now").isEmpty());
  ASSERT_TRUE(wait_for([this] { return session_->machine().connection()->in_this_window(); }));
  EXPECT_FALSE(machine.settings().c_cflag & HUPCL) << "it did not fall when the line was closed";
  d = dialog_for(machine.name());
  d->findChild<QCheckBox*>("connect-stays-up")->setChecked(false);
  EXPECT_TRUE(press(d, "connect-now").isEmpty());
  ASSERT_TRUE(wait_for([this] { return line().kind == Line::Kind::serial; }));
  EXPECT_TRUE(machine.settings().c_cflag & HUPCL);
}

TEST_F(SerialLine, OfItsOwnIsOpenedAnewAsAnother) {
  const PtyMachine machine(demo_.scenario);
  EXPECT_TRUE(press(dialog_for(machine.name()), "connect-now").isEmpty());
  ASSERT_TRUE(wait_for([this] { return session_->machine().up() && line().kind == Line::Kind::serial; }));
  home();
  auto* d = dialog_for(machine.name());
  auto* baud = d->findChild<QComboBox*>("connect-baud");
  baud->setCurrentIndex(baud->findData(57600));
  const QString said = press(d, "connect-now");
  ASSERT_TRUE(said.isEmpty()) << said.toStdString();
  ASSERT_TRUE(wait_for([this] { return session_->machine().up(); }));
  EXPECT_EQ(line().number, 57600);
  EXPECT_TRUE(session_->machine().status().all_homed()) << "it was not switched off";
}

/// By the name that stays with the device, whichever number it gets.
TEST_F(SerialLine, PulledOutAndPluggedInAgainItIsFoundByItsLastingName) {
  namespace fs = std::filesystem;
  const fs::path lasting = fs::path(folder_.path().toStdString()) / "usb-Quillfeather_Oriel-if00";
  const auto plug_in = [&](const PtyMachine& machine) {
    fs::remove(lasting);
    fs::create_symlink(machine.name().toStdString(), lasting);
  };
  auto machine = std::make_unique<PtyMachine>(demo_.scenario);
  plug_in(*machine);
  EXPECT_TRUE(press(dialog_for(QString::fromStdString(lasting)), "connect-now").isEmpty());
  ASSERT_TRUE(wait_for([this] { return line().kind == Line::Kind::serial; }));
  home();
  fs::remove(lasting);
  machine.reset();
  ASSERT_TRUE(wait_for([this] { return session_->machine().status().state == MachineState::offline; }));
  EXPECT_TRUE(text("notice-text").contains("connect again")) << text("notice-text").toStdString();
  // Connecting while it is out says so.
  auto* d = dialog();
  const QString while_out = press(d, "connect-now");
  EXPECT_TRUE(while_out.contains("Plug the controller in")) << while_out.toStdString();
  machine = std::make_unique<PtyMachine>(demo_.scenario);
  plug_in(*machine);
  const QString again = press(d, "connect-now");
  ASSERT_TRUE(again.isEmpty()) << again.toStdString();
  ASSERT_TRUE(wait_for([this] { return session_->machine().up(); }));
  EXPECT_EQ(session_->machine().status().state, MachineState::not_homed) << "where it stands is not believed";
  home();
}

}  // namespace
}  // namespace ypsi::app
