#pragma once
#include <QComboBox>

#include "app/sheets/build/build_draft.h"
#include "app/widgets/field.h"
#include "core/calibration/drive.h"

class QLabel;

namespace ypsi::app {

/// The drive of one axis in section, its figures typed where they belong.
class DriveDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit DriveDrawing(QWidget* parent);
  void show(const DriveTrain& drive);
  /// full steps, microsteps, gear ratio, then what the transmission has: lead, or pitch and teeth, or module and teeth.
  LengthField* field(std::size_t i) { return fields_[i]; }
  QComboBox* kind() { return kind_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QRectF box() const;
  DriveTrain drive_;
  std::array<LengthField*, 5> fields_;
  QComboBox* kind_;
};

/// One axis: its drive, which end has the switch, how far and how fast it goes.
class AxisPage : public BuildPage {
  Q_OBJECT
 public:
  AxisPage(BuildDraft& draft, Axis axis);
  void refresh() override;

 private:
  void set_transmission(int kind);
  const AxisSetup& setup() const { return draft_.machine().axis(axis_); }
  Axis axis_;
  DriveDrawing* drawing_;
  QLabel* computed_;
  QComboBox* home_end_;
  LengthField *home_at_, *travel_, *rate_, *acceleration_;
};

}  // namespace ypsi::app
