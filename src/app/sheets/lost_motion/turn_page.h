#pragma once
#include <QComboBox>
#include <QTableWidget>

#include "app/sheets/lost_motion/lost_motion_page.h"
#include "app/sheets/lost_motion/turn_graph.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/periodic_error.h"
#include "core/procedures/stroke_readings.h"

class QLabel;
class QPushButton;

namespace ypsi::app {

/// What a screw, pinion or pulley repeats with every turn: an indicator read at many close places.
class TurnPage : public LostMotionPage {
  Q_OBJECT
 public:
  explicit TurnPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;
  void cancel() override;

 private:
  void forget_typed() override;
  const std::vector<TurnReading>& readings() const;
  double turn() const;
  double reach() const;
  void begin();
  void read_here();
  void take(double reading);
  void show_result();

  std::shared_ptr<StrokeReadings> strokes_ = std::make_shared<StrokeReadings>();
  bool waited_ = false;
  std::optional<PeriodicError> result_;
  TurnGraph* graph_;
  LengthField *turn_, *reach_, *reading_;
  QComboBox* instruments_;
  QTableWidget* table_;
  QPushButton *begin_, *read_, *clear_;
  QLabel* hint_;
};

}  // namespace ypsi::app
