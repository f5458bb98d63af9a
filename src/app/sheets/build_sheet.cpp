#include "app/sheets/build_sheet.h"

#include <QScrollArea>

#include "app/drawing/drive_section.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/setting_words.h"
#include "app/sheets/build/axis_page.h"
#include "app/sheets/build/bed_page.h"
#include "app/sheets/build/controller_page.h"
#include "app/sheets/build/heads_page.h"
#include "app/sheets/build/instruments_page.h"
#include "app/sheets/build/machine_page.h"
#include "app/sheets/build/spindle_page.h"
#include "app/to_q.h"
#include "core/book/book_json.h"
#include "core/book/worksheets/build.h"
#include "core/tasks/build.h"

namespace ypsi::app {
namespace {
constexpr int chips_apart_px = 5;
}

BuildSheet::BuildSheet(Session& session)
    : Sheet(session, build_task(), tr("Say what the machine is made of; each figure stands where it belongs.")),
      draft_(session) {
  auto* card = make_card();
  auto* top = new QVBoxLayout(card);
  top->setContentsMargins(16, 10, 16, 8);
  view_ = new MachineView(card);
  view_->setMinimumHeight(170);
  top->addWidget(view_);
  body()->addWidget(card, 1);

  auto* lower = make_card();
  auto* column = new QVBoxLayout(lower);
  column->setContentsMargins(16, 10, 16, 10);
  column->setSpacing(8);
  auto* chips = new WrappedRow;
  chips->setSpacing(chips_apart_px);
  column->addLayout(chips);
  pages_ = new SheetPages(this, "build-", chips);
  column->addWidget(pages_, 1);
  body()->addWidget(lower, 2);
  add_page("machine", tr("Machine"), [this] { return new MachinePage(draft_); });
  for (const Axis a : all_axes)
    add_page(QString(QChar(letter(a))).toLower(), QString(QChar(letter(a))),
             [this, a] { return new AxisPage(draft_, a); });
  add_page("spindle", tr("Spindle"), [this] { return new SpindlePage(draft_); });
  add_page("heads", tr("Heads"), [this] { return new HeadsBuildPage(draft_); });
  add_page("bed", tr("Bed"), [this] { return new BedBuildPage(draft_); });
  add_page("instruments", tr("Instruments"), [this] { return new InstrumentsPage(draft_); });
  add_page("controller", tr("Controller"), [this] { return new ControllerPage(draft_); });
  connect(view_, &MachineView::chosen, this, [this](Axis a) { show_part(QString(QChar(letter(a))).toLower()); });

  finding()->add_label("finding-heading", "heading", tr("BUILD"));
  lead_ = finding()->add_label("build-lead", "strong");
  what_ = finding()->add_label("build-what", "small");
  finding()->add_rule();
  changes_heading_ = finding()->add_label("build-changes-heading", "heading", tr("CHANGED, NOT KEPT YET"));
  changes_ = finding()->add_label("build-changes", "task");
  last_ = finding()->add_label("build-last", "small");
  finding()->add_stretch();
  keep_ = finding()->add_button("keep-build", tr("Keep this build"),
                                tr("Writes it into the book and sets the controller as it says (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));
  drop_ = finding()->add_button("drop-build", tr("Drop the changes"), tr("Goes back to the build in the book"));
  connect(keep_, &QPushButton::clicked, this, [this] { session_.machine().keep_build(words()); });
  connect(drop_, &QPushButton::clicked, this, [this] {
    session_.editor().change_book(
        tr("Drop the changes to the build"), [](Book& b) { b.worksheets[build_worksheet].reset(); },
        MachineFollows::no);
  });
  show_part("machine");
}

void BuildSheet::add_page(const QString& part, const QString& title, std::function<BuildPage*()> make) {
  auto* area = new QScrollArea(pages_);  // in a low window a page is longer than its room
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  pages_->add(part, title, tr("The build: %1").arg(title), area);
  parts_[part] = {area, std::move(make), nullptr};
}

void BuildSheet::show_part(const QString& part) {
  const auto found = parts_.find(part);
  if (found == parts_.end()) return;
  Part& shown = found->second;
  if (!shown.page) {
    shown.page = shown.make();
    shown.area->setWidget(shown.page);
  }
  pages_->turn_to(part);
  refresh();
}

QString BuildSheet::words() const {
  const MachineSetup& m = draft_.machine();
  QStringList drives;
  for (const Axis a : all_axes)
    drives << QString("%1 %2")
                  .arg(QChar(letter(a)))
                  .arg(transmission_words(m.axis(a).drive.transmission).section(',', 0, 0));
  return kind_words(m.kind).toLower() + ", " + drives.join(", ");
}

QStringList BuildSheet::changes() const {
  const MachineSetup &was = session_.editor().book().machine, &is = draft_.machine();
  QStringList lines;
  if (was.kind != is.kind) lines << kind_words(was.kind) + " → " + kind_words(is.kind);
  if (was.name != is.name) lines << tr("Name → %1").arg(to_q(is.name));
  if (was.description != is.description || was.workshop != is.workshop) lines << tr("What it is, or whose");
  if (was.spindle != is.spindle) lines << tr("Spindle and its dial");
  if (machine_json(was)["heads"] != machine_json(is)["heads"]) lines << tr("Heads on the carriage");
  for (const Axis a : all_axes)
    if (was.axis(a).drive != is.axis(a).drive)
      lines << tr("%1: %2").arg(QChar(letter(a))).arg(transmission_words(is.axis(a).drive.transmission));
  const auto before = controller_settings(was), after = controller_settings(is);
  for (std::size_t i = 0; i < before.size() && i < after.size(); ++i)
    if (before[i].value != after[i].value)
      lines << tr("%1: %2 → %3")
                   .arg(setting_words(after[i].name),
                        setting_value(before[i], before[i].value, session_.editor().unit()),
                        setting_value(after[i], after[i].value, session_.editor().unit()));
  for (const Axis a : all_axes)
    if (was.axis(a).travel != is.axis(a).travel)
      lines << tr("travel of %1: %2 → %3")
                   .arg(QChar(letter(a)))
                   .arg(length(was.axis(a).travel, 1), length(is.axis(a).travel, 1));
  return lines;
}

void BuildSheet::refresh() {
  const MachineSetup& m = draft_.machine();
  std::optional<Axis> shown;
  for (const Axis a : all_axes)
    if (pages_->part() == QString(QChar(letter(a))).toLower()) shown = a;
  view_->show(m, shown, session_.editor().unit());
  const auto found = parts_.find(pages_->part());
  if (found != parts_.end() && found->second.page) found->second.page->refresh();
  lead_->setText(m.name.empty() ? kind_words(m.kind) : to_q(m.name) + ", " + kind_words(m.kind).toLower());
  QStringList lines;
  for (const Axis a : all_axes) {
    const auto by_drive = steps_per_unit(m.axis(a).drive);
    lines << tr("%1: %2; %3 steps per %4")
                 .arg(QChar(letter(a)))
                 .arg(transmission_words(m.axis(a).drive.transmission),
                      by_drive ? to_q(format_number(by_drive->steps_per_unit, 2)) : "?",
                      by_drive && by_drive->unit == "deg" ? tr("degree") : tr("mm"));
  }
  what_->setText(lines.join("\n"));
  const bool changed = draft_.changed();
  const QStringList what = changes();
  changes_heading_->setVisible(changed);
  changes_->setVisible(changed);
  changes_->setText(what.isEmpty() ? tr("Nothing that matters.") : what.join("\n"));
  last_->setText(last_looked_at(session_.editor().book(), build_id,
                                tr("Never kept. You need what the makers of motors, screws and belts say; ten minutes. "
                                   "Begin with the kind of machine.")));
  set_text(keep_, changed ? tr("Keep this build") : tr("It is built like this"));
  drop_->setVisible(changed);
  refresh_status();
}

void BuildSheet::refresh_status() {
  const MachineState s = session_.machine().status().state;
  keep_->setEnabled(!session_.editor().read_only() && s != MachineState::moving && s != MachineState::cutting &&
                    s != MachineState::held && s != MachineState::tool_change);
  if (const auto found = parts_.find(pages_->part()); found != parts_.end() && found->second.page)
    found->second.page->refresh_status();
}

}  // namespace ypsi::app
