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
  pages_ = new QStackedWidget(this);
  const auto add = [&](const QString& part, const QString& title, const QString& tip, BedPage* page) {
    auto* chip = make_chip("bed-" + part, title, tip, this);
    connect(chip, &QPushButton::clicked, this, [this, part] { show_part(part); });
    title_row()->addWidget(chip);
    chips_[part] = chip;
    parts_ << part;
    pages_->addWidget(page);
    connect(page, &BedPage::found, this, &BedSheet::show_finding);
  };
  add("tram", tr("Tram"), tr("The spindle square to the bed"), new TramPage(session));
  add("travel", tr("Z travel"), tr("How Z's travel leans against the bed"), new ZTravelPage(session));
  add("edge", tr("Edge"), tr("A fence or vice along an axis"), new EdgePage(session));
  add("map", tr("Map"), tr("How flat the bed is"), new MapPage(session));
  add("surfacing", tr("Surfacing"), tr("A program that makes the bed flat"), new SurfacingPage(session));
  chips_["tram"]->setChecked(true);
  body()->addWidget(pages_, 1);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("bed-lead", "strong");
  figure_ = finding()->add_label("bed-figure", "big");
  spread_ = finding()->add_label("bed-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("bed-verdict", "strong");
  text_ = finding()->add_label("bed-text", "task");
  finding()->add_stretch();
  keep_ = finding()->add_button("keep", tr("Keep this finding"),
                                tr("Into the book, or the program onto the disk (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));
  second_ =
      finding()->add_button("bed-second", "", tr("Writes it into the book: what depends on it turns out of date"));
  connect(keep_, &QPushButton::clicked, this, [this] { page()->keep(); });
  connect(second_, &QPushButton::clicked, this, [this] { page()->second(); });
}

void BedSheet::show_part(const QString& part) {
  const auto at = static_cast<int>(parts_.indexOf(part));
  if (at < 0) return;
  chips_[part]->setChecked(true);
  if (pages_->currentIndex() != at) {
    page()->cancel();
    pages_->setCurrentIndex(at);
  }
  refresh();
}

void BedSheet::show_finding() {
  const BedFinding f = page()->finding();
  lead_->setText(f.lead);
  figure_->setText(f.figure);
  spread_->setText(f.spread);
  verdict_->setText(f.verdict);
  text_->setText(f.text);
  keep_->setVisible(!f.keep.isEmpty());
  if (!f.keep.isEmpty()) set_text(keep_, f.keep);
  keep_->setEnabled(!session_.editor().read_only());
  second_->setVisible(!f.second.isEmpty());
  if (!f.second.isEmpty()) set_text(second_, f.second);
  second_->setEnabled(!session_.editor().read_only());
}

void BedSheet::refresh() {
  page()->refresh();
}

void BedSheet::refresh_status() {
  page()->refresh_status();
}

}  // namespace ypsi::app
