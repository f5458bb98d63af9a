#pragma once
// One set of drawing primitives for every sheet: a draughtsman with a painter. Coordinates are widget px.
#include <QPainter>
#include <QPointF>
#include <QRectF>
#include <QString>

#include "app/theme/theme.h"

namespace ypsi {
enum class Standing;
}

namespace ypsi::app {

enum class Mark {
  full,
  half,
  empty,
  crossed
};  ///< current, out of date, never done, failed: a shape besides the colour

Mark mark_of(Standing standing);

class Draft {
 public:
  explicit Draft(QPainter& painter) : p_(painter) { p_.setRenderHint(QPainter::Antialiasing); }

  void line(QPointF a, QPointF b, const QColor& colour, double width = 1, Qt::PenStyle style = Qt::SolidLine);
  void box(const QRectF& r, const QColor& stroke, const QColor& fill = Qt::transparent, double width = 1,
           Qt::PenStyle style = Qt::SolidLine);
  void arrow_head(QPointF tip, QPointF direction, const QColor& colour, double size = 7);
  /// Section through material.
  void hatch(const QRectF& r, const QColor& colour, double spacing = 7);
  /// The cross of work zero.
  void zero(QPointF at);
  /// A cutter seen from above.
  void tool_plan(QPointF at, double radius);
  /// A cutter and its collet nut seen from the front, tip at `tip`.
  void tool_elevation(QPointF tip, double width, double length, double nut_width);
  void text(QPointF at, const QString& text, const QColor& colour, int px = 12, bool bold = false,
            Qt::Alignment align = Qt::AlignLeft);
  /// Status by shape and colour.
  void mark(QPointF centre, Mark mark, double radius = 5);
  QPainter& painter() { return p_; }

 private:
  QPainter& p_;
};

QColor mark_colour(Mark mark);

}  // namespace ypsi::app
