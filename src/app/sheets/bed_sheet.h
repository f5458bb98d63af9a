#pragma once
#include "app/sheets/bed/bed_page.h"
#include "app/sheets/sheet.h"
#include "app/sheets/sheet_pages.h"

namespace ypsi::app {

/// Spindle and Z's travel square to the bed, an edge along an axis, the bed's map, and its surfacing.
class BedSheet : public Sheet {
  Q_OBJECT
 public:
  explicit BedSheet(Session& session);
  void refresh() override;
  void refresh_status() override;
  /// "tram", "travel", "edge", "map" or "surfacing".
  void show_part(const QString& part) override;

 private:
  BedPage* page() const { return static_cast<BedPage*>(pages_->currentWidget()); }
  void show_finding();
  SheetPages* pages_;
  std::optional<FindingLabels> labels_;
};

}  // namespace ypsi::app
