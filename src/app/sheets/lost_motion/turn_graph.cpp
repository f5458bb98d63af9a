#include "app/sheets/lost_motion/turn_graph.h"

#include <qcustomplot.h>

#include <QVBoxLayout>
#include <algorithm>

#include "app/drawing/plot_look.h"
#include "app/theme/theme.h"
#include "app/to_q.h"
#include "core/book/worksheets/lost_motion.h"

namespace ypsi::app {
namespace {

constexpr double thousandths = 1000;
constexpr int curve_points = 200;

}  // namespace

TurnGraph::TurnGraph(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(plot_);
  plot_->setObjectName("turn-graph");
  plot_->setAccessibleName(tr("Deviation over the places, with the wave that fits it"));
  plot_->setMinimumHeight(150);
}

void TurnGraph::show(const std::vector<TurnReading>& readings, const std::optional<PeriodicError>& result, double turn,
                     LengthUnit unit) {
  plot_->clearPlottables();
  plot_->clearItems();
  const auto small = [&](double mm) { return in_unit(mm, unit) * thousandths; };
  double low = -1, high = 1;
  if (result) {
    QVector<double> x, y, at, off;
    for (std::size_t i = 0; i < readings.size(); ++i) {
      at << in_unit(readings[i].place, unit);
      off << small(wave_at(*result, turn, readings[i].place) + result->residuals[i]);
      low = std::min(low, off.back());
      high = std::max(high, off.back());
    }
    const auto [first, last] = std::minmax_element(
        readings.begin(), readings.end(), [](const TurnReading& a, const TurnReading& b) { return a.place < b.place; });
    for (int i = 0; i <= curve_points; ++i) {
      const double place = first->place + (last->place - first->place) * i / curve_points;
      x << in_unit(place, unit);
      y << small(wave_at(*result, turn, place));
    }
    auto* curve = plot_->addGraph();
    curve->setData(x, y);
    curve->setPen(QPen(theme().teal, 2));
    auto* points = plot_->addGraph();
    points->setData(at, off);
    points->setLineStyle(QCPGraph::lsNone);
    points->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, theme().ink, 5));
    const double margin = (x.last() - x.first()) * 0.04;
    plot_->xAxis->setRange(x.first() - margin, x.last() + margin);
  } else {
    say_in(*plot_, tr("What the axis repeats with every turn will stand here, from six readings on."));
  }
  dress(*plot_);
  plot_->xAxis->setLabel(tr("machine position, %1").arg(to_q(unit_name(unit))));
  plot_->yAxis->setLabel(unit == LengthUnit::inch ? tr("off, 0.001 in")
                                                  : tr("off, 0.001 %1").arg(to_q(unit_name(unit))));
  const double room = (high - low) * 0.1;
  plot_->yAxis->setRange(low - room, high + room);
  plot_->replot();
}

}  // namespace ypsi::app
