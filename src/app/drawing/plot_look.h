#pragma once
// What all plots have in common: the theme's colours on axes and grid, and a sentence where there is nothing to show.
#include <QString>

class QCustomPlot;

namespace ypsi::app {

enum class AxisLines { shown, hidden };

void dress(QCustomPlot& plot, AxisLines lines = AxisLines::shown);
/// `down`: where the sentence stands, part of the height.
void say_in(QCustomPlot& plot, const QString& sentence, double down = 0.4);

}  // namespace ypsi::app
