#pragma once
#include <QComboBox>
#include <QLineEdit>
#include <QTableWidget>

#include "app/sheets/build/build_draft.h"
#include "app/widgets/field.h"

class QPushButton;

namespace ypsi::app {

/// The bed: its vacuum zones with what they hold by, and what is switched on before the first move.
class BedBuildPage : public BuildPage {
  Q_OBJECT
 public:
  explicit BedBuildPage(BuildDraft& draft);
  void refresh() override;
  void refresh_status() override;

 private:
  void change(const QString& text, const std::function<void(VacuumBed&)>& how);
  void take(int row);
  void corner_here();
  const VacuumBed& bed();
  QTableWidget* table_;
  LengthField *pressure_, *friction_, *share_, *smallest_;
  QLineEdit* arming_;
  QComboBox* order_;
  QPushButton *add_, *here_, *remove_;
  bool showing_ = false;
};

}  // namespace ypsi::app
