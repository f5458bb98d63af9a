#pragma once
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/session/session.h"
#include "core/book/job.h"

namespace ypsi::app {

/// Clamps and other things that no tool may meet: boxes on the bed, with "Take it from the machine".
class ClampsTable : public QWidget {
  Q_OBJECT
 public:
  ClampsTable(Session& session, QWidget* parent);
  void refresh();

 private:
  void take(int row);
  int chosen();
  void change(const QString& text, const std::function<void(std::vector<Clamp>&)>& how);
  Session& session_;
  QTableWidget* table_;
  QPushButton *remove_, *here_;
  bool showing_ = false;
};

}  // namespace ypsi::app
