#pragma once
#include <QComboBox>
#include <QTableWidget>

#include "app/sheets/lost_motion/approaches_drawing.h"
#include "app/sheets/lost_motion/lost_motion_page.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/lost_motion.h"

class QLabel;
class QPushButton;

namespace ypsi::app {

/// Lost motion by indicator, at several places of the travel.
class IndicatorPage : public LostMotionPage {
  Q_OBJECT
 public:
  explicit IndicatorPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;
  void cancel() override;

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void forget_typed() override;
  const std::vector<TurnAt>& readings() const;
  void arrive();
  void read_here();
  void take(double plus, double minus);
  Result<void> take_table(const std::string& text);
  double next_place() const;
  void show_result();

  std::shared_ptr<TwoApproaches> approaches_ = std::make_shared<TwoApproaches>();
  TwoApproaches::Stage shown_ = TwoApproaches::Stage::none;
  std::optional<LostMotionResult> result_;
  ApproachesDrawing* drawing_;
  LengthField* place_;
  QComboBox* instruments_;
  QTableWidget* table_;
  QPushButton *arrive_, *read_;
  QLabel* hint_;
};

}  // namespace ypsi::app
