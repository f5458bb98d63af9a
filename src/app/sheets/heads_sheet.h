#pragma once

#include "app/sheets/page_finding.h"
#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"
#include "core/tasks/heads.h"

namespace ypsi::app {

/// The heads on the carriage: each against the first, and what its kind has besides.
class HeadsSheet : public Sheet {
  Q_OBJECT
 public:
  explicit HeadsSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  /// "place", "trailing", "blade", "focus" or "kerf".
  void show_part(const QString& part) override;

 private:
  FindingPage* page() const { return static_cast<FindingPage*>(pages_->currentWidget()); }
  void show_heads();
  void show_measures();
  HeadMeasure shown_ = HeadMeasure::place;
  QHBoxLayout* heads_row_;
  std::vector<QPushButton*> head_chips_;
  SheetPages* pages_;
  std::optional<FindingLabels> labels_;
};

}  // namespace ypsi::app
