#pragma once
#include <QTableWidget>
#include <optional>

namespace ypsi::app {

class Session;

/// A table as the sheets have it: rows are chosen whole, no grid, headers to the left. `wide`: the column that takes
/// the room that is left; -1: all alike.
QTableWidget* make_table(const QString& name, const QString& what, const QStringList& headers, int wide, int row_height,
                         QWidget* parent);

/// The length that was typed into a cell, mm, or that it was emptied; none where it cannot be read, which is said.
std::optional<std::optional<double>> length_in(const QTableWidgetItem& cell, Session& session);

/// A cell's number to six digits; nothing where there is none (0).
QString number_or_blank(double value);

}  // namespace ypsi::app
