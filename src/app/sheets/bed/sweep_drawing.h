#pragma once
#include <array>
#include <optional>

#include "app/widgets/field.h"
#include "core/book/worksheets.h"
#include "core/book/worksheets/bed.h"
#include "core/calibration/tram.h"

namespace ypsi::app {

inline constexpr int sweep_places = 8;  ///< every 45 degrees, from +X towards +Y

/// The circle that an indicator in the spindle sweeps over the bed, readings typed around it; beside it the bolts of
/// the spindle's mount, and under which of them a shim belongs.
class SweepDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit SweepDrawing(QWidget* parent);
  void show(const BedWorksheet& sheet, const std::optional<TramResult>& result, LengthUnit unit);
  LengthField* reading(int place) { return readings_[static_cast<std::size_t>(place)]; }
  LengthField* radius() { return radius_; }
  LengthField* bolts_x() { return bolts_x_; }
  LengthField* bolts_y() { return bolts_y_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QPointF centre() const { return {width() * 0.30, height() / 2.0}; }
  double circle() const;
  QRectF mount() const;
  void place_fields();
  std::optional<TramResult> result_;
  LengthUnit unit_ = LengthUnit::millimetre;
  std::array<LengthField*, sweep_places> readings_{};
  LengthField *radius_, *bolts_x_, *bolts_y_;
};

}  // namespace ypsi::app
