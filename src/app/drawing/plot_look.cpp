#include "app/drawing/plot_look.h"

#include <qcustomplot.h>

#include "app/theme/theme.h"

namespace ypsi::app {

void dress(QCustomPlot& plot, AxisLines lines) {
  constexpr double zero_line = 1.2;
  plot.setBackground(theme().sheet);
  const bool shown = lines == AxisLines::shown;
  for (QCPAxis* axis : {plot.xAxis, plot.yAxis}) {
    axis->setBasePen(shown ? QPen(theme().second_ink) : QPen(Qt::NoPen));
    axis->setTickPen(shown ? QPen(theme().second_ink) : QPen(Qt::NoPen));
    axis->setSubTickPen(Qt::NoPen);
    axis->setTickLabelColor(theme().second_ink);
    axis->setLabelColor(theme().second_ink);
    axis->setTickLabelFont(text_font(10));
    axis->setLabelFont(text_font(10));
    axis->grid()->setPen(QPen(theme().rule, 1, Qt::DotLine));
    axis->grid()->setZeroLinePen(shown ? QPen(theme().ink, zero_line) : QPen(Qt::NoPen));
  }
}

void say_in(QCustomPlot& plot, const QString& sentence, double down) {
  auto* text = new QCPItemText(&plot);
  text->position->setType(QCPItemPosition::ptAxisRectRatio);
  text->position->setCoords(0.5, down);
  text->setText(sentence);
  text->setFont(text_font(12));
  text->setColor(theme().second_ink);
}

}  // namespace ypsi::app
