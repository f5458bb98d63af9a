#include "app/sheets/bed/sweep_drawing.h"

#include <cmath>
#include <numbers>

#include "app/drawing/draft.h"
#include "app/session/session.h"
#include "app/to_q.h"
#include "core/book/worksheets/bed.h"

namespace ypsi::app {
namespace {

constexpr double sweep_field_px = 86, least_shim_mm = 0.005;

QPointF way(int place) {
  const double a = place * std::numbers::pi / 4;
  return {std::cos(a), -std::sin(a)};
}

}  // namespace

SweepDrawing::SweepDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("sweep-drawing");
  setAccessibleName(tr("The circle swept by the indicator, and the bolts of the mount"));
  setMinimumHeight(330);
  const auto field = [this](const QString& name, const QString& what, int decimals) {
    auto* f = new LengthField(name, what, this);
    f->set_decimals(decimals);
    f->setFixedWidth(static_cast<int>(sweep_field_px));
    return f;
  };
  for (int i = 0; i < sweep_places; ++i)
    readings_[static_cast<std::size_t>(i)] =
        field(QString("sweep-%1").arg(i * 45), tr("Indicator at %1°, rising when pushed in").arg(i * 45), 3);
  radius_ = field("sweep-radius", tr("From the spindle's axis to the indicator's tip"), 0);
  bolts_x_ = field("bolts-x", tr("Between the bolt rows along X"), 0);
  bolts_y_ = field("bolts-y", tr("Between the bolt rows along Y"), 0);
}

double SweepDrawing::circle() const {
  return std::max(24.0, std::min(width() * 0.30 - sweep_field_px - 18, height() / 2.0 - 30 - radius_->height()));
}

QRectF SweepDrawing::mount() const {
  const double side = std::clamp(width() * 0.17, 70.0, 130.0);
  return {width() - side - 108, height() / 2.0 - side / 2, side, side};
}

void SweepDrawing::show(const BedWorksheet& sheet, const std::optional<TramResult>& result, LengthUnit unit) {
  result_ = result;
  unit_ = unit;
  for (int i = 0; i < sweep_places; ++i) {
    auto* f = reading(i);
    f->set_unit(unit);
    std::optional<double> value;
    for (const auto& p : sheet.sweep)
      if (p.angle_deg == i * 45) value = p.reading_mm;
    f->show_value(value);
  }
  for (auto* f : {radius_, bolts_x_, bolts_y_}) f->set_unit(unit);
  radius_->show_value(sheet.sweep_radius_mm);
  bolts_x_->show_value(sheet.bolt_spacing_x_mm);
  bolts_y_->show_value(sheet.bolt_spacing_y_mm);
  update();
}

void SweepDrawing::place_fields() {
  const QPointF c = centre();
  const double r = circle(), high = radius_->height();
  for (int i = 0; i < sweep_places; ++i) {
    // On an ellipse about the circle, high enough that no field lies over the next.
    const QPointF d = way(i);
    put_on_drawing(*reading(i),
                   c + QPointF(d.x() * (r + 14 + sweep_field_px / 2), d.y() * std::max(r + high, 3.72 * high)));
  }
  put_on_drawing(*radius_, {c.x() + r / 2, c.y() - 4 - high});
  const QRectF m = mount();
  constexpr int narrow_px = 560;  // there the field makes way for the sweep's
  put_on_drawing(*bolts_x_, {width() < narrow_px ? m.right() - sweep_field_px / 2 + 20 : m.center().x(),
                             m.bottom() + 34 + high / 2});
  put_on_drawing(*bolts_y_, {m.right() + 20 + sweep_field_px / 2, m.center().y()});
}

void SweepDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QPointF c = centre();
  const double r = circle();
  draft.text({8, 16}, tr("Plan, seen from the front: +X to the right, +Y away from you"), theme().second_ink, 11);
  painter.setPen(QPen(theme().rule, 1));
  painter.setBrush(theme().paper);
  painter.drawEllipse(c, r + 10, r + 10);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme().ink, 1.6, Qt::DashLine));
  painter.drawEllipse(c, r, r);
  draft.line(c - QPointF(r, 0), c + QPointF(r, 0), theme().rule);
  draft.line(c - QPointF(0, r), c + QPointF(0, r), theme().rule);
  draft.tool_plan(c, 9);
  draft.line(c, c + QPointF(r, 0), theme().second_ink);
  draft.arrow_head(c + QPointF(r, 0), {1, 0}, theme().second_ink);
  for (int i = 0; i < sweep_places; ++i) {
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(reading(i)->value() ? theme().teal : theme().sheet);
    painter.drawEllipse(c + way(i) * r, 5, 5);
  }
  painter.setBrush(Qt::NoBrush);
  if (result_) {
    const double size = std::hypot(result_->tilt_x, result_->tilt_y);
    if (size > 1e-6) {
      // The way the spindle's top leans.
      const QPointF d(result_->tilt_x / size, -result_->tilt_y / size);
      draft.line(c, c + d * r * 0.62, theme().ochre, 4);
      draft.arrow_head(c + d * r * 0.66, d, theme().ochre, 14);
      draft.text(c + QPointF(0, r * 0.5), tr("its top leans this way"), theme().ochre, 11, true, Qt::AlignHCenter);
    }
  }
  const QRectF m = mount();
  draft.text({m.center().x(), m.top() - 28}, tr("the mount from above"), theme().second_ink, 11, false,
             Qt::AlignHCenter);
  draft.box(m, theme().ink, theme().paper, 1.6);
  draft.tool_plan(m.center(), 12);
  const double inset = 14;
  const auto shimmed = [&](bool right, bool back) {
    if (!result_) return false;
    const bool by_x = std::fabs(result_->shim_x) >= least_shim_mm && right == (result_->shim_x > 0);
    const bool by_y = std::fabs(result_->shim_y) >= least_shim_mm && back == (result_->shim_y > 0);
    return by_x || by_y;
  };
  for (const bool right : {false, true})
    for (const bool back : {false, true}) {
      const QPointF at(right ? m.right() - inset : m.left() + inset, back ? m.top() + inset : m.bottom() - inset);
      painter.setPen(QPen(theme().ink, 1.6));
      painter.setBrush(shimmed(right, back) ? theme().ochre : theme().sheet);
      painter.drawEllipse(at, 7, 7);
    }
  painter.setBrush(Qt::NoBrush);
  draft.line({m.left() + inset, m.bottom() + 20}, {m.right() - inset, m.bottom() + 20}, theme().second_ink);
  draft.arrow_head({m.left() + inset, m.bottom() + 20}, {-1, 0}, theme().second_ink);
  draft.arrow_head({m.right() - inset, m.bottom() + 20}, {1, 0}, theme().second_ink);
  draft.line({m.right() + 12, m.top() + inset}, {m.right() + 12, m.bottom() - inset}, theme().second_ink);
  draft.arrow_head({m.right() + 12, m.top() + inset}, {0, -1}, theme().second_ink);
  draft.arrow_head({m.right() + 12, m.bottom() - inset}, {0, 1}, theme().second_ink);
  if (result_) {
    double y = m.bottom() + 86;
    const auto say = [&](double shim, const QString& plus, const QString& minus) {
      if (std::fabs(shim) < least_shim_mm) return;
      draft.text({m.center().x(), y},
                 (shim > 0 ? plus : minus).arg(to_q(format_length(std::fabs(shim), unit_, 3) + " " + unit_name(unit_))),
                 theme().ochre, 12, true, Qt::AlignHCenter);
      y += 18;
    };
    say(result_->shim_x, tr("%1 under the right row"), tr("%1 under the left row"));
    say(result_->shim_y, tr("%1 under the back row"), tr("%1 under the front row"));
  }
}

void SweepDrawing::resizeEvent(QResizeEvent*) {
  place_fields();
}

}  // namespace ypsi::app
