#include "app/sheets/lost_motion/deviation_graph.h"

#include <qcustomplot.h>

#include <QVBoxLayout>

#include "app/drawing/plot_look.h"
#include "app/session/session.h"
#include "app/theme/theme.h"
#include "app/to_q.h"
#include "core/calibration/positioning.h"

namespace ypsi::app {

DeviationGraph::DeviationGraph(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(plot_);
  plot_->setObjectName("deviation-graph");
  plot_->setAccessibleName(tr("Deviation over the travel, both directions, with bands of two standard deviations"));
  plot_->setMinimumHeight(170);
  // Above the graph, in a row of its own, where it covers nothing.
  plot_->plotLayout()->insertRow(0);
  plot_->plotLayout()->addElement(0, 0, plot_->legend);
  plot_->plotLayout()->setRowStretchFactor(0, 0.001);
  plot_->legend->setFillOrder(QCPLegend::foColumnsFirst);
}

void DeviationGraph::show(const PositioningReadings& readings, const std::optional<PositioningResult>& result,
                          LengthUnit unit) {
  plot_->clearPlottables();
  plot_->clearItems();
  const bool inch = unit == LengthUnit::inch;
  // Deviations are thousandths: µm, or thousandths of an inch.
  const auto small = [&](double mm) { return in_unit(mm, unit) * 1000; };
  QVector<double> x;
  for (const double t : readings.targets) x << in_unit(t, unit);
  double low = -1, high = 1;
  const auto curve = [&](const QVector<double>& y, const QPen& pen, const QString& name,
                         QCPScatterStyle::ScatterShape shape) {
    auto* g = plot_->addGraph();
    g->setData(x, y);
    g->setPen(pen);
    if (shape != QCPScatterStyle::ssNone) g->setScatterStyle(QCPScatterStyle(shape, pen.color(), 8));
    if (name.isEmpty())
      g->removeFromLegend();
    else
      g->setName(name);
    for (const double v : y) {
      low = std::min(low, v);
      high = std::max(high, v);
    }
    return g;
  };
  plot_->legend->setVisible(result.has_value());
  if (result) {
    const auto direction = [&](double PositioningResult::Target::*mean, double PositioningResult::Target::*s,
                               const QColor& colour, const QString& name, QCPScatterStyle::ScatterShape shape) {
      QVector<double> middle, top, bottom;
      for (const auto& t : result->targets) {
        middle << small(t.*mean);
        top << small(t.*mean + 2 * t.*s);
        bottom << small(t.*mean - 2 * t.*s);
      }
      const QPen edge(colour, 1, Qt::DashLine);
      auto* upper = curve(top, edge, {}, QCPScatterStyle::ssNone);
      auto* lower = curve(bottom, edge, {}, QCPScatterStyle::ssNone);
      QColor band = colour;
      band.setAlpha(40);
      upper->setBrush(band);
      upper->setChannelFillGraph(lower);
      curve(middle, QPen(colour, 2), name, shape);
    };
    using Target = PositioningResult::Target;
    direction(&Target::mean_plus, &Target::s_plus, theme().teal, tr("x̄↑ moving towards +, with ±2s"),
              QCPScatterStyle::ssTriangle);
    direction(&Target::mean_minus, &Target::s_minus, theme().ochre, tr("x̄↓ moving towards −, with ±2s"),
              QCPScatterStyle::ssTriangleInverted);
  }
  for (const auto& run : readings.runs) {
    // A run that is not at its end yet has its readings from the side it began at.
    QVector<double> at, y;
    const std::size_t n = run.deviations.size(), from = run.plus ? 0 : readings.targets.size() - n;
    for (std::size_t i = 0; i < n && from + i < readings.targets.size(); ++i) {
      at << in_unit(readings.targets[from + i], unit);
      y << small(run.deviations[i]);
    }
    auto* g = plot_->addGraph();
    g->removeFromLegend();
    g->setData(at, y);
    g->setLineStyle(QCPGraph::lsNone);
    g->setScatterStyle(QCPScatterStyle(run.plus ? QCPScatterStyle::ssPlus : QCPScatterStyle::ssCross,
                                       run.plus ? theme().teal : theme().ochre, 5));
    for (const double v : y) {
      low = std::min(low, v);
      high = std::max(high, v);
    }
  }
  dress(*plot_);
  plot_->legend->setFont(text_font(10));
  plot_->legend->setTextColor(theme().ink);
  plot_->legend->setBrush(theme().sheet);
  plot_->legend->setBorderPen(Qt::NoPen);
  plot_->xAxis->setLabel(tr("target, machine position, %1").arg(to_q(unit_name(unit))));
  plot_->yAxis->setLabel(inch                         ? tr("deviation, 0.001 in")
                         : unit == LengthUnit::degree ? tr("deviation, 0.001°")
                                                      : tr("deviation, µm"));
  const double room = (high - low) * 0.1;
  plot_->yAxis->setRange(low - room, high + room);
  if (!x.isEmpty()) {
    const double margin = (x.last() - x.first()) * 0.04;
    plot_->xAxis->setRange(x.first() - margin, x.last() + margin);
  }
  if (readings.runs.empty()) say_in(*plot_, tr("Deviations will stand here over the travel, in both directions."));
  plot_->replot();
}

}  // namespace ypsi::app
