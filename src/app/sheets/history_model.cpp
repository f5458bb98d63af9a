#include "app/sheets/history_model.h"

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/theme/theme.h"

namespace ypsi::app {

void HistoryModel::refresh() {
  beginResetModel();
  rows_ = static_cast<int>(session_.editor().book().history.size());
  endResetModel();
}

QVariant HistoryModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || index.row() >= rows_) return {};
  const auto& history = session_.editor().book().history;
  const auto at = static_cast<std::size_t>(rows_ - 1 - index.row());
  if (at >= history.size()) return {};
  if (role == Qt::ForegroundRole && index.column() == 0) return theme().second_ink;
  if (role != Qt::DisplayRole && role != Qt::ToolTipRole) return {};
  return index.column() == 0 ? entry_date(history[at]) : entry_text(history[at], session_.editor().unit());
}

}  // namespace ypsi::app
