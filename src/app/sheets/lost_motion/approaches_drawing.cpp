#include "app/sheets/lost_motion/approaches_drawing.h"

#include <algorithm>
#include <cmath>

#include "app/drawing/draft.h"
#include "app/session/session.h"
#include "app/to_q.h"

namespace ypsi::app {
namespace {
constexpr double approach_y = 62, approach_field_px = 92;
}

ApproachesDrawing::ApproachesDrawing(QWidget* parent) : QWidget(parent) {
  setObjectName("approaches");
  setAccessibleName(ApproachesDrawing::tr("Two arrivals at one place, and what each place lost"));
  plus_ = new LengthField("arriving-plus", ApproachesDrawing::tr("Reading after arriving towards +"), this);
  minus_ = new LengthField("arriving-minus", ApproachesDrawing::tr("Reading after arriving towards −"), this);
  for (auto* f : {plus_, minus_}) {
    f->set_decimals(3);
    f->setFixedWidth(static_cast<int>(approach_field_px));
  }
}

void ApproachesDrawing::show(Axis axis, LengthUnit unit, TwoApproaches::Stage stage, std::vector<double> places,
                             std::optional<LostMotionResult> result) {
  axis_ = axis;
  unit_ = unit;
  stage_ = stage;
  places_ = std::move(places);
  result_ = std::move(result);
  plus_->set_unit(unit);
  minus_->set_unit(unit);
  update();
}

void ApproachesDrawing::resizeEvent(QResizeEvent*) {
  put_on_drawing(*plus_, {middle() - 150, approach_y - 1.0});
  put_on_drawing(*minus_, {middle() + 150, approach_y - 1.0});
}

void ApproachesDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  using Stage = TwoApproaches::Stage;
  const double m = middle();
  const QString name(QChar(letter(axis_)));
  const auto arrival = [&](double side, bool now) {
    const QColor colour = now ? theme().teal : theme().second_ink;
    draft.line({m + side * 260, approach_y}, {m + side * 12, approach_y}, colour, now ? 4 : 2);
    draft.arrow_head({m + side * 10, approach_y}, {-side, 0}, colour, now ? 15 : 10);
    draft.text({m + side * 150, approach_y - 24},
               side < 0 ? ApproachesDrawing::tr("arriving towards +%1").arg(name)
                        : ApproachesDrawing::tr("arriving towards −%1").arg(name),
               theme().ink, 12, true, Qt::AlignHCenter);
  };
  draft.line({m, approach_y - 34}, {m, approach_y + 34}, theme().red, 2);
  draft.text({m, approach_y + 48}, ApproachesDrawing::tr("one place, read twice"), theme().second_ink, 11, false,
             Qt::AlignHCenter);
  arrival(-1, stage_ == Stage::arriving_plus || stage_ == Stage::read_plus);
  arrival(1, stage_ == Stage::arriving_minus || stage_ == Stage::read_minus);
  if (!result_ || places_.empty()) return;

  // What each place lost, over where it is on the travel.
  const QRectF chart(64, approach_y + 76, width() - 90.0, std::max(60.0, height() - approach_y - 112));
  const auto ends = std::minmax_element(places_.begin(), places_.end());
  const double first = *ends.first, last = *ends.second, span = std::max(1.0, last - first);
  double low = std::min(0.0, result_->mean - result_->U), high = std::max(0.0, result_->mean + result_->U);
  for (const double d : result_->each) {
    low = std::min(low, d);
    high = std::max(high, d);
  }
  const double room = std::max(1e-4, high - low) * 0.12;
  const auto x = [&](double place) { return chart.left() + 20 + (place - first) / span * (chart.width() - 40); };
  const auto y = [&](double lost) {
    return chart.bottom() - (lost - low + room) / (high - low + 2 * room) * chart.height();
  };
  draft.box(QRectF(QPointF(chart.left(), y(result_->mean + result_->U)),
                   QPointF(chart.right(), y(result_->mean - result_->U))),
            Qt::transparent, theme().teal_soft, 0);
  draft.line({chart.left(), y(0)}, {chart.right(), y(0)}, theme().second_ink);
  draft.line({chart.left(), y(result_->mean)}, {chart.right(), y(result_->mean)}, theme().teal, 2);
  const auto label = [&](double lost, const QColor& colour) {
    draft.text({chart.left() - 8, y(lost) + 4}, to_q(format_length(lost, unit_, 2)), colour, 11, false, Qt::AlignRight);
  };
  label(0, theme().second_ink);
  if (std::fabs(y(0) - y(result_->mean)) > 14) label(result_->mean, theme().teal);
  for (std::size_t i = 0; i < places_.size(); ++i) {
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(theme().teal);
    painter.drawEllipse(QPointF(x(places_[i]), y(result_->each[i])), 5, 5);
  }
  painter.setBrush(Qt::NoBrush);
  draft.text({chart.left(), chart.bottom() + 18},
             ApproachesDrawing::tr("%1 at %2").arg(name, to_q(format_length(first, unit_, 0))), theme().second_ink, 11);
  draft.text({chart.right(), chart.bottom() + 18}, to_q(format_length(last, unit_, 0)), theme().second_ink, 11, false,
             Qt::AlignRight);
}

}  // namespace ypsi::app
