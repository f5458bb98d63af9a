#include "app/sheets/standing_sheet.h"

#include <QHeaderView>
#include <QMouseEvent>
#include <QPainter>
#include <QTableView>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"
#include "app/sheets/budget_bars.h"
#include "app/sheets/history_model.h"
#include "app/to_q.h"
#include "core/tasks/budget.h"
#include "core/tasks/overview.h"
#include "core/tasks/steps_per_unit.h"
#include "core/tasks/stock_program.h"

namespace ypsi::app {
StandingSheet::StandingSheet(Session& session)
    : Sheet(session, overview_task(), tr("One look: what can be trusted, what cannot, and what to do about it.")) {
  auto* card = make_card();
  auto* layout = new QVBoxLayout(card);
  layout->setContentsMargins(20, 14, 20, 12);
  layout->setSpacing(4);
  part_ = make_label("part", "task", "", card);
  layout->addWidget(part_);
  auto* figures = new QHBoxLayout;
  figure_ = make_label("budget-figure", "big", "", card);
  figure_->setStyleSheet("font-size: 38px;");
  figure_->setWordWrap(false);
  square_ = make_label("budget-square", "attention", "", card);
  figures->addWidget(figure_);
  figures->addSpacing(14);
  figures->addWidget(square_, 1, Qt::AlignBottom);
  layout->addLayout(figures);
  note_ = make_label("budget-note", "small", "", card);
  layout->addWidget(note_);
  layout->addSpacing(8);
  layout->addWidget(make_label("budget-caption", "caption", tr("Where that comes from, over the usual part"), card));
  bars_ = new BudgetBars(session, card);
  connect(bars_, &BudgetBars::chosen, this, &StandingSheet::show_part_source);
  bars_->setMinimumHeight(7 * 22);
  layout->addWidget(bars_, 7);
  auto* rule = new QFrame(card);
  rule->setFixedHeight(1);
  rule->setProperty("role", "rule");
  layout->addWidget(rule);
  layout->addWidget(make_label("history-caption", "caption", tr("History"), card));
  history_ = new QTableView(card);
  history_->setObjectName(QStringLiteral("history"));
  history_->setAccessibleName(tr("History"));
  record_ = new HistoryModel(session, history_);
  history_->setModel(record_);
  history_->horizontalHeader()->hide();
  history_->verticalHeader()->hide();
  history_->verticalHeader()->setDefaultSectionSize(22);
  history_->setColumnWidth(0, 120);
  history_->horizontalHeader()->setStretchLastSection(true);
  history_->setShowGrid(false);
  history_->setSelectionMode(QAbstractItemView::SingleSelection);
  history_->setSelectionBehavior(QAbstractItemView::SelectRows);
  history_->setMinimumHeight(60);
  layout->addWidget(history_, 3);
  body()->addWidget(card, 1);

  finding()->add_label("next-heading", "heading", tr("NEXT"));
  next_title_ = finding()->add_label("next-title", "title");
  next_why_ = finding()->add_label("next-why", "task");
  finding()->box()->addSpacing(8);
  go_ = finding()->add_button("go-next", tr("Go there"), tr("Open that sheet"), true);
  connect(go_, &QPushButton::clicked, this, [this] {
    if (next_sheet_.isEmpty())
      session_.machine().home();
    else
      session_.notices().lead_to(next_sheet_);
  });
  finding()->add_rule();
  finding()->add_label("stale-heading", "heading", tr("OUT OF DATE"));
  stale_ = finding()->add_label("stale", "small");
  checked_ = finding()->add_button("places-checked", tr("I checked the places"),
                                   tr("They are where their numbers say: takes the mark of having been carried over"));
  connect(checked_, &QPushButton::clicked, this, &StandingSheet::places_checked);
  finding()->add_rule();
  finding()->add_label("never-heading", "heading", tr("NEVER MEASURED"));
  never_ = finding()->add_label("never", "small");
  finding()->add_stretch();
}

void StandingSheet::refresh() {
  const Book& book = session_.editor().book();
  const LengthUnit unit = session_.editor().unit();
  const Budget budget = error_budget(book, session_.machine().status().tool, session_.editor().tasks());
  title_label()->setText(book.machine.name.empty() ? tr("Where it stands")
                                                   : tr("Where %1 stands").arg(to_q(book.machine.name)));
  part_->setText(tr("A %1 × %2 %3 part cut today would come out within")
                     .arg(to_q(format_length(book.job.part_width, unit, 0)),
                          to_q(format_length(book.job.part_height, unit, 0)), to_q(unit_name(unit))));
  figure_->setText(budget.any_known ? QString("±%1").arg(length(budget.size_mm, 2)) : tr("unknown"));
  square_->setText(budget.square_mm ? tr("and out of square by up to %1").arg(length(*budget.square_mm, 2))
                                    : tr("and nobody knows how far out of square"));
  note_->setText(budget.any_known ? tr("for about 95 %, from this book's own measurements; at the very worst ±%1, were "
                                       "all of them at their ends at once")
                                        .arg(length(budget.worst_mm, 2))
                                  : tr("Nothing is measured yet, so nothing can be said."));
  bars_->show(budget);
  record_->refresh();

  QStringList stale, never;
  std::vector<std::pair<QString, SheetStanding>> open;
  for (const Task* task : session_.editor().tasks()) {
    if (!task->commissions()) continue;
    const QString id = task->id(), title = title_of(*task);
    const SheetStanding standing = session_.editor().standing(task->id());
    if (standing.standing == Standing::out_of_date) {
      stale << title + "\n" + out_of_date_reason(book, standing);
      open.emplace_back(id, standing);
    } else if (standing.standing == Standing::never_done) {
      never << title;
      open.emplace_back(id, standing);
    }
  }
  QStringList carried;
  for (const auto& p : book.places)
    if (p.carried_over) carried << to_q(p.name);
  if (!carried.isEmpty())
    stale << tr("Stored places\ncarried over, same place, new number; go and see: %1").arg(carried.join(", "));
  checked_->setVisible(!carried.isEmpty());
  stale_->setText(stale.isEmpty() ? tr("Nothing.") : stale.join("\n\n"));
  never_->setText(never.isEmpty() ? tr("Nothing: every sheet has a result.") : never.join(", "));

  if (!session_.machine().status().all_homed()) {
    next_sheet_.clear();
    next_title_->setText(tr("Home the machine"));
    next_why_->setText(
        tr("Until it has been homed it does not know where it is, and long moves are refused. Machine › Home."));
    go_->setText(tr("Home"));
  } else {
    // The largest known cause that has a working correction comes first; then the order of work.
    next_sheet_.clear();
    const BudgetPart& largest = budget.parts.front();
    if (largest.mm && largest.task == &steps_per_unit_task() && *largest.mm > budget.size_mm / 2) {
      next_sheet_ = largest.task->id();
      next_title_->setText(tr("%1: the largest cause").arg(part_name(largest)));
      next_why_->setText(
          tr("%1 of what a job is off by today comes from it. Measure it over a long way, with a ruler or better.")
              .arg(length(*largest.mm, 2)));
      go_->setText(
          tr("Go to %1").arg(title_of(*find_task(session_.editor().tasks(), next_sheet_.toStdString())).toLower()));
      return;
    }
    if (!open.empty()) next_sheet_ = open.front().first;
    if (next_sheet_.isEmpty()) next_sheet_ = stock_program_id;
    const auto standing = session_.editor().standing(next_sheet_.toStdString());
    const QString title = title_of(*find_task(session_.editor().tasks(), next_sheet_.toStdString()));
    next_title_->setText(standing.standing == Standing::out_of_date ? tr("%1: measure again").arg(title)
                         : standing.standing == Standing::never_done && next_sheet_ != stock_program_id
                             ? tr("%1: never done").arg(title)
                             : title);
    next_why_->setText(standing.standing == Standing::out_of_date ? out_of_date_reason(book, standing)
                                                                  : tr("It is the next stop in the order of work."));
    go_->setText(tr("Go to %1").arg(title.toLower()));
  }
}

void StandingSheet::show_part_source(int part) {
  const Budget budget =
      error_budget(session_.editor().book(), session_.machine().status().tool, session_.editor().tasks());
  if (part < 0 || part >= static_cast<int>(budget.parts.size())) return;
  const BudgetPart& p = budget.parts[static_cast<std::size_t>(part)];
  if (p.entry) {
    history_->selectRow(record_->row_of(*p.entry));
    history_->scrollTo(record_->index(record_->row_of(*p.entry), 0), QAbstractItemView::PositionAtCenter);
  } else {
    session_.notices().lead_to(p.task->id());
  }
}

void StandingSheet::places_checked() {
  session_.editor().change_book(tr("Check the stored places"), [this](Book& b) {
    Entry entry;
    entry.time = session_.editor().now().toStdString();
    entry.sheet = "places";
    QStringList names;
    for (auto& p : b.places)
      if (std::exchange(p.carried_over, false)) names << to_q(p.name);
    entry.result = result_of(SaidEntry{tr("checked: %1").arg(names.join(", ")).toStdString()});
    b.history.push_back(std::move(entry));
  });
}

}  // namespace ypsi::app
