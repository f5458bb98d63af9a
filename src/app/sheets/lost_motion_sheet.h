#pragma once
#include "app/sheets/lost_motion/lost_motion_page.h"
#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"

namespace ypsi::app {

/// Lost motion: by indicator at several places, or by the positioning test after ISO 230-2; and what repeats with
/// every turn.
class LostMotionSheet : public Sheet {
  Q_OBJECT
 public:
  explicit LostMotionSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  /// "indicator", "positioning" or "turn".
  void show_part(const QString& part) override;

 private:
  LostMotionPage* page() const { return static_cast<LostMotionPage*>(pages_->currentWidget()); }
  void show_finding();
  Axis axis_ = Axis::x;
  SheetPages* pages_;
  std::optional<FindingLabels> labels_;
};

}  // namespace ypsi::app
