#pragma once
#include <QWidget>

#include "core/calibration/positioning.h"
#include "core/units/length.h"

class QCustomPlot;

namespace ypsi::app {

/// The deviation graph of ISO 230-2: mean deviation over the travel in both directions, with the bands of ±2s.
class DeviationGraph : public QWidget {
  Q_OBJECT
 public:
  explicit DeviationGraph(QWidget* parent);
  void show(const PositioningReadings& readings, const std::optional<PositioningResult>& result, LengthUnit unit);

 private:
  QCustomPlot* plot_;
};

}  // namespace ypsi::app
