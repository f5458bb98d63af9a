#pragma once
#include <QStackedWidget>

#include "core/calibration/scale.h"
#include "core/units/length.h"

class QCustomPlot;

namespace ypsi::app {

/// What is left over after the fit; or, where the scale is grossly off, the drive as the book has it and as it behaves.
class StepsChart : public QStackedWidget {
  Q_OBJECT
 public:
  explicit StepsChart(QWidget* parent);
  /// `drive`: as in the book.
  void show(const ScaleInput& input, const std::optional<ScaleResult>& result, const DriveTrain& drive,
            LengthUnit unit);
  bool shows_drives() const { return currentIndex() == 1; }

 private:
  void show_residuals(const ScaleInput& input, const std::optional<ScaleResult>& result, LengthUnit unit);
  QCustomPlot* plot_;
  class TwoDrives* drives_;
};

}  // namespace ypsi::app
