#include "app/sheets/steps_drawing.h"

#include <QPainter>
#include <cmath>

#include "app/drawing/draft.h"

namespace ypsi::app {
namespace {
constexpr double rule_edge_px = 46, rule_y = 30, told_y = 62, measured_y = 102, field_width = 112;

/// 1, 2 or 5 times a power of ten, so that a rule has about `wanted` numbers.
double round_division(double span, int wanted) {
  const double raw = span / wanted, power = std::pow(10, std::floor(std::log10(raw)));
  for (const double m : {1.0, 2.0, 5.0, 10.0})
    if (raw <= m * power) return m * power;
  return power * 10;
}
}  // namespace

StepsDrawing::StepsDrawing(QWidget* parent)
    : QWidget(parent),
      told_(new LengthField("told", tr("Told: how far the controller was sent"), this)),
      measured_(new LengthField("measured", tr("Measured: how far the axis really went"), this)) {
  setFixedHeight(126);
  told_->setFixedWidth(static_cast<int>(field_width));
  measured_->setFixedWidth(static_cast<int>(field_width));
}

void StepsDrawing::show(double span, double told, std::optional<double> measured, LengthUnit unit) {
  span_ = std::max(span, 1.0);
  unit_ = unit;
  told_->set_unit(unit);
  measured_->set_unit(unit);
  told_->show_value(told);
  measured_->show_value(measured);
  place_fields();
  update();
}

QPointF StepsDrawing::at(double mm, double y) const {
  return {rule_edge_px + std::fabs(mm) / span_ * (width() - 2 * rule_edge_px), y};
}

void StepsDrawing::place_fields() {
  const auto centre = [&](LengthField* field, double mm, double y) {
    const double x = std::max(rule_edge_px + field_width / 2 + 84, (rule_edge_px + at(mm, 0).x()) / 2);
    put_on_drawing(*field, {x, y});
  };
  centre(told_, told_->value().value_or(span_ / 2), told_y);
  centre(measured_, measured_->value().value_or(told_->value().value_or(span_ / 2)), measured_y);
}

void StepsDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const double per_unit = unit_ == LengthUnit::inch ? mm_per_inch : 1, shown_span = span_ / per_unit;
  const double division = round_division(shown_span, 8);
  draft.line(at(0, rule_y), at(span_, rule_y), theme().ink, 1.4);
  for (int i = 0; i * division / 10 <= shown_span * (1 + 1e-9); ++i) {
    const QPointF p = at(i * division / 10 * per_unit, rule_y);
    const bool numbered = i % 10 == 0;
    draft.line(p, p + QPointF(0, numbered ? -9 : i % 5 == 0 ? -6 : -4), theme().ink);
    const int division_number = i / 10;
    if (numbered)
      draft.text(p + QPointF(0, -13), QString::number(division_number * division), theme().second_ink, 11, false,
                 Qt::AlignHCenter);
  }
  const auto bar = [&](const LengthField* field, const LengthField* value_of, double y, const QString& word,
                       const QColor& colour) {
    const double mm = value_of->value().value_or(0);
    const double x0 = field->x() - 6, x1 = field->x() + field->width() + 6;
    const QPointF a = at(0, y), b = at(mm, y);
    draft.line(a - QPointF(0, 7), a + QPointF(0, 7), colour);
    draft.arrow_head(a, {-1, 0}, colour);
    draft.line(a, {x0 - 66, y}, colour);
    draft.text({x0 - 4, y + 4}, word, theme().second_ink, 12, false, Qt::AlignRight);
    if (b.x() > x1) draft.line({x1, y}, b, colour);
    draft.line(b - QPointF(0, 7), b + QPointF(0, 7), colour);
    if (b.x() > x1) draft.arrow_head(b, {1, 0}, colour);
  };
  bar(told_, told_, told_y, tr("told"), theme().ink);
  bar(measured_, measured_->value() ? measured_ : told_, measured_y, tr("measured"), theme().teal);
  for (const LengthField* f : {told_, measured_})
    if (f->value())
      draft.line(at(*f->value(), rule_y), at(*f->value(), measured_y + 14),
                 f == told_ ? theme().second_ink : theme().teal, 1, Qt::DashLine);
}

}  // namespace ypsi::app
