#pragma once
#include "app/sheets/bed/bed_page.h"
#include "app/sheets/sheet.h"
#include "core/book/worksheets/surface.h"
#include "core/calibration/bed.h"
#include "core/calibration/contours.h"
#include "core/procedures/probe_grid.h"

namespace ypsi::app {

/// The bed's heights as a shaded plan with level lines.
class MapDrawing : public QWidget {
 public:
  explicit MapDrawing(QWidget* parent);
  /// `room`: what the grid covers, machine coordinates; `points` of it so far.
  void show(const QRectF& room, int columns, int rows, const std::vector<MapPoint>& points, LengthUnit unit);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::optional<HeightGrid> grid() const;
  QRectF room_;
  int columns_ = 2, rows_ = 2;
  std::vector<MapPoint> points_;
  LengthUnit unit_ = LengthUnit::millimetre;
};

/// The bed touched on a grid.
class MapPage : public BedPage {
  Q_OBJECT
 public:
  explicit MapPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;
  void cancel() override;

 private:
  QRectF room() const;
  std::optional<BedMap> map() const;
  void begin();
  void touched();
  std::shared_ptr<ProbeGrid> grid_ = std::make_shared<ProbeGrid>();
  std::size_t had_ = 0;  ///< places of the grid that are in the book
  MapDrawing* drawing_;
  LengthField *columns_, *rows_;
  QPushButton* begin_;
  QLabel* hint_;
};

}  // namespace ypsi::app
