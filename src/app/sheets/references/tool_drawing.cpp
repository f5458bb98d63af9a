#include "app/sheets/references/tool_drawing.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/drawing/draft.h"
#include "app/session/session.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr double usual_length_mm = 25, collet_px = 46;
}

ToolDrawing::ToolDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("tool-drawing");
  setAccessibleName(tr("The chosen tool to scale"));
  setMinimumSize(190, 220);
}

void ToolDrawing::show(const std::optional<Tool>& tool, LengthUnit unit) {
  tool_ = tool;
  unit_ = unit;
  update();
}

void ToolDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  if (!tool_) {
    draft.text(rect().center(), tr("Choose a tool."), theme().second_ink, 12, false, Qt::AlignHCenter);
    return;
  }
  const Tool& t = *tool_;
  const double length = t.length_out > 0 ? t.length_out : usual_length_mm, wide = std::max(t.diameter, 1.0);
  const double scale = std::min((height() - collet_px - 96.0) / length, (width() - 110.0) / wide);
  const double x = width() / 2.0 - 20, top = 40 + collet_px, tip = top + length * scale;
  const double half = std::max(t.diameter * scale / 2, 1.5);
  draft.text({8, 16}, tr("To scale"), theme().second_ink, 11);
  draft.box(QRectF(x - 26, 40, 52, collet_px), theme().ink, theme().teal_soft, 1.4);
  QPolygonF body;
  if (t.angle > 0 && t.angle < 180) {
    // A point of the given full angle, cut off at the width of its tip.
    const double point = std::max(t.tip * scale / 2, 0.0);
    const double high = std::min((half - point) / std::tan(t.angle / 2 * std::numbers::pi / 180), length * scale * 0.9);
    body << QPointF(x - half, top) << QPointF(x + half, top) << QPointF(x + half, tip - high) << QPointF(x + point, tip)
         << QPointF(x - point, tip) << QPointF(x - half, tip - high);
  } else if (t.kind == "ball") {
    body << QPointF(x - half, top) << QPointF(x + half, top) << QPointF(x + half, tip - half);
    for (int i = 1; i < 12; ++i) {
      const double a = i * std::numbers::pi / 12;
      body << QPointF(x + half * std::cos(a), tip - half + half * std::sin(a));
    }
    body << QPointF(x - half, tip - half);
  } else {
    body << QPointF(x - half, top) << QPointF(x + half, top) << QPointF(x + half, tip) << QPointF(x - half, tip);
  }
  painter.setPen(QPen(theme().ink, 1.4));
  painter.setBrush(theme().sheet);
  painter.drawPolygon(body);
  painter.setBrush(Qt::NoBrush);
  const auto words = [&](double mm, int d) { return to_q(format_length(mm, unit_, d) + " " + unit_name(unit_)); };
  draft.text({x, tip + 20}, t.diameter > 0 ? tr("⌀ %1").arg(words(t.diameter, 2)) : tr("⌀ not known"), theme().ink, 12,
             true, Qt::AlignHCenter);
  QStringList more;
  if (t.angle > 0) more << QString("%1°").arg(t.angle);
  if (t.tip > 0) more << tr("tip %1").arg(words(t.tip, 2));
  if (t.flutes > 0) more << tr("%1 flutes").arg(t.flutes);
  draft.text({x, tip + 38}, more.join(", "), theme().second_ink, 11, false, Qt::AlignHCenter);
  const double dim = x + std::max(half, 26.0) + 18;
  draft.line({dim, top}, {dim, tip}, theme().second_ink);
  draft.arrow_head({dim, top}, {0, -1}, theme().second_ink);
  draft.arrow_head({dim, tip}, {0, 1}, theme().second_ink);
  draft.text({dim + 6, (top + tip) / 2 + 4}, t.length_out > 0 ? words(t.length_out, 1) : tr("not known"), theme().ink,
             11);
}

}  // namespace ypsi::app
