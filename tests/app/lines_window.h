#pragma once
// The window and a machine whose controller takes G-code a line at a time, connected by its description as its owner
// does it; what the line cannot do is asked on cards.
#include <QComboBox>
#include <QListWidget>

#include "app/connect_dialog.h"
#include "app/session/machine_session.h"
#include "link/by_hand/hand_link.h"
#include "link/lines/line_link.h"
#include "window_fixture.h"

namespace ypsi::app {

class LinesWindow : public WindowTest, public ::testing::WithParamInterface<const char*> {
 protected:
  /// By the dialog, as its owner does it.
  void connect_as(const QString& id, const QString& way = QStringLiteral("stand-in in this window")) {
    QTest::keyClick(window_.get(), Qt::Key_L, Qt::ControlModifier);
    EXPECT_TRUE(told());
    const QPointer<ConnectDialog> dialog = window_->findChild<ConnectDialog*>("connect-dialog");
    ASSERT_NE(dialog, nullptr);
    auto* lines = dialog->findChild<QListWidget*>("connect-lines");
    for (int i = 0; i < lines->count(); ++i)
      if (lines->item(i)->text().contains(way)) lines->setCurrentRow(i);
    auto* talks = dialog->findChild<QComboBox*>("connect-talks");
    ASSERT_GE(talks->findData(id), 0) << id.toStdString();
    talks->setCurrentIndex(talks->findData(id));
    QTest::mouseClick(dialog->findChild<QPushButton*>("connect-now"), Qt::LeftButton);
    ASSERT_TRUE(wait_for([&] { return !dialog || !dialog->isVisible(); }))
        << dialog->findChild<QLabel*>("connect-status")->text().toStdString();
    ASSERT_TRUE(session_->machine().connection()->lines());
    session_->machine().connection()->set_speed(20);
  }
  /// What its owner does with a card: all that is on it, at the machine.
  void do_cards() {
    while (const link::HandCard* card = session_->machine().cards()->card()) {
      if (!its_screen_takes_values()) return;
      link::HandAnswer answer;
      for (const auto& each : card->settings) {
        if (!session_->machine().connection()->machine()) continue;
        MachineLink& there = session_->machine().connection()->machine()->link();
        if (card->kind == link::HandCard::Kind::settings)
          EXPECT_TRUE(there.set_setting(each.name, each.value)) << each.name;
        else
          answer.values[each.name] = there.setting(each.name).value_or(each.value);
      }
      ASSERT_TRUE(session_->machine().cards()->answer(card->number, answer));
    }
  }
  /// Not while it does what came over its line.
  bool its_screen_takes_values() {
    if (!session_->machine().connection()->machine()) return true;  // elsewhere
    standin::Controller& controller = machine().controller();
    const MachineState state = controller.status().state;
    if (state == MachineState::ready || state == MachineState::not_homed) return true;
    if (controller.has_nothing_to_do()) controller.end_program();
    return false;
  }
  MachineStatus truly() { return session_->machine().connection()->machine()->link().status(); }
};

}  // namespace ypsi::app
