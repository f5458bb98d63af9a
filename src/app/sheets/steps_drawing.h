#pragma once
#include <QWidget>

#include "app/widgets/field.h"

namespace ypsi::app {

/// A rule with the told and the measured length under it, each typed on its line.
class StepsDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit StepsDrawing(QWidget* parent);
  void show(double span, double told, std::optional<double> measured, LengthUnit unit);
  LengthField* told() { return told_; }
  LengthField* measured() { return measured_; }

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override { place_fields(); }

 private:
  void place_fields();
  QPointF at(double mm, double y) const;
  double span_ = 100;
  LengthUnit unit_ = LengthUnit::millimetre;
  LengthField *told_, *measured_;
};

}  // namespace ypsi::app
