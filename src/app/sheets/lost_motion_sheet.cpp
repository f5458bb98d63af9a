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

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("lost-lead", "strong");
  figure_ = finding()->add_label("lost-figure", "big");
  figure_->setStyleSheet("font-size: 25px;");  // with its U it fits on one line
  spread_ = finding()->add_label("lost-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("lost-verdict", "strong");
  text_ = finding()->add_label("lost-text", "task");
  finding()->add_stretch();
  keep_ = finding()->add_button("keep", tr("Keep this finding"),
                                tr("Writes it into the book with its readings (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));

  second_ = finding()->add_button("lost-second", "", tr("Of the program that is loaded, beside it"));
  connect(second_, &QPushButton::clicked, this, [this] { page()->second(); });

  connect(axes, &AxisChips::chosen, this, [this](Axis axis) {
    axis_ = axis;
    refresh();
  });
  for (int i = 0; i < pages_->count(); ++i)
    connect(static_cast<LostMotionPage*>(pages_->widget(i)), &LostMotionPage::found, this,
            &LostMotionSheet::show_finding);
  connect(keep_, &QPushButton::clicked, this, [this] { page()->keep(); });
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
  const LostMotionFinding f = page()->finding();
  lead_->setText(f.lead);
  figure_->setText(f.figure);
  spread_->setText(f.spread);
  verdict_->setText(f.verdict);
  text_->setText(f.text);
  second_->setVisible(!f.second.isEmpty());
  if (!f.second.isEmpty()) set_text(second_, f.second);
  keep_->setEnabled(f.can_keep && !session_.editor().read_only());
}

void LostMotionSheet::refresh() {
  page()->refresh(axis_);
  show_finding();
}

void LostMotionSheet::refresh_status() {
  page()->refresh_status();
}

}  // namespace ypsi::app
