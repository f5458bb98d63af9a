#include "app/sheets/ready_sheet.h"

#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/to_q.h"
#include "app/widgets/elevation_view.h"
#include "app/widgets/plain_table.h"
#include "core/tasks/cut.h"
#include "core/tasks/ready_check.h"

namespace ypsi::app {
namespace {
constexpr int line_column = 1, text_column = 2;

QString weight_mark(const Finding& f, bool overridden) {
  if (f.weight == Weight::stops) return overridden ? ReadySheet::tr("◐ overridden") : ReadySheet::tr("✕ stops");
  return f.weight == Weight::warns ? ReadySheet::tr("◐ warns") : ReadySheet::tr("○ informs");
}
}  // namespace

ReadySheet::ReadySheet(Session& session)
    : Sheet(session, ready_check_task(),
            tr("Read what stands against this cut, tick what no sensor sees, and go round it once.")) {
  auto* card = make_card();
  auto* layout = new QVBoxLayout(card);
  layout->setContentsMargins(18, 12, 18, 12);
  layout->setSpacing(6);
  layout->addWidget(
      make_label("plan-caption", "caption", tr("Plan: stock, clamps, what is cut; ✕ where something is found"), card));
  plan_ = new PlanView(session, PlanView::Subject::program, card);
  plan_->setMinimumHeight(150);
  layout->addWidget(plan_, 4);
  layout->addWidget(make_label("elevation-caption", "caption", tr("Front elevation"), card));
  elevation_ = new ElevationView(session, true, card);
  elevation_->setMinimumHeight(92);
  layout->addWidget(elevation_, 1);
  table_ = make_table("findings", tr("Findings"), {tr("Finding"), tr("Line"), tr("What")}, text_column, 24, card);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setMinimumHeight(120);
  layout->addWidget(table_, 3);
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("READY CHECK"));
  verdict_ = finding()->add_label("ready-verdict", "strong");
  count_ = finding()->add_label("ready-count", "small");
  finding()->add_rule();
  text_ = finding()->add_label("ready-text", "task");
  why_ = new QLineEdit(this);
  why_->setObjectName("override-why");
  why_->setAccessibleName(tr("Why you go on in spite of it"));
  why_->setPlaceholderText(tr("why you go on in spite of it"));
  finding()->add(why_);
  go_on_ = finding()->add_button("override", tr("Go on in spite of it"),
                                 tr("Takes this finding off the start; your reason is kept in the record (Ctrl+1)"));
  go_on_->setShortcut(QKeySequence("Ctrl+1"));
  finding()->add_rule();
  finding()->add_label("points-heading", "heading", tr("WHAT NO SENSOR SEES"));
  points_ =
      finding()->add_label("points-hint", "small", tr("Hold-down, hose, dial, key, clip: keep your own points here."));
  checklist_ = new QListWidget(this);
  checklist_->setObjectName("checklist");
  checklist_->setAccessibleName(tr("Your own points before a cut"));
  checklist_->setWordWrap(true);
  checklist_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  checklist_->setFixedHeight(92);
  finding()->add(checklist_);
  point_ = new QLineEdit(this);
  point_->setObjectName("new-point");
  point_->setAccessibleName(tr("A point of your own"));
  point_->setPlaceholderText(tr("a point of your own, then Enter"));
  finding()->add(point_);
  remove_point_ =
      finding()->add_button("remove-point", tr("Take the point out"), tr("Takes the chosen point out (Ctrl+2)"));
  remove_point_->setShortcut(QKeySequence("Ctrl+2"));
  finding()->add_stretch();
  round_ = new QComboBox(this);
  round_->setObjectName("perimeter-kind");
  round_->setAccessibleName(tr("Which way round"));
  round_->addItems({tr("along a rectangle"), tr("along its tightest band"), tr("along the last tool's outline")});
  finding()->add(round_);
  trace_ = finding()->add_button("trace", tr("Trace the perimeter"),
                                 tr("Lifts to the safe height and goes round what will be cut (Ctrl+3)"));
  trace_->setShortcut(QKeySequence("Ctrl+3"));
  cut_ = finding()->add_button("to-the-cut", tr("Go to the cut"), tr("The sheet Cut (Ctrl+4)"), true);
  cut_->setShortcut(QKeySequence("Ctrl+4"));

  connect(table_, &QTableWidget::currentCellChanged, this, [this] {
    if (!filling_) show_finding();
  });
  connect(why_, &QLineEdit::returnPressed, this, &ReadySheet::go_on_in_spite);
  connect(go_on_, &QPushButton::clicked, this, &ReadySheet::go_on_in_spite);
  connect(point_, &QLineEdit::returnPressed, this, &ReadySheet::add_point);
  connect(remove_point_, &QPushButton::clicked, this, [this] {
    const int row = own_row();
    if (row < 0) return;
    session_.editor().change_book(
        tr("Take a point out"), [row](Book& b) { b.job.checklist.erase(b.job.checklist.begin() + row); },
        MachineFollows::no);
  });
  connect(checklist_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    if (!filling_) session_.job().tick_point(item->text().toStdString(), item->checkState() == Qt::Checked);
  });
  connect(trace_, &QPushButton::clicked, this,
          [this] { session_.job().trace_perimeter(static_cast<PerimeterKind>(round_->currentIndex())); });
  connect(cut_, &QPushButton::clicked, this, [this] { session_.notices().lead_to(cut_id); });
  connect(&session_.job(), &JobSession::checked_anew, this, [this] {
    if (isVisible()) refresh();
  });
}

const Finding* ReadySheet::chosen() const {
  const int row = table_->currentRow();
  return row >= 0 && static_cast<std::size_t>(row) < shown_.size() ? &shown_[static_cast<std::size_t>(row)] : nullptr;
}

void ReadySheet::fill_table() {
  filling_ = true;
  const int row = table_->currentRow();
  shown_ = session_.job().program() ? session_.job().findings() : std::vector<Finding>{};
  table_->setRowCount(static_cast<int>(shown_.size()));
  std::vector<WorkPosition> marks;
  for (std::size_t i = 0; i < shown_.size(); ++i) {
    const Finding& f = shown_[i];
    const bool over = !session_.job().overridden(f).isEmpty();
    const auto set = [&](int column, const QString& text) {
      auto* item = new QTableWidgetItem(text);
      item->setToolTip(to_q(f.message));
      if (column == 0 && f.weight == Weight::stops && !over) item->setForeground(theme().red);
      if (column == 0 && (f.weight == Weight::warns || over)) item->setForeground(theme().ochre);
      table_->setItem(static_cast<int>(i), column, item);
    };
    set(0, weight_mark(f, over));
    set(line_column, f.line > 0 ? QString::number(f.line) : QString());
    set(text_column, to_q(f.message));
    if (f.at && f.weight != Weight::informs) marks.push_back(*f.at);
  }
  if (!shown_.empty()) table_->setCurrentCell(std::clamp(row, 0, table_->rowCount() - 1), text_column);
  plan_->set_marks(marks);
  filling_ = false;
}

void ReadySheet::show_finding() {
  const Finding* f = chosen();
  set_text(text_, f ? to_q(f->message) : QString());
  const bool stops = f && f->weight == Weight::stops;
  why_->setVisible(stops);
  go_on_->setVisible(stops);
  if (!stops) return;
  if (!why_->hasFocus()) why_->setText(session_.job().overridden(*f));
  set_text(go_on_, session_.job().overridden(*f).isEmpty() ? tr("Go on in spite of it") : tr("Change the reason"));
}

void ReadySheet::go_on_in_spite() {
  const Finding* f = chosen();
  if (!f || f->weight != Weight::stops) return;
  const bool had = !session_.job().overridden(*f).isEmpty();
  if (why_->text().trimmed().isEmpty() && !had) {
    session_.notices().notify({NoticeLevel::attention, tr("Say why you go on: the reason is kept with the cut."), {}});
    why_->setFocus();
    return;
  }
  session_.job().override_finding(Finding(*f), why_->text());
}

void ReadySheet::add_point() {
  const std::string point = point_->text().trimmed().toStdString();
  if (point.empty()) return;
  point_->clear();
  session_.editor().change_book(
      tr("Add a point"), [&](Book& b) { b.job.checklist.push_back(point); }, MachineFollows::no);
}

/// Which of the owner's own points is chosen; below 0: none of them.
int ReadySheet::own_row() const {
  const auto own = session_.editor().book().job.checklist.size(), all = session_.job().points().size();
  return checklist_->currentRow() - static_cast<int>(all - own);
}

void ReadySheet::fill_checklist() {
  filling_ = true;
  const int row = checklist_->currentRow();
  checklist_->clear();
  for (const auto& point : session_.job().points()) {
    auto* item = new QListWidgetItem(to_q(point), checklist_);
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    item->setCheckState(session_.job().ticked(point) ? Qt::Checked : Qt::Unchecked);
  }
  checklist_->setCurrentRow(row);
  filling_ = false;
}

void ReadySheet::refresh() {
  plan_->invalidate();
  fill_table();
  show_finding();
  fill_checklist();
  const bool loaded = session_.job().program() != nullptr;
  const std::size_t stops = loaded ? session_.job().stops() : 0, warns = count(shown_, Weight::warns);
  const std::size_t open = session_.job().unticked();
  set_text(verdict_, !loaded                     ? tr("No program is loaded")
                     : !session_.job().checked() ? tr("Checking…")
                     : stops > 0                 ? tr("✕ Not ready: %1 to mend or to answer for").arg(stops)
                     : open == 1                 ? tr("◐ Nothing stops it; one point is not ticked")
                     : open > 0                  ? tr("◐ Nothing stops it; %1 points are not ticked").arg(open)
                     : warns > 0                 ? tr("◐ Nothing stops it; %1 to think about").arg(warns)
                                                 : tr("● Ready"));
  set_text(count_, loaded ? tr("%1 stop, %2 warn, %3 inform")
                                .arg(count(shown_, Weight::stops))
                                .arg(warns)
                                .arg(count(shown_, Weight::informs))
                          : tr("Load one on the sheet Stock and program."));
  points_->setVisible(session_.job().points().empty());
  refresh_status();
}

void ReadySheet::refresh_status() {
  elevation_->update();
  const MachineStatus& s = session_.machine().status();
  trace_->setEnabled(session_.job().program() && session_.machine().standing_ready() && s.all_homed() &&
                     session_.editor().book().job.has_zero());
  remove_point_->setEnabled(own_row() >= 0);
}

}  // namespace ypsi::app
