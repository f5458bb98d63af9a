#pragma once
#include <QWidget>

#include "core/book/book.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/periodic_error.h"
#include "core/units/length.h"

class QCustomPlot;

namespace ypsi::app {

/// What an axis is off by over two turns of its screw, and the wave that fits it.
class TurnGraph : public QWidget {
  Q_OBJECT
 public:
  explicit TurnGraph(QWidget* parent);
  /// `turn` mm, the wave's period; with no result there is a sentence.
  void show(const std::vector<TurnReading>& readings, const std::optional<PeriodicError>& result, double turn,
            LengthUnit unit);

 private:
  QCustomPlot* plot_;
};

}  // namespace ypsi::app
