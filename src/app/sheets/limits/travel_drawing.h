#pragma once
#include <array>
#include <optional>

#include "app/widgets/field.h"
#include "core/geometry.h"

namespace ypsi::app {

/// One axis's ends, machine coordinates, mm.
struct AxisTravel {
  double home = 0;  ///< where the switch triggers
  bool home_at_max = false;
  double far = 0;
  bool far_measured = false;
  std::optional<double> overtravel;
  double clearance_home = 0, clearance_far = 0;
  double low = 0, high = 0;  ///< the soft limits that these make
  double stop_way = 0;       ///< until it stands, from the rate of homing
  std::optional<double> now;
  double home_stop() const { return home + (home_at_max ? 1 : -1) * overtravel.value_or(0); }
};

/// The whole travel in plan and elevation, with stops, switches and limits to drag; below, both ends of one axis large,
/// with their dimensions typed on them.
class TravelDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit TravelDrawing(QWidget* parent);
  void show(const std::array<AxisTravel, axis_count>& axes, Axis chosen, LengthUnit unit);
  LengthField* overtravel() { return overtravel_; }
  LengthField* clearance_home() { return clearance_home_; }
  LengthField* clearance_far() { return clearance_far_; }
  LengthField* travel() { return travel_; }
  QPointF handle(Axis axis, bool upper) const;

 signals:
  void axis_chosen(ypsi::Axis axis);
  void limit_dragged(ypsi::Axis axis, bool upper, double machine_mm);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  struct Handle {
    Axis axis;
    bool upper;
  };
  QRectF plan() const;
  QRectF elevation() const;
  double px(Axis axis, double machine_mm) const;  ///< along the axis's own direction on the screen
  double from_px(Axis axis, double px) const;
  double limit(Axis axis, bool upper) const;
  std::optional<Handle> handle_under(QPointF p) const;
  void paint_axis(class Draft& draft, Axis axis, const QRectF& room) const;
  void paint_ends(class Draft& draft) const;
  /// Places of the strip, from the end where the axis's numbers are low.
  struct Strip {
    double stop_home, home, limit_home, limit_far, stop_far, y;
  };
  Strip strip() const;
  void place_fields();

  std::array<AxisTravel, axis_count> axes_;
  Axis chosen_ = Axis::x;
  LengthUnit unit_ = LengthUnit::millimetre;
  LengthField *overtravel_, *clearance_home_, *clearance_far_, *travel_;
  std::optional<Handle> dragged_;
  double dragged_to_ = 0;
};

}  // namespace ypsi::app
