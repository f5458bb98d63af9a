#pragma once
#include <array>

#include "app/sheets/sheet.h"
#include "core/tasks/budget.h"

class QTableView;

namespace ypsi::app {

/// Where it stands: what can be trusted, what cannot, what to do next.
class StandingSheet : public Sheet {
  Q_OBJECT
 public:
  explicit StandingSheet(Session& session);
  void refresh() override;

 private:
  QLayout* make_sizes(QWidget* card);
  QWidget* make_history();
  void make_next();
  void show_sizes(const Budget& budget);
  void show_next(const Budget& budget, const std::vector<const Task*>& open);
  void show_part_source(int part);
  void places_checked();
  class BudgetBars* bars_;
  class HistoryModel* record_;
  QLabel *part_, *figure_, *note_, *square_, *next_title_, *next_why_, *stale_, *never_, *sizes_caption_;
  QPushButton *go_, *checked_;
  std::array<std::array<QLabel*, 3>, 2> sizes_{};  ///< X, Y; inside, outside, spacing
  QTableView* history_;
  QString next_sheet_;
  bool connects_ = false;  ///< what is next is the way to the machine
};

}  // namespace ypsi::app
