#pragma once
#include "app/sheets/sheet.h"

class QTableView;

namespace ypsi::app {

/// Where it stands: what can be trusted, what cannot, what to do next.
class StandingSheet : public Sheet {
  Q_OBJECT
 public:
  explicit StandingSheet(Session& session);
  void refresh() override;

 private:
  void show_part_source(int part);
  void places_checked();
  class BudgetBars* bars_;
  class HistoryModel* record_;
  QLabel *part_, *figure_, *note_, *square_, *next_title_, *next_why_, *stale_, *never_;
  QPushButton *go_, *checked_;
  QTableView* history_;
  QString next_sheet_;
};

}  // namespace ypsi::app
