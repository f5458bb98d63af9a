#pragma once
// Help › Keys: every act that has a key, with the one it has now.
#include <QAction>
#include <QList>

namespace ypsi::app {

/// `acts`: those whose keys the owner may have changed.
void show_keys(const QList<QAction*>& acts, QWidget* parent);

}  // namespace ypsi::app
