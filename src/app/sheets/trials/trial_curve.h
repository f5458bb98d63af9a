#pragma once
#include <QWidget>

#include "core/book/worksheets/trials.h"
#include "core/tasks/trials.h"

class QCustomPlot;

namespace ypsi::app {

/// Yes and no over the levels: cuts through, marks what lies below, and the room between.
class TrialCurve : public QWidget {
  Q_OBJECT
 public:
  explicit TrialCurve(QWidget* parent);
  void show(const TrialsWorksheet& sheet, const std::optional<TrialFinding>& found,
            const std::optional<TrialRange>& range, const QString& level_words);

 private:
  QCustomPlot* plot_;
};

}  // namespace ypsi::app
