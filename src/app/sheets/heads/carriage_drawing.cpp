#include "app/sheets/heads/carriage_drawing.h"

#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/phrases.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {

constexpr double carriage_head_px = 13, open_head_px = 8, carriage_edge_px = 74, open_row_px = 28;

}  // namespace

CarriageDrawing::CarriageDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("carriage-drawing");
  setAccessibleName(tr("The carriage from above with its heads"));
  setMinimumHeight(128);
}

void CarriageDrawing::show(const std::vector<Head>& heads, std::size_t shown, std::optional<HeadPlace> found,
                           LengthUnit unit) {
  heads_ = heads;
  shown_ = shown;
  found_ = found;
  unit_ = unit;
  QStringList words;
  for (std::size_t i = 0; i < heads.size(); ++i)
    words << (i == 0           ? tr("%1: the one that the machine counts for").arg(to_q(heads[i].name))
              : heads[i].place ? tr("%1 at %2 %3")
                                     .arg(to_q(heads[i].name))
                                     .arg(heads[i].place->x_mm.mm, 0, 'f', 2)
                                     .arg(heads[i].place->y_mm.mm, 0, 'f', 2)
                               : tr("%1: not measured").arg(to_q(heads[i].name)));
  setAccessibleDescription(words.join("; "));
  update();
}

void CarriageDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QRectF plate(14, 8, width() - 28.0, height() - 16.0);
  draft.box(plate, theme().ink, theme().paper, 1.4);
  if (heads_.empty()) {
    draft.text(plate.center(), tr("no heads in the build yet"), theme().second_ink, 12, false, Qt::AlignHCenter);
    return;
  }
  const auto place_of = [&](std::size_t i) { return i == shown_ && found_ ? found_ : heads_[i].place; };
  double left = 0, right = 0, down = 0, up = 0;
  for (std::size_t i = 1; i < heads_.size(); ++i)
    if (const auto p = place_of(i)) {
      left = std::min(left, p->x_mm.mm);
      right = std::max(right, p->x_mm.mm);
      down = std::min(down, p->y_mm.mm);
      up = std::max(up, p->y_mm.mm);
    }
  const bool open = std::any_of(heads_.begin() + 1, heads_.end(),
                                [&](const Head& h) { return !place_of(static_cast<std::size_t>(&h - heads_.data())); });
  const QRectF room = plate.adjusted(carriage_edge_px, 20, -carriage_edge_px, open ? -46 - open_row_px : -46);
  const double scale =
      std::min(room.width() / std::max(right - left, 40.0), std::max(room.height(), 8.0) / std::max(up - down, 16.0));
  const auto at = [&](double x, double y) {
    return QPointF(room.center().x() + (x - (left + right) / 2) * scale,
                   room.center().y() - (y - (down + up) / 2) * scale);
  };
  double open_x = plate.left() + 12;
  const double open_y = plate.bottom() - open_row_px / 2.0;
  if (open) {
    const QString words = tr("not measured:");
    draft.text({open_x, open_y + 4}, words, theme().second_ink, 11);
    open_x += QFontMetricsF(text_font(11)).horizontalAdvance(words) + 16;
  }
  for (std::size_t i = 0; i < heads_.size(); ++i) {
    const Head& h = heads_[i];
    const auto p = i == 0 ? std::optional(HeadPlace{}) : place_of(i);
    const double r = p ? carriage_head_px : open_head_px;
    const QPointF c = p ? at(p->x_mm, p->y_mm) : QPointF(open_x, open_y);
    const QColor colour = i == shown_ && p ? theme().teal : p ? theme().ink : theme().second_ink;
    painter.setPen(QPen(colour, i == shown_ ? 2.4 : 1.6, p ? Qt::SolidLine : Qt::DashLine));
    painter.setBrush(i == shown_ ? theme().teal_soft : theme().sheet);
    painter.drawEllipse(c, r, r);
    painter.setBrush(Qt::NoBrush);
    draft.line(c - QPointF(r / 2, 0), c + QPointF(r / 2, 0), colour);
    draft.line(c - QPointF(0, r / 2), c + QPointF(0, r / 2), colour);
    const QString name = h.name.empty() ? head_words(h.kind) : to_q(h.name);
    if (!p) {
      draft.text(c + QPointF(r + 5, 4), name, colour, 11, i == shown_);
      open_x += 2 * r + 22 + QFontMetricsF(text_font(11, true)).horizontalAdvance(name);
      continue;
    }
    draft.text(c + QPointF(0, carriage_head_px + 14), name, colour, 12, true, Qt::AlignHCenter);
    const QString what =
        i == 0 ? tr("the machine counts for it") : signed_length(p->x_mm, unit_) + "  " + signed_length(p->y_mm, unit_);
    draft.text(c + QPointF(0, carriage_head_px + 28), what, i == shown_ ? theme().teal : theme().second_ink, 11, false,
               Qt::AlignHCenter);
  }
}

}  // namespace ypsi::app
