#pragma once
#include <QComboBox>

#include "app/sheets/bed/bed_page.h"
#include "app/sheets/bed/sweep_drawing.h"
#include "app/sheets/sheet.h"

namespace ypsi::app {

/// The spindle square to the bed, from an indicator swept round.
class TramPage : public BedPage {
  Q_OBJECT
 public:
  explicit TramPage(Session& session);
  void refresh() override;
  void refresh_status() override;
  PageFinding finding() const override;
  void keep() override;
  void second() override;

 private:
  void read_next();
  Result<TramResult> evaluate() const;
  SweepDrawing* drawing_;
  LengthField *cutter_, *stepover_;
  QComboBox* instruments_;
  QPushButton* read_;
};

}  // namespace ypsi::app
