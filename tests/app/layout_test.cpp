// Every page at three sizes and in both units: no text is wider than its box, nothing that is typed into or pressed
// lies over another, no field lies outside its drawing.
#include <QAbstractScrollArea>
#include <QComboBox>
#include <QScrollArea>
#include <QTableView>

#include "app/session/book_editor.h"
#include "app/session/phrases.h"
#include "core/tasks/all_tasks.h"
#include "window_fixture.h"

namespace ypsi::app {
namespace {

/// What is wrong with the layout of what is seen in `root`, a line each.
QStringList faults_of(QWidget* root) {
  QStringList faults;
  const auto name = [](const QWidget* w) { return w->objectName() + " (" + w->metaObject()->className() + ")"; };
  const auto box = [root](const QWidget* w) { return QRect(w->mapTo(root, QPoint(0, 0)), w->size()); };
  QList<QWidget*> acted_on;
  for (auto* w : root->findChildren<QWidget*>()) {
    if (!w->isVisible() || w->size().isEmpty()) continue;
    // What scrolls may be larger than what is seen of it.
    bool scrolls = false;
    for (const QWidget* p = w->parentWidget(); p && p != root; p = p->parentWidget())
      scrolls = scrolls || qobject_cast<const QAbstractScrollArea*>(p);
    const auto wide = [&](const QString& text, int room) {
      if (w->fontMetrics().horizontalAdvance(text) > room + 1)
        faults << name(w) + ": “" + text + "” is wider than its box";
    };
    if (const auto* b = qobject_cast<QPushButton*>(w)) wide(b->text(), b->width());
    if (const auto* e = qobject_cast<QLineEdit*>(w); e && !e->hasFocus()) wide(e->text(), e->width() - 6);
    if (const auto* l = qobject_cast<QLabel*>(w); l && !l->text().startsWith('<')) {
      if (!l->wordWrap() && l->pixmap().isNull()) wide(l->text(), l->width());
      if (l->wordWrap() && !l->text().isEmpty() && l->heightForWidth(l->width()) > l->height() + 2 && !scrolls)
        faults << name(w) + ": “" + l->text().left(40) + "…” is cut off below";
    }
    const bool acts = qobject_cast<QPushButton*>(w) || qobject_cast<QLineEdit*>(w) || qobject_cast<QComboBox*>(w);
    if (!acts || scrolls) continue;
    if (w->parentWidget() && !w->parentWidget()->rect().contains(w->geometry()))
      faults << name(w) + ": lies outside " + name(w->parentWidget());
    acted_on << w;
  }
  for (qsizetype i = 0; i < acted_on.size(); ++i)
    for (qsizetype k = i + 1; k < acted_on.size(); ++k) {
      if (acted_on[i]->isAncestorOf(acted_on[k]) || acted_on[k]->isAncestorOf(acted_on[i])) continue;
      const QRect over = box(acted_on[i]).intersected(box(acted_on[k]));
      if (over.width() > 1 && over.height() > 1) faults << name(acted_on[i]) + " lies over " + name(acted_on[k]);
    }
  return faults;
}

/// The pages of a sheet by the chips in its title's row; a sheet without chips is one.
class Layout : public WindowTest {
 protected:
  /// Each page of each sheet is shown, one after the other.
  void each_page(const std::function<void(const QString& where, QWidget* page)>& look) {
    for (const Task* task : all_tasks()) {
      sheet(task->id());
      auto* page = window_->findChild<QWidget*>(QString("sheet-") + task->id());
      QList<QPushButton*> chips;
      for (auto* b : page->findChildren<QPushButton*>())
        if (b->property("chip").toBool() && b->isCheckable() && b->isVisible() && b->isEnabled()) chips << b;
      look(task->id(), page);
      for (auto* chip : chips) {
        if (!chip->isVisible()) continue;
        QTest::mouseClick(chip, Qt::LeftButton);
        QTest::qWait(1);
        look(QString(task->id()) + "#" + chip->objectName(), page);
      }
    }
  }
};

TEST_F(Layout, EveryPageFitsAtThreeSizesAndInBothUnits) {
  home();
  session_->machine().connection()->set_speed(1);  // nothing is to be hurried while looking
  std::map<QString, QStringList> where;            // by fault
  for (const char* unit : {"mm", "in"})
    for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1920, 1080)}) {
      session_->editor().note_in_book([&](Book& b) { b.length_unit = unit; });
      window_->resize(size);
      each_page([&](const QString& page, QWidget* of) {
        const QStringList faults = faults_of(of);
        for (const QString& fault : faults) where[page + ": " + fault] << QString("%1 %2").arg(size.width()).arg(unit);
        if (!faults.isEmpty()) shoot(QString("fault-%1-%2-%3").arg(page).arg(size.width()).arg(unit));
      });
    }
  for (const auto& [fault, sizes] : where)
    ADD_FAILURE() << fault.toStdString() << " at " << sizes.join(", ").toStdString();
}

TEST_F(Layout, APlantedFaultIsFound) {
  sheet("homing");
  auto* page = window_->findChild<QWidget*>("sheet-homing");
  EXPECT_TRUE(faults_of(page).isEmpty()) << faults_of(page).join("\n").toStdString();
  auto* planted = new QPushButton("much too long for where it is", page);
  planted->setObjectName("planted");
  planted->setGeometry(find<QPushButton>("homing-begin")->x(), 0, 40, 20);
  planted->show();
  auto* outside = new QLineEdit(page);
  outside->setObjectName("outside");
  outside->setGeometry(page->width() - 20, 40, 90, 24);
  outside->show();
  auto* begin = find<QPushButton>("homing-begin");
  auto* over = new QLineEdit(begin->parentWidget());
  over->setObjectName("over");
  over->setGeometry(begin->geometry());
  over->show();
  const QString all = faults_of(page).join("\n");
  EXPECT_TRUE(all.contains("planted (QPushButton): “much too long")) << all.toStdString();
  EXPECT_TRUE(all.contains("outside (QLineEdit): lies outside")) << all.toStdString();
  EXPECT_TRUE(all.contains("lies over")) << all.toStdString();
}

}  // namespace
}  // namespace ypsi::app
