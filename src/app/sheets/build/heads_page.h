#pragma once
#include <QTableWidget>

#include "app/sheets/build/build_draft.h"

class QPushButton;

namespace ypsi::app {

/// Heads: what the carriage holds, how each is lowered, raised and switched, and what its gauge shows.
class HeadsBuildPage : public BuildPage {
  Q_OBJECT
 public:
  explicit HeadsBuildPage(BuildDraft& draft);
  void refresh() override;

 private:
  void take(int row);
  QTableWidget* table_;
  QPushButton *add_, *remove_, *first_;
  bool showing_ = false;
};

}  // namespace ypsi::app
