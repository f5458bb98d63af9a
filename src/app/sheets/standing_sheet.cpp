#include "app/sheets/standing_sheet.h"

#include <QHeaderView>
#include <QMouseEvent>
#include <QPainter>
#include <QTableView>

#include "app/connect_dialog.h"
#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/part_words.h"
#include "app/session/phrases.h"
#include "app/sheets/budget_bars.h"
#include "app/sheets/history_model.h"
#include "app/to_q.h"
#include "core/tasks/budget.h"
#include "core/tasks/build.h"
#include "core/tasks/finding.h"
#include "core/tasks/overview.h"
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
  layout->addSpacing(6);
  layout->addLayout(make_sizes(card));
  layout->addSpacing(6);
  layout->addWidget(make_label("budget-caption", "caption", tr("Where that comes from, over the usual part"), card));
  bars_ = new BudgetBars(session, card);
  connect(bars_, &BudgetBars::chosen, this, &StandingSheet::show_part_source);
  bars_->setMinimumHeight(7 * 22);
  layout->addWidget(bars_, 7);
  layout->addWidget(make_history(), 3);
  body()->addWidget(card, 1);
  make_next();
}

/// As much of it as there is room for: the strip to jog by may take that of all of it.
QWidget* StandingSheet::make_history() {
  auto* page = new QWidget;
  page->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Ignored);
  auto* layout = new QVBoxLayout(page);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(4);
  auto* rule = new QFrame(page);
  rule->setFixedHeight(1);
  rule->setProperty("role", "rule");
  layout->addWidget(rule);
  layout->addWidget(make_label("history-caption", "caption", tr("History"), page));
  history_ = new QTableView(page);
  history_->setObjectName(QStringLiteral("history"));
  history_->setAccessibleName(tr("History"));
  record_ = new HistoryModel(session_, history_);
  history_->setModel(record_);
  history_->horizontalHeader()->hide();
  history_->verticalHeader()->hide();
  history_->verticalHeader()->setDefaultSectionSize(22);
  history_->setColumnWidth(0, 120);
  history_->horizontalHeader()->setStretchLastSection(true);
  history_->setShowGrid(false);
  history_->setSelectionMode(QAbstractItemView::SingleSelection);
  history_->setSelectionBehavior(QAbstractItemView::SelectRows);
  history_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
  layout->addWidget(history_, 1);
  return page;
}

void StandingSheet::make_next() {
  finding()->add_label("next-heading", "heading", tr("NEXT"));
  next_title_ = finding()->add_label("next-title", "title");
  next_why_ = finding()->add_label("next-why", "task");
  finding()->box()->addSpacing(8);
  go_ = finding()->add_button("go-next", tr("Go there"), tr("Open that sheet"), true);
  connect(go_, &QPushButton::clicked, this, [this] {
    if (connects_)
      (new ConnectDialog(session_, window()))->show();
    else if (next_sheet_.isEmpty())
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

QLayout* StandingSheet::make_sizes(QWidget* card) {
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(10);
  grid->setVerticalSpacing(2);
  sizes_caption_ = make_label("sizes-caption", "caption", "", card);
  grid->addWidget(sizes_caption_, 0, 0, 1, 4);
  for (std::size_t k = 0; k < all_size_kinds.size(); ++k)
    grid->addWidget(make_label(QString("size-kind-%1").arg(k), "small", size_kind_name(all_size_kinds[k]), card), 1,
                    static_cast<int>(k) + 1);
  for (std::size_t a = 0; a < sizes_.size(); ++a) {
    const int row = static_cast<int>(a) + 2;
    grid->addWidget(make_label(a == 0 ? "sizes-x" : "sizes-y", "small", a == 0 ? tr("along X") : tr("along Y"), card),
                    row, 0);
    for (std::size_t k = 0; k < all_size_kinds.size(); ++k) {
      sizes_[a][k] = make_label(QString("size-%1-%2").arg(a).arg(k), "strong", "", card);
      sizes_[a][k]->setWordWrap(false);
      grid->addWidget(sizes_[a][k], row, static_cast<int>(k) + 1);
    }
  }
  constexpr int names = 2, figures = 3;
  for (int column = 0; column < 4; ++column) grid->setColumnStretch(column, column == 0 ? names : figures);
  return grid;
}

void StandingSheet::show_sizes(const Budget& budget) {
  const LengthUnit unit = session_.editor().unit();
  const auto& headline = budget.sizes.headline;
  figure_->setText(headline ? QString("±%1").arg(length(*headline, 2)) : tr("unknown"));
  const auto& square = budget.sizes.square;
  square_->setText(square ? tr("and out of square by %1, ±%2").arg(length(square->bias, 2), length(square->U, 2))
                          : tr("and nobody knows how far out of square"));
  sizes_caption_->setText(tr("Which sizes come out how, in %1").arg(to_q(unit_name(unit))));
  const QString without = without_words(budget);
  if (!headline) {
    note_->setText(tr("Nothing is measured yet, so nothing can be said."));
  } else {
    const QString asked = length(budget.tolerance, 2);
    note_->setText(tr("for about 95 %: %1%2. %3")
                       .arg(worst_size_words(budget, unit), without.isEmpty() ? QString() : "; " + without,
                            budget.good_enough() ? tr("That is within the ±%1 that you ask.").arg(asked)
                                                 : tr("You ask for ±%1.").arg(asked)));
  }
  for (std::size_t a = 0; a < sizes_.size(); ++a)
    for (std::size_t k = 0; k < all_size_kinds.size(); ++k) {
      const auto& size = budget.sizes.axes[a].of(all_size_kinds[k]);
      sizes_[a][k]->setText(size ? off_words(*size, unit) : QStringLiteral("–"));
    }
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
  show_sizes(budget);
  bars_->show(budget);
  record_->refresh();

  QStringList stale, never;
  std::vector<const Task*> open;
  for (const Task* task : session_.editor().tasks()) {
    if (!task->asked_of(book.machine)) continue;
    const QString title = title_of(*task, book.machine);
    const SheetStanding standing = session_.editor().standing(task->id());
    if (standing.standing == Standing::out_of_date) {
      stale << title + "\n" + out_of_date_reason(book, standing);
      open.push_back(task);
    } else if (standing.standing == Standing::never_done) {
      never << title;
      open.push_back(task);
    } else if (standing.standing == Standing::failed) {
      open.push_back(task);
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

  show_next(budget, open);
}

void StandingSheet::show_next(const Budget& budget, const std::vector<const Task*>& open) {
  next_sheet_.clear();
  // Before anything homes or is measured, in their order: what it is, its inputs, its directions.
  const auto first_of =
      std::find_if(open.begin(), open.end(), [](const Task* task) { return task->group() == TaskGroup::machine; });
  const Task* first = first_of == open.end() ? nullptr : *first_of;
  connects_ = first && first->id() != std::string_view(build_id) && !session_.machine().up();
  if (connects_) {
    next_title_->setText(tr("Connect to the machine"));
    next_why_->setText(
        tr("By a line to its controller, or by hand: then you work it at its own screen, and tell what that shows. "
           "Machine › Connect."));
    go_->setText(tr("Connect…"));
    return;
  }
  if (!first && session_.machine().link() && !session_.machine().status().all_homed()) {
    next_title_->setText(tr("Home the machine"));
    next_why_->setText(
        tr("Until it has been homed it does not know where it is, and long moves are refused. Machine › Home."));
    go_->setText(tr("Home"));
    return;
  }
  const BudgetPart* cause = first ? nullptr : largest_cause(budget);
  const Task* next = first          ? first
                     : cause        ? cause->task
                     : open.empty() ? find_task(session_.editor().tasks(), stock_program_id)
                                    : open.front();
  next_sheet_ = next->id();
  const QString title = title_of(*next, session_.editor().book().machine);
  go_->setText(tr("Go to %1").arg(title.toLower()));
  const auto standing = session_.editor().standing(next->id());
  if (cause && !cause->off) {
    next_title_->setText(tr("%1: never measured").arg(part_name(*cause)));
    next_why_->setText(
        tr("Of what is open it does most for your part: on machines that nobody measured yet, it puts one like yours "
           "off by up to %1.")
            .arg(length(cause->gain, 2)));
    return;
  }
  if (cause) {
    next_title_->setText(tr("%1: the largest cause").arg(part_name(*cause)));
    next_why_->setText(tr("Up to %1 of what a job is off by today comes from it. What is known of it can be put right; "
                          "what is not, measured better.")
                           .arg(length(*cause->worst(), 2)));
    return;
  }
  next_title_->setText(standing.standing == Standing::out_of_date ? tr("%1: measure again").arg(title)
                       : standing.standing == Standing::failed    ? tr("%1: failed, see to it").arg(title)
                       : standing.standing == Standing::never_done && !open.empty() ? tr("%1: never done").arg(title)
                                                                                    : title);
  next_why_->setText(standing.standing == Standing::out_of_date ? out_of_date_reason(session_.editor().book(), standing)
                     : budget.good_enough()
                         ? tr("Sizes are within the ±%1 that you ask already. This bears on zeros and depths; it is "
                              "the next stop in the order of work.")
                               .arg(length(budget.tolerance, 2))
                         : tr("It is the next stop in the order of work."));
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
