#include "app/sheets/trials/trial_curve.h"

#include <qcustomplot.h>

#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/drawing/plot_look.h"
#include "app/theme/theme.h"
#include "core/book/worksheets/trials.h"

namespace ypsi::app {
namespace {

constexpr int trial_curve_points = 160;

double share_below(double z) {
  return 0.5 * std::erfc(-z / std::numbers::sqrt2);
}

}  // namespace

TrialCurve::TrialCurve(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(plot_);
  plot_->setObjectName("trial-curve");
  plot_->setAccessibleName(tr("Which cuts went through and which marked what lies below, over the level"));
  plot_->setMinimumHeight(140);
}

void TrialCurve::show(const TrialsWorksheet& sheet, const std::optional<TrialFinding>& found,
                      const std::optional<TrialRange>& range, const QString& level_words) {
  plot_->clearPlottables();
  plot_->clearItems();
  const auto points = [&](bool backing, const QColor& colour, QCPScatterStyle::ScatterShape shape) {
    QVector<double> x, y;
    std::vector<TriedLevel> all;
    for (const TrialLook& l : sheet.looks)
      if (!backing || l.backing != Backing::not_looked)
        all.push_back({l.level, backing ? l.backing == Backing::marked : l.through});
    for (const LevelTrial& t : by_level(all)) {
      x << t.level;
      y << static_cast<double>(t.yes) / (t.yes + t.no);
    }
    auto* graph = plot_->addGraph();
    graph->setData(x, y);
    graph->setLineStyle(QCPGraph::lsNone);
    graph->setScatterStyle(QCPScatterStyle(shape, colour, colour, 9));
  };
  const auto curve = [&](const std::optional<Threshold>& t, const QColor& colour) {
    if (!t || !t->threshold || !range) return;
    QVector<double> x, y;
    if (t->sigma) {
      for (int i = 0; i <= trial_curve_points; ++i) {
        x << range->low + (range->high - range->low) * i / trial_curve_points;
        y << share_below((x.last() - *t->threshold) / *t->sigma);
      }
    } else {
      x = {range->low, t->low.value_or(range->low), t->high.value_or(range->high), range->high};
      y = {0, 0, 1, 1};
    }
    auto* graph = plot_->addGraph();
    graph->setData(x, y);
    graph->setPen(QPen(colour, 2.2, t->sigma ? Qt::SolidLine : Qt::DashLine));
  };
  if (found && found->low && found->high && *found->low < *found->high) {
    auto* band = plot_->addGraph();
    band->setData({*found->low, *found->high}, {1, 1});
    band->setPen(Qt::NoPen);
    band->setBrush(theme().teal_soft);
  }
  if (found) {
    for (const auto& [level, colour] : {std::pair{found->low, theme().teal}, {found->high, theme().red}}) {
      if (!level) continue;
      auto* line = plot_->addGraph();
      line->setData({*level, *level}, {0, 1.06});
      line->setPen(QPen(colour, 1.4, Qt::DashLine));
    }
    curve(found->through, theme().teal);
    curve(found->backing, theme().red);
    if (found->set) {
      auto* text = new QCPItemText(plot_);
      text->position->setCoords(*found->set, 1.13);
      text->setText(found->low && found->high ? tr("set it here") : tr("from here"));
      text->setFont(text_font(12, true));
      text->setColor(theme().ink);
    }
  }
  if (sheet.looks.empty()) say_in(*plot_, tr("Each cut will stand here: yes above, no below."));
  points(false, theme().teal, QCPScatterStyle::ssDisc);
  points(true, theme().red, QCPScatterStyle::ssSquare);
  dress(*plot_);
  if (range) plot_->xAxis->setRange(range->low, range->high);
  plot_->yAxis->setRange(-0.06, 1.24);
  plot_->xAxis->setLabel(level_words);
  plot_->yAxis->setLabel(tr("share of cuts"));
  plot_->replot();
}

}  // namespace ypsi::app
