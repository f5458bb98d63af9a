#include "app/sheets/squareness/square_drawing.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/session.h"
#include "app/to_q.h"
#include "core/book/worksheets/squareness.h"
#include "core/calibration/squareness.h"

namespace ypsi::app {
namespace {

constexpr double left_px = 120, right_px = 140, top_px = 118, bottom_px = 66, mark_field_px = 104, mark_reach_px = 14;

struct Bounds {
  double x0 = 0, x1 = 1, y0 = 0, y1 = 1;
  double width() const { return std::max(x1 - x0, 1.0); }
  double height() const { return std::max(y1 - y0, 1.0); }
};

Bounds bounds_of(const std::vector<MarkedPoint>& points) {
  if (points.empty()) return {};
  Bounds b{points[0].commanded.x, points[0].commanded.x, points[0].commanded.y, points[0].commanded.y};
  for (const auto& p : points) {
    b.x0 = std::min(b.x0, p.commanded.x.mm);
    b.x1 = std::max(b.x1, p.commanded.x.mm);
    b.y0 = std::min(b.y0, p.commanded.y.mm);
    b.y1 = std::max(b.y1, p.commanded.y.mm);
  }
  return b;
}

/// 1, 2, 5, 10, 20, ... not above `value`.
double round_down(double value) {
  const double power = std::pow(10, std::floor(std::log10(value)));
  return value / power >= 5 ? 5 * power : value / power >= 2 ? 2 * power : power;
}

/// How many of the same pair stand before it.
std::size_t rank_of(const SquareWorksheet& sheet, std::size_t i) {
  const auto same = [&](const MarkDistance& d) {
    return std::minmax(d.from, d.to) == std::minmax(sheet.distances[i].from, sheet.distances[i].to);
  };
  const auto end = sheet.distances.begin() + static_cast<std::ptrdiff_t>(i);
  return static_cast<std::size_t>(std::count_if(sheet.distances.begin(), end, same));
}

}  // namespace

QString distance_words(const SquareWorksheet& sheet, const MarkDistance& d) {
  const QString pair =
      SquareDrawing::tr("%1 to %2").arg(to_q(sheet.points[d.from].name), to_q(sheet.points[d.to].name));
  return d.edge == HoleEdge::center  ? pair
         : d.edge == HoleEdge::outer ? SquareDrawing::tr("%1, outer edges").arg(pair)
                                     : SquareDrawing::tr("%1, inner edges").arg(pair);
}

SquareDrawing::SquareDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("square-drawing");
  setAccessibleName(tr("Marks, distances and the beam"));
  setToolTip(tr("Drag from mark to mark to add a distance; click a distance's words for its edges"));
  setMinimumHeight(218);
  rails_ = new LengthField("rail-spacing", tr("Between the rails that carry the beam"), this);
  rails_->setFixedWidth(static_cast<int>(mark_field_px));
  rails_->set_decimals(0);
  connect(rails_, &LengthField::refused, this, &SquareDrawing::refused);
}

void SquareDrawing::show(const SquareWorksheet& sheet, const std::optional<SquareFit>& fit,
                         std::optional<double> rail_spacing, LengthUnit unit) {
  sheet_ = sheet;
  fit_ = fit;
  unit_ = unit;
  while (fields_.size() > sheet.distances.size()) {
    fields_.back()->deleteLater();
    fields_.back()->setObjectName({});
    fields_.back()->hide();
    fields_.pop_back();
  }
  while (fields_.size() < sheet.distances.size()) {
    const std::size_t i = fields_.size();
    auto* f = new LengthField(QString("distance-%1").arg(i), {}, this);
    f->setFixedWidth(static_cast<int>(mark_field_px));
    connect(f, &LengthField::committed, this, [this, i](double mm) { emit measured(i, mm); });
    connect(f, &LengthField::next_wanted, this, [this, i] { emit next_wanted(i); });
    connect(f, &LengthField::refused, this, &SquareDrawing::refused);
    f->show();
    fields_.push_back(f);
  }
  for (std::size_t i = 0; i < fields_.size(); ++i) {
    const auto& d = sheet.distances[i];
    const std::size_t rank = rank_of(sheet, i);
    const QString what =
        rank == 0 ? distance_words(sheet, d) : tr("%1, reading %2").arg(distance_words(sheet, d)).arg(rank + 1);
    fields_[i]->setAccessibleName(what);
    fields_[i]->setToolTip(tr("%1 (Ctrl+Shift+E: other edges; Ctrl+Delete takes it out)").arg(what));
    fields_[i]->set_unit(unit);
    fields_[i]->show_value(d.measured > 0 ? std::optional(d.measured) : std::nullopt);
  }
  rails_->set_unit(unit);
  rails_->show_value(rail_spacing);
  place_fields();
  update();
}

double SquareDrawing::exaggeration() const {
  if (!fit_ || std::fabs(fit_->skew) < 1e-6) return 1;
  const Bounds b = bounds_of(sheet_.points);
  // The top edge is drawn shifted by a tenth of the width, whatever the lean.
  return std::max(1.0, round_down(0.1 * b.width() / b.height() / std::fabs(std::tan(fit_->skew))));
}

QPointF SquareDrawing::place(const Point2& p, double lean) const {
  const Bounds b = bounds_of(sheet_.points);
  const double room_x = width() - left_px - right_px, room_y = height() - top_px - bottom_px;
  const double scale = std::min(room_x / b.width(), room_y / b.height());
  const double x = p.x - b.x0 + (p.y - b.y0) * lean - std::min(0.0, b.height() * lean);
  const double left = left_px + (room_x - b.width() * scale) / 2;
  return {left + x * scale, top_px + room_y - (p.y - b.y0) * scale};
}

QPointF SquareDrawing::mark_at(std::size_t point) const {
  return place(sheet_.points[point].commanded, fit_ ? std::tan(fit_->skew) * exaggeration() : 0);
}

QPointF SquareDrawing::words_at(std::size_t i) const {
  const auto& d = sheet_.distances[i];
  const QPointF a = mark_at(d.from), b = mark_at(d.to);
  // Sides carry their figure in the middle, outside; others three quarters up, so that diagonals do not meet.
  const Point2 &from = sheet_.points[d.from].commanded, &to = sheet_.points[d.to].commanded;
  const Bounds all = bounds_of(sheet_.points);
  if (from.y == to.y) return (a + b) / 2 + QPointF(0, from.y == all.y0 ? 26 : -20);
  if (from.x == to.x) return (a + b) / 2 + QPointF(from.x == all.x0 ? -34 : 34, 18);
  // Read again: below the middle, then nearer to the corners.
  constexpr std::array along{0.70, 0.30, 0.88, 0.12};
  const double t = along[rank_of(sheet_, i) % along.size()];
  return a.y() > b.y() ? a + (b - a) * t : b + (a - b) * t;
}

QRectF SquareDrawing::words_box(std::size_t i) const {
  if (rank_of(sheet_, i) > 0) return {};  // what is on one line is of one pair
  const QPointF c = words_at(i);
  const bool below =
      sheet_.points[sheet_.distances[i].from].commanded.y == sheet_.points[sheet_.distances[i].to].commanded.y &&
      sheet_.points[sheet_.distances[i].from].commanded.y == bounds_of(sheet_.points).y0;
  return {c.x() - 80, below ? c.y() + 14 : c.y() - 30, 160, 16};
}

void SquareDrawing::place_fields() {
  for (std::size_t i = 0; i < fields_.size(); ++i) put_on_drawing(*fields_[i], words_at(i));
  rails_->move(static_cast<int>(width() / 2.0 - mark_field_px / 2), 8);
}

void SquareDrawing::paint_beam(Draft& draft) const {
  const double rail_left = 26, rail_right = width() - 26.0, y = 60;
  draft.text({width() / 2.0 - mark_field_px / 2 - 8, 27}, tr("between the rails"), theme().second_ink, 11, false,
             Qt::AlignRight);
  for (const double x : {rail_left, rail_right})
    draft.line({x, 34}, {x, height() - 8.0}, theme().second_ink, 1.6, Qt::DashLine);
  // The right end too far towards +Y is drawn up.
  const double tilt = fit_ ? std::clamp(std::tan(fit_->skew) * exaggeration() * 60, -12.0, 12.0) : 0;
  draft.line({rail_left, y + tilt}, {rail_right, y - tilt}, theme().ink, 6);
  if (!fit_ || !fit_->gantry) return;
  const GantryMove& move = *fit_->gantry;
  const double x = move.right ? rail_right : rail_left, end = move.right ? y - tilt : y + tilt;
  const double way = move.towards_plus ? -1 : 1;
  const QPointF from(x, end + way * 6), to(x, end + way * 34);
  draft.line(from, to, theme().red, 2.4);
  draft.arrow_head(to, {0, way}, theme().red, 9);
  const int digits = std::clamp(decimals_for(move.U_distance, 2), 0, 3);
  const auto in = [&](double mm) { return to_q(format_length(mm, unit_, digits) + " " + unit_name(unit_)); };
  const QString which = move.right ? tr("right end %1 towards the %2") : tr("left end %1 towards the %2");
  const double text_x = move.right ? rail_right - 12 : rail_left + 12;
  const Qt::Alignment align = move.right ? Qt::AlignRight : Qt::AlignLeft;
  draft.text({text_x, y + 24}, which.arg(in(move.distance), move.towards_plus ? tr("back") : tr("front")), theme().red,
             12, true, align);
  const QString U = tr("±%1").arg(in(move.U_distance));
  draft.text({text_x, y + 38}, move.steps ? tr("= %1 motor steps, %2").arg(std::labs(*move.steps)).arg(U) : U,
             theme().second_ink, 11, false, align);
}

void SquareDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  paint_beam(draft);
  if (sheet_.points.empty()) {
    draft.text(rect().center(), tr("Say how wide and high the marks stand, then put them down."), theme().second_ink,
               12, false, Qt::AlignHCenter);
    return;
  }
  if (sheet_.points.size() >= 4) {
    QPolygonF figure, straight;
    for (std::size_t i = 0; i < 4; ++i) {
      figure << mark_at(i);
      straight << place(sheet_.points[i].commanded, 0) + (mark_at(0) - place(sheet_.points[0].commanded, 0));
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().stock);
    painter.setOpacity(0.45);
    painter.drawPolygon(figure);
    painter.setOpacity(1);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().second_ink, 1, Qt::DashLine));
    if (fit_) painter.drawPolygon(straight);
  }
  for (std::size_t i = 0; i < sheet_.distances.size(); ++i) {
    const auto& d = sheet_.distances[i];
    const bool side = is_side(sheet_, d);
    draft.line(mark_at(d.from), mark_at(d.to), side ? theme().ink : theme().teal, side ? 1.8 : 1.4,
               d.measured > 0 ? Qt::SolidLine : Qt::DashLine);
  }
  for (std::size_t i = 0; i < sheet_.distances.size(); ++i) {
    const QRectF box = words_box(i);
    if (!box.isValid()) continue;
    draft.text({box.center().x(), box.bottom() - 3}, distance_words(sheet_, sheet_.distances[i]), theme().second_ink,
               11, false, Qt::AlignHCenter);
  }
  if (drag_from_) draft.line(mark_at(*drag_from_), drag_to_, theme().teal, 1.4, Qt::DotLine);
  const QPointF middle = place({(bounds_of(sheet_.points).x0 + bounds_of(sheet_.points).x1) / 2,
                                (bounds_of(sheet_.points).y0 + bounds_of(sheet_.points).y1) / 2},
                               0);
  for (std::size_t i = 0; i < sheet_.points.size(); ++i) {
    const QPointF p = mark_at(i);
    draft.box(QRectF(p - QPointF(5, 5), QSizeF(10, 10)), theme().ink, theme().sheet, 1.8);
    draft.line(p - QPointF(3, 0), p + QPointF(3, 0), theme().ink);
    draft.line(p - QPointF(0, 3), p + QPointF(0, 3), theme().ink);
    const double dx = p.x() < middle.x() ? -16 : 16, dy = p.y() < middle.y() ? -8 : 18;
    draft.text(p + QPointF(dx, dy), to_q(sheet_.points[i].name), theme().ink, 14, true, Qt::AlignHCenter);
  }
  if (fit_ && sheet_.points.size() >= 2) {
    const QPointF at(std::min(width() - right_px + 66.0, mark_at(1).x() + 66), mark_at(1).y() - 44);
    draft.text(at, tr("%1 mrad").arg(fit_->skew * 1000, 0, 'f', 2), theme().ochre, 14, true);
    draft.text(at + QPointF(0, 16), QString("%1°").arg(fit_->skew * 180 / 3.14159265358979, 0, 'f', 3),
               theme().second_ink, 11);
  }
}

std::optional<std::size_t> SquareDrawing::mark_under(QPointF p) const {
  for (std::size_t i = 0; i < sheet_.points.size(); ++i)
    if (QLineF(mark_at(i), p).length() <= mark_reach_px) return i;
  return std::nullopt;
}

void SquareDrawing::mousePressEvent(QMouseEvent* event) {
  drag_from_ = mark_under(event->position());
  drag_to_ = event->position();
  if (drag_from_) return;
  for (std::size_t i = 0; i < sheet_.distances.size(); ++i)
    if (words_box(i).contains(event->position())) {
      emit edge_wanted(i);
      return;
    }
}

void SquareDrawing::mouseMoveEvent(QMouseEvent* event) {
  if (!drag_from_) return;
  drag_to_ = event->position();
  update();
}

void SquareDrawing::mouseReleaseEvent(QMouseEvent* event) {
  const auto from = std::exchange(drag_from_, std::nullopt);
  update();
  if (!from) return;
  const auto to = mark_under(event->position());
  if (to && *to != *from) emit pair_wanted(*from, *to);
}

void SquareDrawing::resizeEvent(QResizeEvent*) {
  place_fields();
}

}  // namespace ypsi::app
