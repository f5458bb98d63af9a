#pragma once
// Starts the stand-in in process and lets its time pass: 1x, 20x, or as fast as it goes.
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <memory>

#include "standin/standin.h"

namespace ypsi::app {

class StandInHost : public QObject {
  Q_OBJECT
 public:
  /// `settings_path`: the controller's own memory, kept beside the scenario.
  static Result<std::unique_ptr<StandInHost>> start(const QString& scenario_path, const QString& settings_path);

  MachineLink& link() { return machine_->link(); }
  Bench& bench() { return *machine_; }
  standin::StandIn& machine() { return *machine_; }
  /// Times real time; 0: as fast as it goes without freezing the window.
  void set_speed(double factor) { speed_ = factor; }
  double speed() const { return speed_; }
  /// Writes the controller's memory when it differs from what is on the disk.
  void save_settings();

 signals:
  void ticked();

 private:
  StandInHost(standin::Scenario scenario, QString settings_path);
  void tick();
  std::unique_ptr<standin::StandIn> machine_;
  QString settings_path_;
  std::string saved_settings_;
  QTimer timer_;
  QElapsedTimer elapsed_;
  double speed_ = 1;
};

}  // namespace ypsi::app
