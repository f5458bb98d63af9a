#pragma once
// A drawing that is read in a thread of its own, mended and looked over.
#include <QObject>
#include <QString>
#include <memory>
#include <thread>

#include "core/drawing_in/drawing_report.h"

namespace ypsi::app {

struct LoadedDrawing {
  QString path;
  Drawing drawing;
  Mended mended;
  std::vector<DrawingFinding> findings;
};

class DrawingLoader : public QObject {
  Q_OBJECT
 public:
  explicit DrawingLoader(QObject* parent) : QObject(parent) {}
  ~DrawingLoader() override;
  /// `unit` as a DrawingJob has it. What was asked for before is passed over.
  void load(const QString& path, const std::string& unit, const MachineSetup& machine);
  bool busy() const { return busy_; }

 signals:
  void loaded(std::shared_ptr<const ypsi::app::LoadedDrawing> drawing);
  void failed(const QString& path, const QString& sentence);

 private:
  std::thread worker_;
  unsigned asked_ = 0;
  bool busy_ = false;
};

}  // namespace ypsi::app
