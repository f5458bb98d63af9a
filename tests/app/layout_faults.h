#pragma once
// What a layout must not do: text wider than its box, what is typed into or pressed over another, fields outside, a
// page pushed sideways.
#include <QAbstractItemView>
#include <QAbstractScrollArea>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollBar>
#include <QStackedLayout>
#include <QStyle>
#include <QStyleOptionComboBox>

namespace ypsi::app {

/// The room for the text of a box of choices, between its frame and its arrow.
inline int room_of(const QComboBox& box) {
  QStyleOptionComboBox option;
  option.initFrom(&box);
  option.editable = box.isEditable();
  return box.style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, &box).width();
}

/// What a layout places, in it and in the layouts within.
inline void placed_by(const QLayout& layout, QList<QWidget*>& all) {
  for (int i = 0; i < layout.count(); ++i) {
    QLayoutItem* item = layout.itemAt(i);
    if (auto* w = item->widget(); w && w->isVisible() && !w->size().isEmpty()) all << w;
    if (auto* l = item->layout()) placed_by(*l, all);
  }
}

/// What is wrong with the layout of what is seen in `root`, a line each.
inline QStringList faults_of(QWidget* root) {
  QStringList faults;
  for (QWidget* p = root->parentWidget(); p; p = p->parentWidget())
    if (const auto* around = qobject_cast<QAbstractScrollArea*>(p))
      if (const int px = around->horizontalScrollBar()->maximum(); px > 0)
        faults << root->objectName() + QString(": is pushed sideways by %1 px").arg(px);
  const auto name = [](const QWidget* w) { return w->objectName() + " (" + w->metaObject()->className() + ")"; };
  const auto box = [root](const QWidget* w) { return QRect(w->mapTo(root, QPoint(0, 0)), w->size()); };
  for (const auto* area : root->findChildren<QAbstractScrollArea*>())
    if (area->isVisible() && area->horizontalScrollBarPolicy() == Qt::ScrollBarAlwaysOff)
      if (const int px = area->horizontalScrollBar()->maximum(); px > 1)
        faults << name(area) + QString(": %1 px of it cannot be reached").arg(px);
  // What one layout places has too little room where one lies over another.
  for (auto* w : root->findChildren<QWidget*>()) {
    QList<QWidget*> placed;
    if (w->isVisible() && w->layout() && !qobject_cast<QStackedLayout*>(w->layout())) placed_by(*w->layout(), placed);
    for (const QWidget* each : placed)
      if (each->geometry().bottom() > w->rect().bottom() + 1)
        faults
            << name(each) +
                   QString(": lies below %1 by %2 px").arg(name(w)).arg(each->geometry().bottom() - w->rect().bottom());
    for (qsizetype i = 0; i < placed.size(); ++i)
      for (qsizetype k = i + 1; k < placed.size(); ++k) {
        const QRect over = placed[i]->geometry().intersected(placed[k]->geometry());
        if (over.width() > 1 && over.height() > 1)
          faults << name(placed[i]) + " lies over " + name(placed[k]) + QString(" by %1 px").arg(over.height());
      }
  }
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
    if (const auto* c = qobject_cast<QComboBox*>(w)) wide(c->currentText(), room_of(*c));
    if (const auto* l = qobject_cast<QLabel*>(w); l && !l->text().startsWith('<')) {
      if (!l->wordWrap() && l->pixmap().isNull()) wide(l->text(), l->width());
      if (l->wordWrap() && !l->text().isEmpty() && l->heightForWidth(l->width()) > l->height() + 2 && !scrolls)
        faults << name(w) + ": “" + l->text().left(40) + "…” is cut off below";
    }
    const bool acts = qobject_cast<QPushButton*>(w) || qobject_cast<QLineEdit*>(w) || qobject_cast<QComboBox*>(w) ||
                      qobject_cast<QAbstractItemView*>(w);
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

}  // namespace ypsi::app
