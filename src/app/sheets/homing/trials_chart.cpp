#include "app/sheets/homing/trials_chart.h"

#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/session.h"
#include "app/to_q.h"

namespace ypsi::app {

TrialsChart::TrialsChart(QWidget* parent) : QWidget(parent) {
  setObjectName("trials-chart");
  setAccessibleName(tr("Where homing ended, trial by trial"));
  setMinimumHeight(220);
  field_ = new LengthField("trial-reading", tr("What the indicator says now"), this);
  field_->set_decimals(3);
  field_->setFixedWidth(96);
}

void TrialsChart::show(const std::vector<double>& places, const std::optional<HomingResult>& result, double tolerance,
                       int trials, bool asks, LengthUnit unit) {
  places_ = places;
  result_ = result;
  tolerance_ = tolerance;
  trials_ = std::max(trials, static_cast<int>(places.size()));
  unit_ = unit;
  field_->set_unit(unit);
  field_->setVisible(asks);
  place_field();
  update();
}

double TrialsChart::x_of(double trial) const {
  return chart().left() + (trial - 0.5) / trials_ * chart().width();
}

void TrialsChart::place_field() {
  put_on_drawing(*field_, {x_of(static_cast<double>(places_.size()) + 1), height() - 20.0});
}

void TrialsChart::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  const QRectF r = chart();
  double middle = 0;
  for (const double p : places_) middle += p / static_cast<double>(places_.size());
  double reach = tolerance_ * 1.3;
  for (const double p : places_) reach = std::max(reach, std::fabs(p - middle) * 1.2);
  const auto y_of = [&](double place) { return r.center().y() - (place - middle) / reach * r.height() / 2; };
  draft.box(r, theme().rule, theme().sheet);
  if (result_) {
    const double s2 = 2 * result_->s;
    draft.box(QRectF(QPointF(r.left(), y_of(middle + s2)), QPointF(r.right(), y_of(middle - s2))), Qt::transparent,
              theme().teal_soft, 0);
    draft.text({r.right() - 6, y_of(middle + s2) - 4}, tr("±2s"), theme().teal, 11, true, Qt::AlignRight);
  }
  const auto level = [&](double place, const QString& words, const QColor& colour, Qt::PenStyle style) {
    draft.line({r.left(), y_of(place)}, {r.right(), y_of(place)}, colour, 1, style);
    draft.text({r.left() - 6, y_of(place) + 4}, words, colour, 11, false, Qt::AlignRight);
  };
  const auto small = [&](double mm) {
    return to_q(format_signed(in_unit(mm, unit_), unit_ == LengthUnit::inch ? 4 : 3));
  };
  level(middle, "0", theme().second_ink, Qt::SolidLine);
  level(middle + tolerance_, small(tolerance_), theme().red, Qt::DashLine);
  level(middle - tolerance_, small(-tolerance_), theme().red, Qt::DashLine);
  draft.text({r.left(), r.top() - 8}, tr("from the mean, %1; dashed: what is asked").arg(to_q(unit_name(unit_))),
             theme().second_ink, 11);
  if (result_ && result_->verdict == HomingVerdict::drifting) {
    const double n = static_cast<double>(places_.size()), from = middle - result_->drift * (n - 1) / 2;
    draft.line({x_of(1), y_of(from)}, {x_of(n), y_of(from + result_->drift * (n - 1))}, theme().ochre, 2.4);
    draft.text({x_of(n) - 4, y_of(from + result_->drift * (n - 1)) - 10}, tr("drift"), theme().ochre, 12, true,
               Qt::AlignRight);
  }
  for (std::size_t i = 0; i < places_.size(); ++i) {
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(theme().teal);
    painter.drawEllipse(QPointF(x_of(static_cast<double>(i) + 1), y_of(places_[i])), 5, 5);
  }
  painter.setBrush(Qt::NoBrush);
  const int every = trials_ > 20 ? 5 : 1;
  for (int t = 1; t <= trials_; t += every)
    draft.text({x_of(t), r.bottom() + 16}, QString::number(t), theme().second_ink, 10, false, Qt::AlignHCenter);
  draft.text({r.right(), height() - 12.0}, tr("trial"), theme().second_ink, 11, false, Qt::AlignRight);
  if (places_.empty())
    draft.text(r.center() + QPointF(0, -14), tr("A dot will stand here for each homing."), theme().second_ink, 12,
               false, Qt::AlignHCenter);
}

void TrialsChart::resizeEvent(QResizeEvent*) {
  place_field();
}

}  // namespace ypsi::app
