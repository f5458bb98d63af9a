#pragma once
#include <QComboBox>
#include <QTableWidget>

#include "app/drawing/field.h"
#include "app/sheets/sheet.h"
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
  QSize minimumSizeHint() const override { return {440, 250}; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  double middle() const { return width() * 0.5; }
  LengthField *plus_, *minus_;
  Axis axis_ = Axis::x;
  LengthUnit unit_ = LengthUnit::millimetre;
  TwoApproaches::Stage stage_ = TwoApproaches::Stage::idle;
  std::vector<double> places_;
  std::optional<LostMotionResult> result_;
};

/// Lost motion by indicator, at several places of the travel.
class LostMotionSheet : public Sheet {
  Q_OBJECT
 public:
  explicit LostMotionSheet(Session& session);
  void refresh() override;
  void refresh_status() override;

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  const std::vector<TurnAt>& readings() const;
  void choose(Axis axis);
  void arrive();
  void read_here();
  void take(double plus, double minus);
  void keep();
  double next_place() const;
  void show_result();

  Axis axis_ = Axis::x;
  TwoApproaches approaches_;
  std::optional<LostMotionResult> result_;
  ApproachesDrawing* drawing_;
  LengthField* place_;
  QComboBox* instruments_;
  QTableWidget* table_;
  QPushButton *arrive_, *read_, *keep_;
  QLabel *hint_, *lead_, *figure_, *spread_, *verdict_, *cure_;
};

}  // namespace ypsi::app
