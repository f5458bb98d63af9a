#include "app/sheets/program/drawing_view.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr double drawing_edge_px = 16, dimension_room_px = 44, clicked_within_px = 14, badge_px = 17;
constexpr std::size_t begins_shown = 40;
constexpr int width_field_px = 104;

QPen pen_of(DrawnAct act) {
  switch (act) {
    case DrawnAct::leave_out:
      return QPen(theme().rule, 1.2);
    case DrawnAct::mark:
      return QPen(theme().second_ink, 1.6, Qt::DotLine);
    case DrawnAct::crease:
      return QPen(theme().ochre, 2, Qt::DashLine);
    case DrawnAct::engrave:
    case DrawnAct::hatch:
      return QPen(theme().ink, 1.6);
    default:
      return QPen(theme().teal, 2);
  }
}

}  // namespace

DrawingView::DrawingView(QWidget* parent) : QWidget(parent) {
  setObjectName("drawing-view");
  setAccessibleName(tr("The drawing on its stock; a click on a corner puts it on work zero"));
  setMinimumHeight(136);
  setMouseTracking(true);
  width_ = new LengthField("drawing-width", tr("How wide the whole drawing is"), this);
  width_->setFixedWidth(width_field_px);
  width_->set_decimals(1);
}

void DrawingView::show(Shown shown, LengthUnit unit) {
  shown_ = std::move(shown);
  unit_ = unit;
  width_->set_unit(unit);
  const auto box = shown_.drawing ? shown_.drawing->drawing.extents() : std::nullopt;
  width_->setVisible(box.has_value());
  width_->show_value(box ? std::optional(box->high.real() - box->low.real()) : std::nullopt);
  place();
  update();
}

void DrawingView::place() {
  const auto box = shown_.drawing ? shown_.drawing->drawing.extents() : std::nullopt;
  if (!box) return;
  PlanPoint low = box->low, high = box->high;
  if (shown_.stock_size.real() > 0) {
    const PlanPoint far = shown_.stock_corner + shown_.stock_size;
    low = {std::min(low.real(), shown_.stock_corner.real()), std::min(low.imag(), shown_.stock_corner.imag())};
    high = {std::max(high.real(), far.real()), std::max(high.imag(), far.imag())};
  }
  const double w = std::max(1e-6, high.real() - low.real()), h = std::max(1e-6, high.imag() - low.imag());
  const double scale =
      std::min((width() - 2 * drawing_edge_px) / w, (height() - drawing_edge_px - dimension_room_px) / h);
  const double left = (width() - scale * w) / 2,
               bottom = drawing_edge_px + (height() - drawing_edge_px - dimension_room_px + scale * h) / 2;
  map_ = QTransform(scale, 0, 0, -scale, left - scale * low.real(), bottom + scale * low.imag());
  const double middle = at((box->low + box->high) / 2.0).x();
  width_->move(static_cast<int>(middle) - width_field_px / 2, height() - width_->sizeHint().height() - 4);
}

void DrawingView::resizeEvent(QResizeEvent*) {
  place();
}

/// What is not to be told apart is not drawn.
QPainterPath DrawingView::path_along(const Outline& points) const {
  QPainterPath path(at(points.front()));
  QPointF last = at(points.front());
  constexpr double apart_px = 0.7;
  for (std::size_t i = 1; i < points.size(); ++i) {
    const QPointF p = at(points[i]);
    if (i + 1 < points.size() && std::fabs(p.x() - last.x()) + std::fabs(p.y() - last.y()) < apart_px) continue;
    path.lineTo(p);
    last = p;
  }
  return path;
}

/// Below the stock those that are open are tinted, over it their edges are drawn with their names.
void DrawingView::draw_zones(QPainter& painter, bool below) const {
  for (const Zone& zone : shown_.zones) {
    QPolygonF polygon;
    for (const PlanPoint& p : zone.outline) polygon << at(p);
    painter.setPen(below ? QPen(Qt::NoPen) : QPen(theme().second_ink, 1, Qt::DotLine));
    painter.setBrush(below && zone.open ? QBrush(theme().teal_soft) : QBrush(Qt::NoBrush));
    painter.drawPolygon(polygon);
    if (below) continue;
    const QRectF in_sight = polygon.boundingRect().intersected(QRectF(rect()));
    constexpr double least_px = 40;
    if (in_sight.width() < least_px || in_sight.height() < least_px) continue;
    Draft(painter).text(in_sight.topLeft() + QPointF(6, 14),
                        zone.open ? tr("%1 open").arg(zone.name) : tr("%1 closed").arg(zone.name),
                        zone.open ? theme().teal : theme().second_ink, 11);
  }
}

void DrawingView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  if (!shown_.drawing) {
    draft.text(rect().center(), tr("Open a drawing, DXF or SVG, or drop it here."), theme().second_ink, 13, false,
               Qt::AlignHCenter);
    return;
  }
  const Drawing& d = shown_.drawing->drawing;
  const auto box = d.extents();
  if (!box) return;
  draw_zones(painter, true);
  if (shown_.stock_size.real() > 0)
    draft.box(QRectF(at(shown_.stock_corner), at(shown_.stock_corner + shown_.stock_size)).normalized(), theme().ink,
              theme().stock, 1.2);
  draw_zones(painter, false);
  painter.setBrush(Qt::NoBrush);
  for (const DrawnContour& c : d.contours) {
    const auto act = shown_.acts.find(c.layer);
    painter.setPen(pen_of(act == shown_.acts.end() || !shown_.cut.empty() ? DrawnAct::leave_out : act->second));
    painter.drawPath(path_along(c.points));
  }
  if (shown_.cut.empty()) {
    painter.setPen(QPen(theme().ink, 0.7));
    for (const Outline& line : shown_.hatch) painter.drawPath(path_along(line));
  }
  for (const Outline& line : shown_.cut) {
    const bool in_hand = &line == &shown_.cut.back();
    painter.setPen(QPen(in_hand ? theme().ochre : theme().teal, in_hand ? 3 : 2));
    painter.drawPath(path_along(line));
  }
  const auto ring = [&](PlanPoint p, double radius) {
    painter.setPen(QPen(theme().ochre, 2));
    painter.drawEllipse(at(p), radius, radius);
  };
  for (const JoinedEnds& j : shown_.drawing->mended.joined) ring(j.at, 6);
  for (const DrawingFinding& f : shown_.drawing->findings)
    if (f.code == "open_end" && f.at) ring(*f.at, 4);
  std::vector<QPointF> numbered;
  for (std::size_t i = 0; shown_.cut.empty() && i < shown_.begins.size() && numbered.size() < begins_shown; ++i) {
    const QPointF p = at(shown_.begins[i]);
    // Where they would lie on each other the first one stands for the rest.
    if (std::any_of(numbered.begin(), numbered.end(),
                    [&](QPointF other) { return std::hypot(p.x() - other.x(), p.y() - other.y()) < badge_px; }))
      continue;
    numbered.push_back(p);
    painter.setPen(QPen(theme().ink, 1));
    painter.setBrush(theme().sheet);
    painter.drawEllipse(p, badge_px / 2, badge_px / 2);
    painter.setBrush(Qt::NoBrush);
    draft.text(p + QPointF(0, 3.5), QString::number(i + 1), theme().ink, 9, true, Qt::AlignHCenter);
  }
  draft.zero(at(shown_.zero));
  draft.text(at(shown_.zero) + QPointF(11, -7), tr("work zero"), theme().red, 11, true);

  const double y = width_->geometry().center().y(), left = at(box->low).x(), right = at({box->high.real(), 0}).x();
  for (const double x : {left, right}) draft.line({x, at(box->low).y() + 4}, {x, y + 6}, theme().second_ink);
  const QRectF field = width_->geometry();
  draft.line({left, y}, {std::max(left, field.left() - 4), y}, theme().second_ink);
  draft.line({std::min(right, field.right() + 4), y}, {right, y}, theme().second_ink);
  draft.arrow_head({left, y}, {-1, 0}, theme().second_ink);
  draft.arrow_head({right, y}, {1, 0}, theme().second_ink);
}

/// The nearest corner of what is drawn, or of the whole.
std::optional<PlanPoint> DrawingView::corner_near(QPointF px) const {
  if (!shown_.drawing) return std::nullopt;
  const auto box = shown_.drawing->drawing.extents();
  if (!box) return std::nullopt;
  std::optional<PlanPoint> best;
  double least = clicked_within_px;
  const auto look = [&](PlanPoint p) {
    const double away = std::hypot(at(p).x() - px.x(), at(p).y() - px.y());
    if (away < least) {
      least = away;
      best = p;
    }
  };
  look(box->low);
  look(box->high);
  look({box->low.real(), box->high.imag()});
  look({box->high.real(), box->low.imag()});
  look((box->low + box->high) / 2.0);
  for (const DrawnContour& c : shown_.drawing->drawing.contours)
    for (const PlanPoint& p : c.points) look(p);
  return best;
}

void DrawingView::mousePressEvent(QMouseEvent* event) {
  if (const auto corner = corner_near(event->position())) emit zero_chosen(corner->real(), corner->imag());
}

bool DrawingView::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip || !shown_.drawing) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const auto near = [&](PlanPoint p) {
    return std::hypot(at(p).x() - help->pos().x(), at(p).y() - help->pos().y()) < clicked_within_px;
  };
  for (const DrawingFinding& f : shown_.drawing->findings)
    if (f.at && near(*f.at)) {
      QToolTip::showText(help->globalPos(), to_q(f.message), this);
      return true;
    }
  return QWidget::event(event);
}

}  // namespace ypsi::app
