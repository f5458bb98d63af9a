#pragma once
// The whole machine in plan and elevation, as its kind is built: axes, travel, home ends.
#include <QWidget>
#include <optional>

#include "core/book/machine_kinds.h"
#include "core/units/length.h"

namespace ypsi::app {

QString kind_words(const std::string& kind);  ///< "Moving gantry"

class MachineView : public QWidget {
  Q_OBJECT
 public:
  explicit MachineView(QWidget* parent);
  void show(const MachineSetup& machine, std::optional<Axis> shown, LengthUnit unit);

 signals:
  void chosen(ypsi::Axis axis);  ///< its arrow was clicked

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  void paint_plan(class Draft& draft, const QRectF& room);
  void paint_elevation(class Draft& draft, const QRectF& room);
  void paint_axis(class Draft& draft, Axis axis, QPointF from, QPointF to);
  MachineSetup machine_;
  std::optional<Axis> shown_;
  LengthUnit unit_ = LengthUnit::millimetre;
  std::array<QLineF, axis_count> lines_;
};

}  // namespace ypsi::app
