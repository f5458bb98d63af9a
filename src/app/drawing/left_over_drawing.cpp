#include "app/drawing/left_over_drawing.h"

#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"

namespace ypsi::app {
namespace {

/// 1, 2 or 5 times a power of ten, not above `most`.
double round_factor(double most) {
  const double power = std::pow(10, std::floor(std::log10(std::max(most, 1e-9))));
  for (const double step : {5.0, 2.0})
    if (step * power <= most) return step * power;
  return power;
}

}  // namespace

QString mark_letter(std::size_t i) {
  return QString(QChar('A' + static_cast<int>(i % 26)));
}

LeftOverDrawing::LeftOverDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("left-over-drawing");
  setAccessibleName(tr("Where the marks lie and what is left over at each"));
  setMinimumSize(150, 90);
}

void LeftOverDrawing::show(std::vector<At> marks) {
  marks_ = std::move(marks);
  update();
}

void LeftOverDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QRectF bed(8, 22, width() - 16.0, height() - 30.0);
  draft.box(bed, theme().ink, theme().stock, 1.2);
  if (marks_.empty()) {
    draft.text(bed.center(), tr("no mark yet"), theme().ink, 12, false, Qt::AlignHCenter);
    return;
  }
  double x0 = 1e9, x1 = -1e9, y0 = 1e9, y1 = -1e9, most = 0;
  for (const At& m : marks_) {
    x0 = std::min(x0, m.x);
    x1 = std::max(x1, m.x);
    y0 = std::min(y0, m.y);
    y1 = std::max(y1, m.y);
    if (m.told) most = std::max(most, std::hypot(m.left_x, m.left_y));
  }
  const QRectF room = bed.adjusted(26, 22, -26, -18);
  const double scale = std::min(room.width() / std::max(x1 - x0, 1.0), room.height() / std::max(y1 - y0, 1.0));
  constexpr double longest_px = 24;
  const double factor = most > 0 ? round_factor(longest_px / (most * scale)) : 0;
  if (factor > 0) draft.text({8, 14}, tr("what is left over, %1 times as large").arg(factor), theme().second_ink, 11);
  for (const At& m : marks_) {
    const QPointF c(room.center().x() + (m.x - (x0 + x1) / 2) * scale,
                    room.center().y() - (m.y - (y0 + y1) / 2) * scale);
    draft.line(c - QPointF(5, 0), c + QPointF(5, 0), theme().ink, 1.2);
    draft.line(c - QPointF(0, 5), c + QPointF(0, 5), theme().ink, 1.2);
    draft.text(c + QPointF(9, -6), m.name, theme().ink, 12, true);
    if (m.told) draft.line(c, c + QPointF(m.left_x, -m.left_y) * factor * scale, theme().red, 2);
  }
}

}  // namespace ypsi::app
