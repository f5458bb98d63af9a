#pragma once
#include <QWidget>

#include "app/session/session.h"
#include "core/tasks/budget.h"

namespace ypsi::app {

/// Where the error of a part comes from: one bar a cause, what is unknown dashed. A click asks for its source.
class BudgetBars : public QWidget {
  Q_OBJECT
 public:
  BudgetBars(Session& session, QWidget* parent);
  void show(const Budget& budget);

 signals:
  void chosen(int part);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  double row_px() const;
  Session& session_;
  Budget budget_;
};

}  // namespace ypsi::app
