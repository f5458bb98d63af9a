#pragma once
#include <QWidget>
#include <functional>

#include "app/session/session.h"
#include "core/tasks/budget.h"

namespace ypsi::app {

/// Where the error of a part comes from: one row a cause, what is known of it as a mark, what is not as a band round
/// it, what was never measured dashed. A click asks for its source.
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
  /// Bias as a mark and U as a band, `at` from mm to px; returns where the room beside begins.
  double draw_share(class Draft& draft, const BudgetPart& part, double y, double high,
                    const std::function<double(double)>& at) const;
  QString source_of(const BudgetPart& part) const;
  Session& session_;
  Budget budget_;
};

}  // namespace ypsi::app
