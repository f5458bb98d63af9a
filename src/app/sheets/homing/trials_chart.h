#pragma once
#include <optional>
#include <vector>

#include "app/widgets/field.h"
#include "core/calibration/homing.h"

namespace ypsi::app {

/// Where homing ended, trial by trial: a dot each, the drift as a line, the spread as a band, what is asked as an edge.
class TrialsChart : public QWidget {
  Q_OBJECT
 public:
  explicit TrialsChart(QWidget* parent);
  /// `asks`: the next reading is typed here.
  void show(const std::vector<double>& places, const std::optional<HomingResult>& result, double tolerance, int trials,
            bool asks, LengthUnit unit);
  LengthField* field() { return field_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QRectF chart() const { return {74, 26, width() - 100.0, height() - 74.0}; }
  double x_of(double trial) const;
  void place_field();
  std::vector<double> places_;
  std::optional<HomingResult> result_;
  double tolerance_ = 0.05;
  int trials_ = 10;
  LengthUnit unit_ = LengthUnit::millimetre;
  LengthField* field_;
};

}  // namespace ypsi::app
