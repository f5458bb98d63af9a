#pragma once
#include <QImage>
#include <QObject>
#include <QTransform>
#include <thread>

#include "app/drawing/toolpath.h"

namespace ypsi::app {

/// A program's path as a picture, drawn in a thread of its own where it is long: the window stays free, and what was
/// drawn before is shown meanwhile, moved and stretched.
class PathLayer : public QObject {
  Q_OBJECT
 public:
  struct Request {
    std::shared_ptr<const LoadedProgram> program;
    QTransform map;  ///< work mm to px
    QSize size;      ///< px
    qreal dpr = 1;
    bool cut_width = true, lines = true;
    QColor wide, line;
    CutWidths widths;
  };
  explicit PathLayer(QObject* parent) : QObject(parent) {}
  ~PathLayer() override;
  void draw(const Request& request);
  /// Draws what there is as the map is now.
  void paint(QPainter& painter, const QTransform& map) const;
  void clear() { image_ = {}; }

 signals:
  void ready();

 private:
  void begin(const Request& request);
  std::thread worker_;
  QImage image_;
  QTransform drawn_with_;
  std::optional<Request> waiting_;
  unsigned asked_ = 0;  ///< what comes for an earlier question is passed over, unless another waits
  bool busy_ = false;
};

}  // namespace ypsi::app
