#pragma once
#include <QWidget>

#include "app/widgets/field.h"
#include "core/calibration/lost_motion.h"
#include "core/procedures/two_approaches.h"

namespace ypsi::app {

/// One place arrived at from both sides, its two readings typed on the arrivals, and what every place lost.
class ApproachesDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit ApproachesDrawing(QWidget* parent);
  LengthField* plus() { return plus_; }
  LengthField* minus() { return minus_; }
  void show(Axis axis, LengthUnit unit, TwoApproaches::Stage stage, std::vector<double> places,
            std::optional<LostMotionResult> result);
  QSize minimumSizeHint() const override { return {390, 250}; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  double middle() const { return width() * 0.5; }
  LengthField *plus_, *minus_;
  Axis axis_ = Axis::x;
  LengthUnit unit_ = LengthUnit::millimetre;
  TwoApproaches::Stage stage_ = TwoApproaches::Stage::none;
  std::vector<double> places_;
  std::optional<LostMotionResult> result_;
};

}  // namespace ypsi::app
