#pragma once
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QTableWidget>

#include "app/sheets/sheet.h"
#include "app/widgets/plan_view.h"
#include "core/program/checks.h"

namespace ypsi::app {

class ElevationView;

/// Ready check: what is against the program, each with its place; why the owner goes on in spite of it; the owner's own
/// points; and the way round at a safe height.
class ReadySheet : public Sheet {
  Q_OBJECT
 public:
  explicit ReadySheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 private:
  const Finding* chosen() const;
  void fill_table();
  void show_finding();
  void fill_checklist();
  int own_row() const;
  void add_point();
  void go_on_in_spite();

  PlanView* plan_;
  ElevationView* elevation_;
  QTableWidget* table_;
  QLabel *verdict_, *count_, *text_, *points_;
  QLineEdit *why_, *point_;
  QListWidget* checklist_;
  QComboBox* round_;
  QPushButton *go_on_, *trace_, *remove_point_, *cut_;
  std::vector<Finding> shown_;
  bool filling_ = false;
};

}  // namespace ypsi::app
