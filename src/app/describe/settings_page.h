#pragma once
// A controller's settings at the bench: a row each, with the line that asks for it and the line that sets it. What
// comes back when it is asked is learned.
#include <QSpinBox>
#include <QTableWidget>
#include <string>
#include <vector>

#include "link/describing/describing_bench.h"

namespace ypsi::app {

class SettingsPage : public QWidget {
  Q_OBJECT
 public:
  SettingsPage(link::ControllerDescription& draft, QWidget* parent);
  /// From now on it is asked; `bench`: null where no line is open.
  void ask_all(link::DescribingBench* bench);
  /// Goes on with what is asked. True once all was asked, and what was learned can be tried.
  bool go_on(double now_s);
  bool asking() const { return bench_ != nullptr; }
  void stop_asking() { bench_ = nullptr; }
  void show_told(const std::map<std::string, double>& told);

 signals:
  void changed();

 private:
  void show_draft();
  void take_row(int row);

  link::ControllerDescription& draft_;
  link::DescribingBench* bench_ = nullptr;
  QTableWidget* table_;
  QSpinBox* step_;
  std::vector<std::string> names_, to_ask_;
  double asked_at_s_ = -1;
  bool showing_ = false;
};

}  // namespace ypsi::app
