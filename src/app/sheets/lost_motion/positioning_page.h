#pragma once
#include <QComboBox>
#include <QTableWidget>

#include "app/session/book_editor.h"
#include "app/sheets/lost_motion/lost_motion_page.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/lost_motion.h"
#include "core/calibration/error_table.h"
#include "core/calibration/positioning.h"
#include "core/procedures/positioning_test.h"

class QLabel;
class QPushButton;

namespace ypsi::app {

class DeviationGraph;

/// The positioning test after ISO 230-2: targets reached from both sides, run after run, and the standard's figures.
class PositioningPage : public LostMotionPage {
  Q_OBJECT
 public:
  explicit PositioningPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;
  void second() override;
  void cancel() override;

 private:
  const PositioningReadings& readings() const {
    return session_.editor().book().worksheets[positioning_worksheets][index(axis_)];
  }
  std::vector<double> targets() const;
  int runs() const;
  void start();
  void read_here();
  void take(double deviation, bool typed);
  void store();
  Result<void> take_table(const std::string& text);
  void fill_table();

  std::shared_ptr<PositioningTest> test_ = std::make_shared<PositioningTest>();
  bool asked_ = false;  ///< for the reading at the target where it stands
  std::optional<PositioningResult> result_;
  std::optional<ErrorTable> seen_;  ///< what a table of these readings is, where they are a test
  bool by_itself_ = false;          ///< the stand-in's hand reads at every target
  DeviationGraph* graph_;
  QPushButton* as_corrected_;
  QTableWidget* table_;
  LengthField *count_, *runs_, *deviation_;
  QComboBox* instruments_;
  QPushButton *start_, *read_, *read_all_;
  QLabel* hint_;
};

}  // namespace ypsi::app
