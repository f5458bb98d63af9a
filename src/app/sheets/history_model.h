#pragma once
#include <QAbstractTableModel>

#include "app/session/session.h"

namespace ypsi::app {

/// The record, newest first; words are made as they are shown, however long it is.
class HistoryModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  explicit HistoryModel(Session& session, QObject* parent) : QAbstractTableModel(parent), session_(session) {}
  void refresh();
  /// Row of an entry of the book's record.
  int row_of(std::size_t entry) const { return rows_ - 1 - static_cast<int>(entry); }
  int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : rows_; }
  int columnCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : 2; }
  QVariant data(const QModelIndex& index, int role) const override;

 private:
  Session& session_;
  int rows_ = 0;
};

}  // namespace ypsi::app
