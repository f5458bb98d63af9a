#pragma once
#include <QPainter>
#include <QPainterPath>
#include <QTransform>
#include <QWidget>
#include <map>
#include <memory>

#include "app/session/loaded_drawing.h"
#include "app/widgets/field.h"
#include "core/outline/outline.h"
#include "core/program/head_lines.h"

namespace ypsi::app {

/// A drawing on its stock: what is done with each line, where ends were joined or are open, in which order lines are
/// begun, and what lies on work zero, which a click chooses. Its width is typed on its dimension line.
class DrawingView : public QWidget {
  Q_OBJECT
 public:
  explicit DrawingView(QWidget* parent);
  struct Zone {
    Outline outline;  ///< the drawing's places
    QString name;
    bool open = false;
  };
  struct Shown {
    std::shared_ptr<const LoadedDrawing> drawing;
    std::map<std::size_t, DrawnAct> acts;  ///< by layer
    std::vector<PlanPoint> begins;         ///< where lines are begun, in their order, in the drawing's own places
    std::vector<Outline> cut;              ///< what was cut so far, step by step; its last line is the one in hand
    std::vector<Outline> hatch;            ///< lines that fill what is hatched
    PlanPoint zero;                        ///< of the drawing, on work zero
    PlanPoint stock_corner, stock_size;    ///< the drawing's places; size 0: not known
    std::vector<Zone> zones;               ///< of a vacuum bed
  };
  void show(Shown shown, LengthUnit unit);
  LengthField* width_field() { return width_; }

 signals:
  void zero_chosen(double x_mm, double y_mm);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  void place();
  QPainterPath path_along(const Outline& points) const;
  void draw_zones(QPainter& painter, bool below) const;
  QPointF at(PlanPoint p) const { return map_.map(QPointF(p.real(), p.imag())); }
  std::optional<PlanPoint> corner_near(QPointF px) const;
  Shown shown_;
  LengthUnit unit_ = LengthUnit::millimetre;
  QTransform map_;  ///< the drawing's mm to px
  LengthField* width_;
};

}  // namespace ypsi::app
