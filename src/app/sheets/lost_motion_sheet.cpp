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
  const auto chip = [&](const char* part, const QString& title, const QString& tip) {
    auto* button = make_chip(QString("lost-") + part, title, tip, this);
    connect(button, &QPushButton::clicked, this, [this, part] { show_part(part); });
    title_row()->addWidget(button);
    return button;
  };
  indicator_ = chip("indicator", tr("Indicator"), tr("A dial indicator at several places"));
  positioning_ = chip("positioning", tr("ISO 230-2"), tr("The positioning test over the whole travel"));
  turn_ = chip("turn", tr("Turn"), tr("What a screw, pinion or pulley repeats with every turn"));
  indicator_->setChecked(true);
  title_row()->addSpacing(4);
  auto* axes = new AxisChips(this);
  title_row()->addWidget(axes);
  pages_ = new QStackedWidget(this);
  pages_->addWidget(new IndicatorPage(session));
  pages_->addWidget(new PositioningPage(session));
  pages_->addWidget(new TurnPage(session));
  body()->addWidget(pages_, 1);

  labels_.emplace(*finding(), "lost", tr("Of the program that is loaded, beside it"));
  connect(labels_->second(), &QPushButton::clicked, this, [this] { page()->second(); });

  connect(axes, &AxisChips::chosen, this, [this](Axis axis) {
    axis_ = axis;
    refresh();
  });
  for (int i = 0; i < pages_->count(); ++i)
    connect(static_cast<LostMotionPage*>(pages_->widget(i)), &LostMotionPage::found, this,
            &LostMotionSheet::show_finding);
  connect(labels_->keep(), &QPushButton::clicked, this, [this] { page()->keep(); });
}

void LostMotionSheet::show_part(const QString& part) {
  const int page_at = part == QLatin1String("positioning") ? 1 : part == QLatin1String("turn") ? 2 : 0;
  (page_at == 1 ? positioning_ : page_at == 2 ? turn_ : indicator_)->setChecked(true);
  if (pages_->currentIndex() == page_at) return;
  page()->cancel();
  pages_->setCurrentIndex(page_at);
  refresh();
}

void LostMotionSheet::show_finding() {
  labels_->show(page()->finding(), session_.editor().read_only());
}

void LostMotionSheet::refresh() {
  page()->refresh(axis_);
  show_finding();
}

void LostMotionSheet::refresh_status() {
  page()->refresh_status();
}

}  // namespace ypsi::app
