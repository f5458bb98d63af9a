#pragma once
#include <QWidget>

#include "core/geometry.h"

class QButtonGroup;

namespace ypsi::app {

/// X, Y, Z to choose from, by mouse or Alt and the letter; X is chosen at first.
class AxisChips : public QWidget {
  Q_OBJECT
 public:
  explicit AxisChips(QWidget* parent);
  /// As a click on its chip.
  void choose(Axis axis);

 signals:
  void chosen(ypsi::Axis axis);

 private:
  QButtonGroup* group_;
};

}  // namespace ypsi::app
