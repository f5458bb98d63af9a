#pragma once
#include <QComboBox>

#include "app/session/book_editor.h"
#include "app/sheets/reversal/reversal_drawing.h"
#include "app/sheets/sheet.h"
#include "core/book/worksheets/reversal.h"
#include "core/metrology/instrument.h"
#include "core/procedures/bench.h"

namespace ypsi::app {

/// An indicator carried along a square's blade, with the square as it is and turned: two readings, typed in the
/// drawing. What they say is its owner's.
class ReversalCard : public QFrame {
  Q_OBJECT
 public:
  /// `name` begins the names of its widgets.
  ReversalCard(Session& session, const QString& name, const ReversalWords& words, QWidget* parent);
  void refresh();
  const ReversalWorksheet& worksheet() const { return of(session_.editor().book()); }
  /// As chosen; where the book does not describe it, an indicator that reads to 0.01 mm.
  Instrument instrument() const;

 signals:
  void found();  ///< what was read may be another

 protected:
  virtual const ReversalWorksheet& of(const Book& book) const = 0;
  virtual ReversalWorksheet& of(Book& book) const = 0;
  /// As a person reads it at a simulated machine.
  virtual Result<double> read(Bench& bench, bool turned) const = 0;
  ReversalDrawing* drawing() { return drawing_; }
  Session& session_;

 private:
  void change(const QString& text, const std::function<void(ReversalWorksheet&)>& how);
  void read_next();
  ReversalDrawing* drawing_;
  QComboBox* instruments_;
  QPushButton* read_;
};

}  // namespace ypsi::app
