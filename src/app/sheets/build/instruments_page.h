#pragma once
#include <QTableWidget>

#include "app/sheets/build/build_draft.h"

namespace ypsi::app {

/// Instruments on hand: what each can tell, and what one reading with it is worth.
class InstrumentsPage : public BuildPage {
  Q_OBJECT
 public:
  explicit InstrumentsPage(BuildDraft& draft);
  void refresh() override;

 private:
  void take(int row);
  QTableWidget* table_;
  bool showing_ = false;
};

}  // namespace ypsi::app
