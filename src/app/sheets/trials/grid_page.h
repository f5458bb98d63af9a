#pragma once
#include <QPushButton>

#include "app/sheets/page_finding.h"
#include "app/widgets/field.h"
#include "core/book/worksheets/trials.h"
#include "core/tasks/power_speed.h"

namespace ypsi::app {

class GridDrawing;

/// Power and speed of a beam: a grid is written, burnt, and its wanted squares are marked.
class GridPage : public FindingPage {
  Q_OBJECT
 public:
  explicit GridPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;

 private:
  void change(const QString& text, const std::function<void(BeamGridSheet&)>& how);
  void mark(const BeamSetting& square);
  void write_program();
  std::optional<BeamGrid> grid() const;

  GridDrawing* drawing_;
  LengthField *power_low_, *power_high_, *powers_, *feed_low_, *feed_high_, *feeds_;
  QPushButton *write_, *clear_;
  QLabel* hint_;
};

}  // namespace ypsi::app
