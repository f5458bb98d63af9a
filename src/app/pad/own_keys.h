#pragma once
// Keys that their owner has given to the acts of the menus; kept on this computer. Hold's own cannot be taken.
#include <QAction>
#include <QKeySequence>
#include <QList>

namespace ypsi::app {

/// Of the window's acts, those whose key can be changed: all that have a name and one line in a menu, but Hold and
/// Continue.
QList<QAction*> acts_with_keys(const QList<QAction*>& all);
/// Gives each act the key that was kept for it; what they have by themselves is remembered first.
void take_own_keys(const QList<QAction*>& acts);
/// The key that an act has by itself.
QKeySequence usual_key(const QAction& act);
/// Who has `key` already among `acts`; none where it is free. Ctrl+Space and Pause are Hold's for good: Hold itself is
/// then `holds`.
struct KeyTaken {
  bool holds = false;
  QAction* by = nullptr;
  explicit operator bool() const { return holds || by; }
};
KeyTaken taken(const QKeySequence& key, const QAction* but, const QList<QAction*>& acts);
/// Gives it the key, and keeps that. Precondition: it is free.
void give_key(QAction& act, const QKeySequence& key);

}  // namespace ypsi::app
