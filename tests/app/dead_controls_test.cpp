// Offline, with a book that was just begun: whatever can be pressed does something, or says why not.
#include <QAbstractScrollArea>
#include <QCheckBox>
#include <QComboBox>
#include <QMenu>
#include <QPointer>
#include <set>

#include "core/book/book_json.h"
#include "core/book/first_book.h"
#include "core/tasks/all_tasks.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

class DeadControls : public WindowTest {
 protected:
  void SetUp() override {
    const Book book = first_book({"moving_gantry", "Oriel", {"ruler", "caliper"}, {}}).value();
    const QString path = folder_.filePath("oriel.ypsi");
    ASSERT_TRUE(write_file(path, write_book(book)));
    session_ = std::make_unique<Session>(BookStore(path), nullptr);
    window_ = std::make_unique<MainWindow>(*session_);
    window_->resize(1280, 800);
    window_->show();
    (void)QTest::qWaitForWindowExposed(window_.get(), 2000);
    session_->editor().open_book();
    QObject::connect(&session_->notices(), &Notices::noticed, [this] { ++notices_; });
    // What opens over the window is an answer too; nobody waits for it here.
    closes_.setInterval(5);
    QObject::connect(&closes_, &QTimer::timeout, [this] {
      for (QWidget* over : {QApplication::activePopupWidget(), QApplication::activeModalWidget()})
        if (over) {
          ++opened_;
          over->close();
        }
      for (QWidget* each : QApplication::topLevelWidgets())
        if (auto* dialog = qobject_cast<QDialog*>(each); dialog && dialog->isVisible()) {
          ++opened_;
          dialog->close();
        }
    });
    closes_.start();
  }
  QString seen() {
    QString all = window_->current_sheet() + QString::number(notices_) + "/" + QString::number(opened_);
    for (auto* w : window_->findChildren<QWidget*>()) {
      if (!w->isVisible()) continue;
      all += w->objectName() + (w->isEnabled() ? '+' : '-') + (w->hasFocus() ? '!' : '.');
      if (const auto* l = qobject_cast<QLabel*>(w)) all += l->text();
      if (const auto* b = qobject_cast<QAbstractButton*>(w)) all += b->text() + (b->isChecked() ? 'x' : 'o');
      if (const auto* e = qobject_cast<QLineEdit*>(w)) all += e->text();
      if (const auto* c = qobject_cast<QComboBox*>(w)) all += c->currentText();
    }
    return all + QString::fromStdString(write_book(session_->editor().book()));
  }
  QImage drawn() { return window_->grab().toImage(); }

  QTimer closes_;
  int notices_ = 0, opened_ = 0, pressed_ = 0;
};

TEST_F(DeadControls, EveryButtonOfEverySheetDoesSomethingOrSaysWhyNot) {
  QStringList dead;
  for (const Task* task : all_tasks()) {
    window_->open_sheet(task->id());
    QTest::qWait(2);
    auto* page = window_->findChild<QWidget*>(QString("sheet-") + task->id());
    ASSERT_NE(page, nullptr) << task->id();
    std::set<QString> tried;
    // What another button brought to light is pressed in the next round.
    for (std::size_t before_round = 1; tried.size() != before_round;) {
      before_round = tried.size();
      for (QPointer<QAbstractButton> button : page->findChildren<QAbstractButton*>()) {
        if (!button || !button->isVisible() || !button->isEnabled()) continue;
        const bool chosen =
            button->isCheckable() && button->isChecked() && (button->autoExclusive() || button->group());
        const QString name = task->id() + QString("#") + button->objectName() + " “" + button->text() + "”";
        if (button->objectName() == "edit-program") continue;  // starts another program
        if (chosen || !tried.insert(name).second) continue;
        const QString before = seen();
        const QImage picture = drawn();
        ++pressed_;
        QTest::mouseClick(button, Qt::LeftButton);
        QTest::qWait(8);
        if (seen() == before) QTest::qWait(200);  // a file is read beside the window
        if (seen() == before && drawn() == picture) dead << name;
        window_->open_sheet(task->id());
      }
    }
  }
  EXPECT_TRUE(dead.isEmpty()) << dead.join("\n").toStdString();
  EXPECT_GT(pressed_, 60);
}

}  // namespace
}  // namespace ypsi::app
