#include "app/sheets/lost_motion_sheet.h"

#include "app/session/book_editor.h"
#include "app/sheets/axis_chips.h"
#include "app/sheets/lost_motion/indicator_page.h"
#include "app/sheets/lost_motion/positioning_page.h"
#include "app/sheets/lost_motion/turn_page.h"
#include "core/tasks/lost_motion.h"

namespace ypsi::app {

LostMotionSheet::LostMotionSheet(Session& session)
    : Sheet(session, lost_motion_task(), tr("Arrive from both sides and read each time.")) {
  pages_ = new SheetPages(this, "lost-");
  const auto add = [&](const QString& part, const QString& title, const QString& tip, LostMotionPage* page) {
    pages_->add(part, title, tip, page);
    connect(page, &LostMotionPage::found, this, &LostMotionSheet::show_finding);
  };
  add("indicator", tr("Indicator"), tr("A dial indicator at several places"), new IndicatorPage(session));
  add("positioning", tr("ISO 230-2"), tr("The positioning test over the whole travel"), new PositioningPage(session));
  add("turn", tr("Turn"), tr("What a screw, pinion or pulley repeats with every turn"), new TurnPage(session));
  title_row()->addSpacing(4);
  auto* axes = new AxisChips(this);
  title_row()->addWidget(axes);
  body()->addWidget(pages_, 1);
  connect(pages_, &SheetPages::leaving, this, [this] { page()->cancel(); });

  labels_.emplace(*finding(), "lost", tr("Of the program that is loaded, beside it"));
  connect(labels_->keep(), &QPushButton::clicked, this, [this] { page()->keep(); });
  connect(labels_->second(), &QPushButton::clicked, this, [this] { page()->second(); });
  connect(axes, &AxisChips::chosen, this, [this](Axis axis) {
    axis_ = axis;
    refresh();
  });
}

void LostMotionSheet::show_part(const QString& part) {
  if (pages_->turn_to(part)) refresh();
}

void LostMotionSheet::show_finding() {
  labels_->show(page()->finding(), session_.editor().read_only());
}

void LostMotionSheet::refresh() {
  page()->use_axis(axis_);
  page()->refresh();
  show_finding();
}

void LostMotionSheet::refresh_status() {
  page()->refresh_status();
}

}  // namespace ypsi::app
