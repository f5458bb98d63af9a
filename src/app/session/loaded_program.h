#pragma once
// A program file that was read whole, with what the sheets show of it.
#include <QObject>
#include <QString>
#include <atomic>
#include <memory>
#include <string>
#include <thread>
#include <vector>

#include "core/motion/planner.h"
#include "core/program/interpreter.h"

namespace ypsi::app {

struct LoadedProgram {
  QString path;
  std::string text;
  Program program;
  TimeEstimate time;
  std::vector<std::size_t> line_starts;  ///< offset of each line in text
  QString line(std::uint32_t number) const;
};

/// Reads in a thread of its own, since a million lines take longer than the 50 ms for which the window may stand still.
class ProgramLoader : public QObject {
  Q_OBJECT
 public:
  explicit ProgramLoader(QObject* parent) : QObject(parent) {}
  ~ProgramLoader() override;
  void load(const QString& path, const Kinematics& kinematics, const ReadSetting& setting);
  void cancel() { cancelled_ = true; }
  bool busy() const { return busy_; }

 signals:
  void progressed(int percent);
  void loaded(std::shared_ptr<const ypsi::app::LoadedProgram> program);
  void failed(const QString& path, const QString& sentence);

 private:
  void finish();
  std::thread worker_;
  std::atomic<bool> cancelled_{false};
  bool busy_ = false;
};

}  // namespace ypsi::app
