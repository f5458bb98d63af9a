#pragma once
#include <QTableWidget>

namespace ypsi::app {

/// A table as the sheets have it: rows are chosen whole, no grid, headers to the left. `wide`: the column that takes
/// the room that is left; -1: all alike.
QTableWidget* make_table(const QString& name, const QString& what, const QStringList& headers, int wide, int row_height,
                         QWidget* parent);

}  // namespace ypsi::app
