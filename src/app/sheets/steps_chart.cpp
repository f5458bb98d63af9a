#include "app/sheets/steps_chart.h"

#include <qcustomplot.h>

#include "app/drawing/drive_section.h"
#include "app/drawing/plot_look.h"
#include "app/session/session.h"
#include "app/theme/theme.h"
#include "app/to_q.h"
#include "core/calibration/scale.h"
#include "core/calibration/suspects.h"

namespace ypsi::app {
namespace {
constexpr std::size_t drawn_at_most = 2;
constexpr int least_height_px = 84;
}  // namespace

/// One drive more than once: as entered, and as the readings say that it behaves.
class TwoDrives : public QWidget {
 public:
  explicit TwoDrives(QWidget* parent) : QWidget(parent) {
    setObjectName("two-drives");
    setAccessibleName(StepsChart::tr("The drive as in the book, and as it behaves"));
  }
  void show(const DriveTrain& entered, std::vector<DriveTrain> behaves) {
    entered_ = entered;
    behaves_ = std::move(behaves);
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    Draft draft(painter);
    const double each = width() / (1.0 + static_cast<double>(behaves_.size()));
    const auto one = [&](double left, const DriveTrain& drive, const QString& words, const QColor& colour) {
      draft.text({left + 4, 14}, words, colour, 12, true);
      draft.text({left + 4, 30}, transmission_words(drive.transmission), theme().second_ink, 11);
      draft.text({left + 4, 45}, StepsChart::tr("1/%1 microsteps").arg(drive.microsteps), theme().second_ink, 11);
      draw_drive(draft, QRectF(left + 4, 50, each - 24, height() - 52.0), drive);
      if (left > 0) draft.line({left - 8, 6}, {left - 8, height() - 6.0}, theme().rule);
    };
    one(0, entered_, StepsChart::tr("As in the book"), theme().ink);
    for (std::size_t i = 0; i < behaves_.size(); ++i)
      one(each * static_cast<double>(i + 1), behaves_[i],
          i == 0 ? StepsChart::tr("It behaves like") : StepsChart::tr("or like"), theme().ochre);
  }

 private:
  DriveTrain entered_;
  std::vector<DriveTrain> behaves_;
};

StepsChart::StepsChart(QWidget* parent)
    : QStackedWidget(parent), plot_(new QCustomPlot(this)), drives_(new TwoDrives(this)) {
  plot_->setObjectName("residuals");
  plot_->setAccessibleName(tr("Residuals of the fit"));
  setMinimumHeight(least_height_px);
  addWidget(plot_);
  addWidget(drives_);
}

void StepsChart::show(const ScaleInput& input, const std::optional<ScaleResult>& result, const DriveTrain& drive,
                      LengthUnit unit) {
  std::vector<DriveTrain> behaves;
  if (result && result->verdict == ScaleVerdict::gross_error)
    for (const auto& suspect : result->suspects)
      if (const auto other = drive_as_it_behaves(drive, suspect); other && behaves.size() < drawn_at_most)
        behaves.push_back(*other);
  if (!behaves.empty()) {
    drives_->show(drive, std::move(behaves));
    setCurrentIndex(1);
    return;
  }
  setCurrentIndex(0);
  show_residuals(input, result, unit);
}

void StepsChart::show_residuals(const ScaleInput& input, const std::optional<ScaleResult>& result, LengthUnit unit) {
  plot_->clearPlottables();
  plot_->clearItems();
  QVector<double> x, y, u;
  double widest = 0.01, longest = 1;
  if (result && result->fit)
    for (std::size_t i = 0; i < input.readings.size(); ++i) {
      const auto& r = result->fit->readings[i];
      x << in_unit(std::fabs(input.readings[i].commanded), unit);
      y << in_unit(r.residual, unit);
      u << in_unit(r.u, unit);
      widest = std::max({widest, std::fabs(y.last()) + u.last()});
      longest = std::max(longest, x.last());
    }
  const double one = x.isEmpty() ? 0 : in_unit(input.instrument.u_mm(0), unit);
  if (!x.isEmpty()) {
    auto* band = new QCPItemRect(plot_);
    band->setPen(Qt::NoPen);
    band->setBrush(theme().teal_soft);
    band->setSelectable(false);
    band->topLeft->setCoords(0, one);
    band->bottomRight->setCoords(longest * 1.05, -one);
  }
  auto* zero = new QCPItemStraightLine(plot_);
  zero->setPen(QPen(theme().ink, 1.2));
  zero->point1->setCoords(0, 0);
  zero->point2->setCoords(1, 0);
  auto* graph = plot_->addGraph();
  graph->setData(x, y);
  graph->setLineStyle(QCPGraph::lsNone);
  graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, theme().teal, 8));
  auto* bars = new QCPErrorBars(plot_->xAxis, plot_->yAxis);
  bars->setData(u);
  bars->setDataPlottable(graph);
  bars->setPen(QPen(theme().teal, 1.4));
  bars->setSymbolGap(0);
  dress(*plot_, AxisLines::hidden);
  plot_->xAxis->grid()->setVisible(false);
  plot_->xAxis->setLabel(tr("distance told, %1").arg(to_q(unit_name(unit))));
  plot_->xAxis->setRange(0, longest * 1.05);
  plot_->yAxis->setRange(-widest * 1.2, widest * 1.2);
  plot_->yAxis->ticker()->setTickCount(4);
  plot_->xAxis->setVisible(!x.isEmpty());
  plot_->yAxis->setVisible(!x.isEmpty());
  if (x.isEmpty()) say_in(*plot_, tr("What each reading differs by will stand here."), 0.3);
  plot_->replot();
}

}  // namespace ypsi::app
