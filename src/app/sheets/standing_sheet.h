#pragma once
#include "app/sheets/sheet.h"

class QTableWidget;

namespace ypsi::app {

/// Where it stands: what can be trusted, what cannot, what to do next.
class StandingSheet : public Sheet {
  Q_OBJECT
 public:
  explicit StandingSheet(Session& session);
  void refresh() override;

 private:
  QWidget* bars_;
  QLabel *part_, *figure_, *square_, *next_title_, *next_why_, *stale_, *never_;
  QPushButton* go_;
  QTableWidget* history_;
  QString next_sheet_;
};

}  // namespace ypsi::app
