#pragma once
// check_program() in a thread of its own: a long program takes longer than the window may stand still.
#include <QObject>
#include <QTimer>
#include <atomic>
#include <thread>

#include "app/session/loaded_program.h"
#include "core/program/checks.h"

namespace ypsi::app {

class ProgramChecker : public QObject {
  Q_OBJECT
 public:
  explicit ProgramChecker(QObject* parent);
  ~ProgramChecker() override;
  /// What is known is out of date: checks again, once nothing has changed for a moment.
  void changed();
  bool current() const { return current_; }
  const std::vector<Finding>& findings() const { return findings_; }

 signals:
  /// Asks for what is to be checked; answer with check().
  void wanted();
  void done();

 public slots:
  void check(std::shared_ptr<const ypsi::app::LoadedProgram> program, ypsi::Book book, int tool);

 private:
  QTimer soon_;
  std::thread worker_;
  std::vector<Finding> findings_;
  std::atomic<unsigned> asked_ = 0;
  bool current_ = false, busy_ = false;
};

}  // namespace ypsi::app
