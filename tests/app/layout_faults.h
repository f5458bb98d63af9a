#pragma once
// What a layout must not do: text wider than its box, what is typed into or pressed over another, fields outside.
#include <QAbstractItemView>
#include <QAbstractScrollArea>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace ypsi::app {

/// What is wrong with the layout of what is seen in `root`, a line each.
inline QStringList faults_of(QWidget* root) {
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
