// What everybody must be able to see and reach: contrast, names for screen readers, keys, nothing cut off.
#include <QAction>
#include <QComboBox>
#include <QRegularExpression>
#include <QTableView>
#include <cmath>
#include <set>

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/theme/theme.h"
#include "core/book/worksheets/scale.h"
#include "core/tasks/all_tasks.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

/// WCAG 2.1, relative luminance and contrast ratio.
double luminance(const QColor& c) {
  const auto part = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
}
double contrast(const QColor& a, const QColor& b) {
  const double x = luminance(a), y = luminance(b);
  return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

TEST(Theme, TextHasContrastOnEveryGround) {
  for (const bool night : {false, true}) {
    set_night(night);
    const Theme& t = theme();
    for (const QColor& ground : {t.paper, t.sheet, t.field})
      for (const auto& [name, text] :
           {std::pair{"ink", t.ink}, {"second", t.second_ink}, {"teal", t.teal}, {"ochre", t.ochre}, {"red", t.red}})
        EXPECT_GE(contrast(text, ground), 4.5)
            << name << " on " << ground.name().toStdString() << (night ? " at night" : " by day");
    EXPECT_GE(contrast(t.on_act, t.teal), 4.5);
    EXPECT_GE(contrast(t.ink, t.stock), 4.5);
    EXPECT_GE(contrast(t.ink, t.teal_soft), 4.5);
  }
  set_night(false);
}

class Looks : public WindowTest {};

TEST_F(Looks, EverythingThatTakesFocusHasANameAndAnObjectName) {
  for (const Task* info : all_tasks()) {
    sheet(info->id());
    for (auto* widget : window_->findChildren<QWidget*>()) {
      if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus) continue;
      if (!qobject_cast<QPushButton*>(widget) && !qobject_cast<QLineEdit*>(widget) &&
          !qobject_cast<QComboBox*>(widget) && !qobject_cast<QAbstractItemView*>(widget))
        continue;
      EXPECT_FALSE(widget->objectName().isEmpty())
          << QString(info->id()).toStdString() << " " << widget->metaObject()->className();
      const auto* button = qobject_cast<QPushButton*>(widget);
      EXPECT_TRUE(!widget->accessibleName().isEmpty() || (button && !button->text().isEmpty()))
          << QString(info->id()).toStdString() << " " << widget->objectName().toStdString();
    }
  }
}

TEST_F(Looks, NoButtonsTextIsCutOffAtTheSmallestSize) {
  home();
  for (const char* unit : {"mm", "in"}) {
    session_->editor().note_in_book([&](Book& b) { b.length_unit = unit; });
    window_->resize(1024, 700);
    for (const Task* info : all_tasks()) {
      sheet(info->id());
      for (auto* button : window_->findChildren<QPushButton*>()) {
        if (!button->isVisible() || button->text().isEmpty()) continue;
        EXPECT_GE(button->width() + 1, button->fontMetrics().horizontalAdvance(button->text()))
            << QString(info->id()).toStdString() << " " << button->objectName().toStdString() << " “"
            << button->text().toStdString() << "”";
      }
    }
  }
}

TEST_F(Looks, MenuKeysAreUsedOnce) {
  std::set<QString> keys;
  for (auto* action : window_->actions()) {
    if (action->shortcut().isEmpty()) continue;
    EXPECT_TRUE(keys.insert(action->shortcut().toString()).second) << action->shortcut().toString().toStdString();
  }
  EXPECT_TRUE(keys.contains("Ctrl+H"));
}

TEST_F(Looks, NightAndDayKeepEveryWord) {
  home();
  sheet("steps_per_unit");
  const QString before = text("was");
  QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
  EXPECT_TRUE(is_night());
  EXPECT_EQ(text("was"), before);
  QTest::keyClick(window_.get(), Qt::Key_N, Qt::ControlModifier);
  EXPECT_FALSE(is_night());
}

TEST_F(Looks, WhereItStandsLeadsToTheLargestCause) {
  EXPECT_EQ(text("next-title"), "Home the machine");
  click("go-next");
  ASSERT_TRUE(
      wait_for([this] { return session_->machine().status().all_homed() && session_->machine().standing_ready(); }));
  EXPECT_TRUE(text("next-title").contains("Steps per unit X")) << text("next-title").toStdString();
  EXPECT_TRUE(text("budget-figure").startsWith("±"));
  click("go-next");
  EXPECT_EQ(window_->current_sheet(), "steps_per_unit");
}

TEST_F(Looks, AnEmptyBookTeachesAndNeverCrashes) {
  close();
  QFile::remove(demo_.book);
  open();
  click("notice-action-0");  // Start an empty book
  QTest::keyClick(window_.get(), Qt::Key_H, Qt::ControlModifier);
  EXPECT_TRUE(text("notice-text").contains("Nobody has looked")) << "homing before Inputs and Directions asks first";
  click("notice-action-1");
  ASSERT_TRUE(wait_ready());
  for (const Task* info : all_tasks()) sheet(info->id());
  sheet("standing");
  EXPECT_EQ(text("budget-figure"), "unknown") << "never measured is unknown, not zero";
  sheet("steps_per_unit");
  EXPECT_TRUE(text("explanation").contains("You need a ruler"));
}

TEST_F(Looks, ClosingWhileCuttingIsRefused) {
  home();
  session_->machine().set_work_zero({Axis::x, Axis::y});
  session_->machine().jog(Axis::z, -60);
  ASSERT_TRUE(wait_ready());
  session_->machine().set_work_zero({Axis::z});
  load("dial-blank.ngc");
  sheet("cut");
  session_->machine().connection()->set_speed(1);
  start();
  ASSERT_TRUE(wait_for([this] { return session_->job().cutting(); }));
  EXPECT_FALSE(window_->close());
  EXPECT_TRUE(text("notice-text").contains("being cut"));
  session_->job().load_program(folder_.filePath("oriel.ypsi"));
  EXPECT_TRUE(text("notice-text").contains("load another when it has ended"));
  session_->machine().connection()->set_speed(0);
  session_->job().abandon_cut();
  ASSERT_TRUE(wait_ready());
  EXPECT_TRUE(window_->close());
}

TEST_F(Looks, EveryKeyThatATipNamesIsThere) {
  home();
  session_->editor().change_book("readings", [](Book& b) {
    b.worksheets[scale_worksheets][0].readings = {{600, 597}, {600, 597.5}, {400, 398}};
  });
  static const QRegularExpression named(R"(\(((?:Ctrl|Shift|Alt)\+[\w+]+|F\d+)\))");
  int keys = 0;
  for (const Task* info : all_tasks()) {
    sheet(info->id());
    for (const auto* button :
         window_->findChild<QWidget*>("sheet-" + QString(info->id()))->findChildren<QPushButton*>()) {
      const auto match = named.match(button->toolTip());
      if (!match.hasMatch()) continue;
      ++keys;
      const QKeySequence key(match.captured(1));
      const auto actions = window_->findChildren<QAction*>();
      const bool in_menu =
          std::any_of(actions.begin(), actions.end(), [&](const QAction* a) { return a->shortcut() == key; });
      EXPECT_TRUE(in_menu || button->shortcut() == key)
          << QString(info->id()).toStdString() << ": " << button->objectName().toStdString();
    }
  }
  EXPECT_GT(keys, 12);
}

}  // namespace
}  // namespace ypsi::app
