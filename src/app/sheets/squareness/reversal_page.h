#pragma once
#include <QComboBox>

#include "app/session/book_editor.h"
#include "app/sheets/sheet.h"
#include "core/calibration/bed.h"

namespace ypsi::app {

/// A carpenter's square laid to X and an indicator carried along Y, with the square as it is and turned over.
class ReversalPage : public QWidget {
  Q_OBJECT
 public:
  explicit ReversalPage(Session& session);
  void refresh();
  std::optional<SquareByReversal> result() const;
  const ReversalWorksheet& worksheet() const { return session_.editor().book().reversal_worksheet; }
  /// Words where the readings cannot be what they say; empty otherwise.
  QString problem() const;

 signals:
  void found();

 private:
  Result<SquareByReversal> evaluate() const;
  Instrument instrument() const;
  void change(const QString& text, const std::function<void(ReversalWorksheet&)>& how);
  void read_next();
  Session& session_;
  class ReversalDrawing* drawing_;
  QComboBox* instruments_;
  QPushButton* read_;
};

}  // namespace ypsi::app
