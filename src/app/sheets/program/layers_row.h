#pragma once
#include "app/sheets/sheet.h"
#include "core/book/job.h"

namespace ypsi::app {

/// What the stock is made of from its top down, and what it lies on: cap, adhesive sheet, board.
class LayersRow : public QWidget {
  Q_OBJECT
 public:
  LayersRow(Session& session, QWidget* parent);
  void refresh();

 private:
  /// `value`: where the field's number stands.
  WordedField add(const char* name, const QString& word, const QString& what, double& (*value)(Job&));
  Session& session_;
  WordedField cap_, sheet_, board_;
};

}  // namespace ypsi::app
