#include "app/sheets/fences/fence_drawing.h"

#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/phrases.h"
#include "app/to_q.h"
#include "core/book/worksheets/fences.h"
#include "core/tasks/fences.h"

namespace ypsi::app {
namespace {
constexpr double fence_near_px = 12, fence_stop_px = 7;
}

FenceDrawing::FenceDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("fence-drawing");
  setAccessibleName(tr("The bed with its fences and stops"));
  setMinimumHeight(118);
}

void FenceDrawing::show(const Book& book, std::optional<std::size_t> which) {
  fences_ = book.fences;
  chosen_ = which;
  width_mm_ = std::max(1.0, book.machine.axis(Axis::x).travel.mm);
  height_mm_ = std::max(1.0, book.machine.axis(Axis::y).travel.mm);
  expected_ = book.worksheets[fences_worksheet].expected_mm;
  unit_ = book.unit();
  update();
}

QRectF FenceDrawing::bed() const {
  const double scale = std::min((width() - 120.0) / width_mm_, (height() - 58.0) / height_mm_);
  const double w = width_mm_ * scale, h = height_mm_ * scale;
  return {(width() - w) / 2, (height() - h) / 2 + 12, w, h};
}

QLineF FenceDrawing::line_of(const Fence& fence) const {
  const QRectF b = bed();
  const double x = b.left() + std::clamp(place_of(fence, Axis::x) / width_mm_, 0.0, 1.0) * b.width();
  const double y = b.bottom() - std::clamp(place_of(fence, Axis::y) / height_mm_, 0.0, 1.0) * b.height();
  if (fence.kind == FenceKind::along_x) return {b.left(), y, b.right(), y};
  if (fence.kind == FenceKind::along_y) return {x, b.bottom(), x, b.top()};
  return {x - fence_stop_px, y, x + fence_stop_px, y};
}

void FenceDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QRectF b = bed();
  draft.text({8, 14}, tr("The bed from above; the place of each with what is added to it"), theme().second_ink, 11);
  draft.box(b, theme().ink, theme().paper, 1.4);
  if (fences_.empty())
    draft.text(b.center(), tr("no fence or stop yet"), theme().second_ink, 12, false, Qt::AlignHCenter);
  for (std::size_t i = 0; i < fences_.size(); ++i) {
    const Fence& f = fences_[i];
    const bool shown = chosen_ == i;
    const QColor colour = shown ? theme().teal : theme().ink;
    const QLineF line = line_of(f);
    if (f.kind == FenceKind::point) {
      draft.box(
          QRectF(line.center() - QPointF(fence_stop_px, fence_stop_px), QSizeF(2 * fence_stop_px, 2 * fence_stop_px)),
          colour, shown ? theme().teal_soft : theme().sheet, shown ? 2.4 : 1.6);
    } else {
      draft.line(line.p1(), line.p2(), colour, shown ? 3 : 1.8);
    }
    const QPointF at = f.kind == FenceKind::along_x   ? line.p2() + QPointF(-6, -7)
                       : f.kind == FenceKind::along_y ? line.p2() + QPointF(-4, -6)
                                                      : line.p2() + QPointF(8, 4);
    draft.text(at, QString("%1  %2").arg(to_q(f.name), signed_length(f.offset_mm, unit_)), colour, 12, shown,
               f.kind == FenceKind::along_x ? Qt::AlignRight : Qt::AlignLeft);
    if (!shown || !(expected_ > 0) || f.kind == FenceKind::point) continue;
    // The cut that is made beside it, at the wanted distance.
    const bool along_x = f.kind == FenceKind::along_x;
    const double way = along_x ? -expected_ / height_mm_ * b.height() : expected_ / width_mm_ * b.width();
    const QPointF across = along_x ? QPointF(0, way) : QPointF(way, 0);
    if (!b.adjusted(-1, -1, 1, 1).contains(line.center() + across)) continue;
    draft.line(line.p1() + across, line.p2() + across, theme().red, 1.4, Qt::DashLine);
    const QPointF middle = line.center();
    draft.line(middle, middle + across, theme().second_ink);
    draft.arrow_head(middle + across, across / std::max(1.0, std::hypot(across.x(), across.y())), theme().second_ink,
                     8);
    draft.text(middle + across + (along_x ? QPointF(8, -6) : QPointF(8, 4)),
               to_q(format_length(expected_, unit_, 1) + " " + unit_name(unit_)), theme().ink, 12, true);
  }
}

void FenceDrawing::mousePressEvent(QMouseEvent* event) {
  const QPointF p = event->position();
  int best = -1;
  double nearest = fence_near_px;
  for (std::size_t i = 0; i < fences_.size(); ++i) {
    const QLineF line = line_of(fences_[i]);
    const QPointF d = line.p2() - line.p1();
    const double length = std::max(1e-9, line.length());
    const double t = std::clamp(QPointF::dotProduct(p - line.p1(), d) / (length * length), 0.0, 1.0);
    const QPointF off = p - (line.p1() + d * t);
    if (const double away = std::hypot(off.x(), off.y()); away < nearest) {
      nearest = away;
      best = static_cast<int>(i);
    }
  }
  if (best >= 0) emit chosen(best);
}

}  // namespace ypsi::app
