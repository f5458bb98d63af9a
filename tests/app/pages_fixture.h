#pragma once
// A walk over every page of every sheet.
#include "core/tasks/all_tasks.h"
#include "window_fixture.h"

namespace ypsi::app {

/// The pages of a sheet by the chips in its title's row; a sheet without chips is one.
class PagesTest : public WindowTest {
 protected:
  /// Each page of each sheet is shown, one after the other.
  void each_page(const std::function<void(const QString& where, QWidget* page)>& look) {
    for (const Task* task : all_tasks()) {
      sheet(task->id());
      auto* page = window_->findChild<QWidget*>(QString("sheet-") + task->id());
      QList<QPushButton*> chips;
      for (auto* b : page->findChildren<QPushButton*>())
        if (b->property("chip").toBool() && b->isCheckable() && b->isVisible() && b->isEnabled()) chips << b;
      settle();
      look(task->id(), page);
      for (auto* chip : chips) {
        if (!chip->isVisible()) continue;
        QTest::mouseClick(chip, Qt::LeftButton);
        settle();
        look(QString(task->id()) + "#" + chip->objectName(), page);
      }
    }
  }

 private:
  /// What has grown is laid out, and what that makes grow.
  static void settle() {
    for (int i = 0; i < 3; ++i) QTest::qWait(1);
  }
};

}  // namespace ypsi::app
