#pragma once
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/session/session.h"
#include "core/book/book.h"
#include "core/book/worksheets/marks.h"

namespace ypsi::app {

class LeftOverDrawing;

/// Printed or cut marks found again on what lies there: work zero, and the program turned, so that it fits them.
class MarksPage : public QWidget {
  Q_OBJECT
 public:
  explicit MarksPage(Session& session);
  void refresh();
  void refresh_status();

 private:
  void change(const QString& text, const std::function<void(MarksWorksheet&)>& how);
  void take();
  void take_cell(int row, int column);
  void apply();
  std::optional<std::size_t> next_open() const;

  Session& session_;
  LeftOverDrawing* drawing_;
  QTableWidget* table_;
  QPushButton *take_, *add_, *out_, *apply_, *turn_;
  QLabel *result_, *words_, *hint_;
  bool showing_ = false;
};

}  // namespace ypsi::app
