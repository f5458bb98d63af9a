#pragma once
#include <QComboBox>
#include <QTableWidget>

#include "app/sheets/lost_motion/lost_motion_page.h"
#include "core/calibration/periodic_error.h"
#include "core/procedures/stroke_readings.h"

class QCustomPlot;
class QLabel;
class QPushButton;

namespace ypsi::app {

class LengthField;

/// What a screw, pinion or pulley repeats with every turn: an indicator read at many close places.
class TurnPage : public LostMotionPage {
  Q_OBJECT
 public:
  explicit TurnPage(Session& session);
  void refresh(Axis axis) override;
  void refresh_status() override;
  LostMotionFinding finding() const override;
  void keep() override;
  void cancel() override;

 private:
  const std::vector<TurnReading>& readings() const;
  double turn() const;
  double reach() const;
  Instrument instrument() const;
  void begin();
  void read_here();
  void take(double reading);
  void show_result();
  void draw();
  /// What the fitted wave is off by at a machine place, mm. Precondition: a result.
  double wave(double place) const;

  Axis axis_ = Axis::x;
  std::shared_ptr<StrokeReadings> strokes_ = std::make_shared<StrokeReadings>();
  bool waited_ = false;
  double mark_ = 0;  ///< machine place of the indicator's zero, at a bench
  std::optional<PeriodicError> result_;
  QCustomPlot* plot_;
  LengthField *turn_, *reach_, *reading_;
  QComboBox* instruments_;
  QTableWidget* table_;
  QPushButton *begin_, *read_, *clear_;
  QLabel* hint_;
};

}  // namespace ypsi::app
