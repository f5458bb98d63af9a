#include "app/sheets/bed_sheet.h"

#include "app/session/book_editor.h"
#include "app/sheets/bed/edge_page.h"
#include "app/sheets/bed/map_page.h"
#include "app/sheets/bed/surfacing_page.h"
#include "app/sheets/bed/tram_page.h"
#include "app/sheets/bed/z_travel_page.h"
#include "core/tasks/bed_spindle.h"

namespace ypsi::app {

BedSheet::BedSheet(Session& session)
    : Sheet(session, bed_spindle_task(), tr("Set the spindle upright, then make the bed flat.")) {
  pages_ = new SheetPages(this, "bed-");
  const auto add = [&](const QString& part, const QString& title, const QString& tip, BedPage* page) {
    pages_->add(part, title, tip, page);
    connect(page, &BedPage::found, this, &BedSheet::show_finding);
  };
  add("tram", tr("Tram"), tr("The spindle square to the bed"), new TramPage(session));
  add("travel", tr("Z travel"), tr("How Z's travel leans against the bed"), new ZTravelPage(session));
  add("edge", tr("Edge"), tr("A fence or vice along an axis"), new EdgePage(session));
  add("map", tr("Map"), tr("How flat the bed is"), new MapPage(session));
  add("surfacing", tr("Surfacing"), tr("A program that makes the bed flat"), new SurfacingPage(session));
  body()->addWidget(pages_, 1);
  connect(pages_, &SheetPages::leaving, this, [this] { page()->cancel(); });

  labels_.emplace(*finding(), "bed", tr("Writes it into the book: what depends on it turns out of date"));
  connect(labels_->keep(), &QPushButton::clicked, this, [this] { page()->keep(); });
  connect(labels_->second(), &QPushButton::clicked, this, [this] { page()->second(); });
}

void BedSheet::show_part(const QString& part) {
  if (pages_->turn_to(part)) refresh();
}

void BedSheet::show_finding() {
  labels_->show(page()->finding(), session_.editor().read_only());
}

void BedSheet::refresh() {
  page()->refresh();
}

void BedSheet::refresh_status() {
  page()->refresh_status();
}

}  // namespace ypsi::app
