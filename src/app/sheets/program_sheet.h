#pragma once
#include <QProgressBar>

#include "app/drawing/field.h"
#include "app/drawing/plan_view.h"
#include "app/sheets/sheet.h"

namespace ypsi::app {

class ElevationView;

/// Stock and program: load by menu, drop or from the recent list; what it cuts and how long it takes.
class ProgramSheet : public Sheet {
  Q_OBJECT
 public:
  explicit ProgramSheet(Session& session);
  void refresh() override;
  void choose_file();

 protected:
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void set_stock(std::size_t which, double mm);
  PlanView* plan_;
  ElevationView* elevation_;
  LengthField* stock_[3];
  QLabel *name_, *size_, *details_, *empty_;
  QPushButton *open_, *cancel_;
  QProgressBar* progress_;
  QVBoxLayout* recent_;
  QStringList shown_recent_;
};

}  // namespace ypsi::app
