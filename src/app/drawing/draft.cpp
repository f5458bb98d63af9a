#include "app/drawing/draft.h"

#include <QPainterPath>
#include <cmath>

#include "core/tasks/standing.h"

namespace ypsi::app {

void Draft::line(QPointF a, QPointF b, const QColor& colour, double width, Qt::PenStyle style) {
  p_.setPen(QPen(colour, width, style, Qt::FlatCap));
  p_.drawLine(a, b);
}

void Draft::box(const QRectF& r, const QColor& stroke, const QColor& fill, double width, Qt::PenStyle style) {
  p_.setPen(QPen(stroke, width, style));
  p_.setBrush(fill);
  p_.drawRect(r);
  p_.setBrush(Qt::NoBrush);
}

void Draft::arrow_head(QPointF tip, QPointF direction, const QColor& colour, double size) {
  const double length = std::hypot(direction.x(), direction.y());
  if (length == 0) return;
  const QPointF d = direction / length * size, n(-d.y() * 0.45, d.x() * 0.45);
  p_.setPen(QPen(colour, 1.2));
  p_.drawPolyline(QPolygonF{tip - d + n, tip, tip - d - n});
}

void Draft::hatch(const QRectF& r, const QColor& colour, double spacing) {
  p_.save();
  p_.setClipRect(r);
  p_.setPen(QPen(colour, 0.8));
  for (double x = r.left() - r.height(); x < r.right(); x += spacing)
    p_.drawLine(QPointF(x, r.bottom()), QPointF(x + r.height(), r.top()));
  p_.restore();
}

void Draft::zero(QPointF at) {
  line(at - QPointF(9, 0), at + QPointF(9, 0), theme().red, 2.4);
  line(at - QPointF(0, 9), at + QPointF(0, 9), theme().red, 2.4);
}

void Draft::tool_plan(QPointF at, double radius) {
  QColor fill = theme().teal;
  fill.setAlpha(90);
  p_.setPen(QPen(theme().teal, 2));
  p_.setBrush(fill);
  p_.drawEllipse(at, std::max(radius, 4.0), std::max(radius, 4.0));
  p_.setBrush(Qt::NoBrush);
  line(at - QPointF(3, 0), at + QPointF(3, 0), theme().ink);
  line(at - QPointF(0, 3), at + QPointF(0, 3), theme().ink);
}

void Draft::tool_elevation(QPointF tip, double width, double length, double nut_width) {
  box(QRectF(tip.x() - width / 2, tip.y() - length, width, length), theme().ink, theme().teal_soft);
  box(QRectF(tip.x() - nut_width / 2, tip.y() - length - 16, nut_width, 16), theme().ink, theme().teal_soft, 1.2);
}

void Draft::text(QPointF at, const QString& words, const QColor& colour, int px, bool bold, Qt::Alignment align) {
  p_.setFont(text_font(px, bold));
  p_.setPen(colour);
  const double width = p_.fontMetrics().horizontalAdvance(words);
  if (align & Qt::AlignRight) at.rx() -= width;
  if (align & Qt::AlignHCenter) at.rx() -= width / 2;
  p_.drawText(at, words);
}

Mark mark_of(Standing standing) {
  switch (standing) {
    case Standing::current:
      return Mark::full;
    case Standing::out_of_date:
      return Mark::half;
    case Standing::failed:
      return Mark::crossed;
    default:
      return Mark::empty;
  }
}

QColor mark_colour(Mark mark) {
  switch (mark) {
    case Mark::full:
      return theme().teal;
    case Mark::half:
      return theme().ochre;
    case Mark::crossed:
      return theme().red;
    default:
      return theme().second_ink;
  }
}

void Draft::mark(QPointF c, Mark mark, double r) {
  const QColor colour = mark_colour(mark);
  p_.setPen(QPen(colour, 1.6));
  p_.setBrush(mark == Mark::full ? QBrush(colour) : QBrush(theme().paper));
  p_.drawEllipse(c, r, r);
  if (mark == Mark::half) {
    p_.setBrush(colour);
    p_.drawPie(QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r), 90 * 16, 180 * 16);
  }
  p_.setBrush(Qt::NoBrush);
  if (mark == Mark::crossed) {
    const double d = r * 0.6;
    p_.drawLine(c + QPointF(-d, -d), c + QPointF(d, d));
    p_.drawLine(c + QPointF(-d, d), c + QPointF(d, -d));
  }
}

}  // namespace ypsi::app
