#pragma once
#include <QGridLayout>

#include "app/sheets/build/build_draft.h"
#include "core/procedures/machine_link.h"

class QLabel;

namespace ypsi::app {

/// Book and controller side by side, setting by setting; where they differ the owner says which holds.
class ControllerPage : public BuildPage {
  Q_OBJECT
 public:
  explicit ControllerPage(BuildDraft& draft);
  void refresh() override;
  void refresh_status() override;

 private:
  void fill();
  QLabel* summary_;
  QWidget* list_;
  QGridLayout* grid_;
  MachineState shown_ = MachineState::offline;
};

}  // namespace ypsi::app
