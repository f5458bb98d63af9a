#include "app/sheets/standing_sheet.h"

#include <QHeaderView>
#include <QPainter>
#include <QScrollBar>
#include <QTableWidget>

#include "app/drawing/draft.h"
#include "app/session/entry_text.h"
#include "app/sheets/registry.h"
#include "core/book/budget.h"

namespace ypsi::app {
namespace {

QString part_name(const BudgetPart& part) {
  const QString axis = part.axis ? " " + QString(QChar(letter(*part.axis))) : QString();
  switch (part.kind) {
    case BudgetKind::squareness:
      return StandingSheet::tr("Squareness");
    case BudgetKind::lost_motion:
      return StandingSheet::tr("Lost motion") + axis;
    case BudgetKind::scale:
      return StandingSheet::tr("Steps per unit") + axis;
    case BudgetKind::cutter:
      return StandingSheet::tr("Cutter T%1").arg(part.tool);
    case BudgetKind::homing:
      return StandingSheet::tr("Homing");
    case BudgetKind::bed:
      return StandingSheet::tr("Bed and spindle");
  }
  return {};
}

/// Where the error comes from: one bar a cause, unknown ones dashed.
class BudgetBars : public QWidget {
 public:
  BudgetBars(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName(QStringLiteral("budget"));
    setAccessibleName(StandingSheet::tr("Error budget"));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    Draft draft(painter);
    const Budget budget = error_budget(session_.book());
    double largest = 1e-9;
    for (const auto& p : budget.parts) largest = std::max(largest, p.mm.value_or(0));
    const double left = 150, room = width() - left - 70;
    const double row = std::min(38.0, height() / std::max(1.0, static_cast<double>(budget.parts.size())));
    double y = 0;
    for (const auto& p : budget.parts) {
      draft.text({0, y + 15}, part_name(p), theme().ink, 12, true);
      const bool stale = standing_of(session_.book(), sheet_of(p.kind)).standing == Standing::out_of_date;
      QString source;
      if (p.mm) {
        const double w = std::max(2.0, room * *p.mm / largest);
        draft.box(QRectF(left, y + 3, w, 14), Qt::transparent, stale ? theme().ochre : theme().teal, 0);
        if (stale) draft.hatch(QRectF(left, y + 3, w, 14), theme().sheet, 5);
        draft.text({left + w + 8, y + 15}, to_q(format_length(*p.mm, session_.unit(), 2)), theme().ink, 12, true);
        const Entry& e = session_.book().history[*p.entry];
        source = entry_words(e, session_.unit()) + ", " + entry_date(e).section(' ', 0, 1);
        if (stale) source += StandingSheet::tr(", out of date");
      } else {
        draft.box(QRectF(left, y + 3, 120, 14), theme().second_ink, Qt::transparent, 1, Qt::DashLine);
        source = StandingSheet::tr("not measured: unknown, not zero");
      }
      if (row > 28) draft.text({left, y + 30}, source, theme().second_ink, 10);
      y += row;
    }
  }

 private:
  Session& session_;
};

}  // namespace

StandingSheet::StandingSheet(Session& session)
    : Sheet(session, "standing", tr("Where it stands"),
            tr("One look: what can be trusted, what cannot, and what to do about it.")) {
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
  layout->addWidget(
      make_label("budget-note", "small", tr("worked out from this book's own measurements, for about 95 %"), card));
  layout->addSpacing(8);
  layout->addWidget(make_label("budget-caption", "caption", tr("Where that comes from, over the usual part"), card));
  bars_ = new BudgetBars(session, card);
  bars_->setMinimumHeight(7 * 22);
  layout->addWidget(bars_, 7);
  auto* rule = new QFrame(card);
  rule->setFixedHeight(1);
  rule->setProperty("role", "rule");
  layout->addWidget(rule);
  layout->addWidget(make_label("history-caption", "caption", tr("History"), card));
  history_ = new QTableWidget(card);
  history_->setObjectName(QStringLiteral("history"));
  history_->setAccessibleName(tr("History"));
  history_->setColumnCount(2);
  history_->horizontalHeader()->hide();
  history_->verticalHeader()->hide();
  history_->verticalHeader()->setDefaultSectionSize(22);
  history_->setColumnWidth(0, 120);
  history_->horizontalHeader()->setStretchLastSection(true);
  history_->setShowGrid(false);
  history_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  history_->setSelectionMode(QAbstractItemView::NoSelection);
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
      session_.home();
    else
      emit session_.sheet_wanted(next_sheet_);
  });
  finding()->add_rule();
  finding()->add_label("stale-heading", "heading", tr("OUT OF DATE"));
  stale_ = finding()->add_label("stale", "small");
  finding()->add_rule();
  finding()->add_label("never-heading", "heading", tr("NEVER MEASURED"));
  never_ = finding()->add_label("never", "small");
  finding()->add_stretch();
}

void StandingSheet::refresh() {
  const Book& book = session_.book();
  const LengthUnit unit = session_.unit();
  const Budget budget = error_budget(book);
  title_label()->setText(book.machine.name.empty() ? tr("Where it stands")
                                                   : tr("Where %1 stands").arg(to_q(book.machine.name)));
  part_->setText(tr("A %1 × %2 %3 part cut today would come out within")
                     .arg(to_q(format_length(book.job.part_width, unit, 0)),
                          to_q(format_length(book.job.part_height, unit, 0)), to_q(unit_name(unit))));
  figure_->setText(budget.any_known ? QString("±%1").arg(length(budget.size_mm, 2)) : tr("unknown"));
  square_->setText(budget.square_mm ? tr("and out of square by up to %1").arg(length(*budget.square_mm, 2))
                                    : tr("and nobody knows how far out of square"));
  bars_->update();

  const auto& h = book.history;
  history_->setRowCount(static_cast<int>(h.size()));
  for (std::size_t i = 0; i < h.size(); ++i) {
    const Entry& e = h[h.size() - 1 - i];
    auto* date = new QTableWidgetItem(entry_date(e));
    date->setForeground(theme().second_ink);
    history_->setItem(static_cast<int>(i), 0, date);
    history_->setItem(static_cast<int>(i), 1, new QTableWidgetItem(entry_text(e, unit)));
  }

  QStringList stale, never;
  std::vector<std::pair<QString, SheetStanding>> open;
  for (const auto& s : sheet_registry()) {
    if (s.group == sheet_registry().back().group || s.id == "standing" || s.id == "program" || s.id == "ready_check" ||
        s.id == "cut" || s.id == "measure_cut")
      continue;
    const SheetStanding standing = standing_of(book, s.id.toStdString());
    if (standing.standing == Standing::out_of_date) {
      stale << s.title + "\n" + out_of_date_reason(book, standing);
      open.emplace_back(s.id, standing);
    } else if (standing.standing == Standing::never_done) {
      never << s.title;
      open.emplace_back(s.id, standing);
    }
  }
  stale_->setText(stale.isEmpty() ? tr("Nothing.") : stale.join("\n\n"));
  never_->setText(never.isEmpty() ? tr("Nothing: every sheet has a result.") : never.join(", "));

  if (!session_.status().all_homed()) {
    next_sheet_.clear();
    next_title_->setText(tr("Home the machine"));
    next_why_->setText(
        tr("Until it has been homed it does not know where it is, and long moves are refused. Machine › Home."));
    go_->setText(tr("Home"));
  } else {
    // The largest known cause that has a working correction comes first; then the order of work.
    next_sheet_.clear();
    const BudgetPart& largest = budget.parts.front();
    if (largest.mm && largest.kind == BudgetKind::scale && *largest.mm > budget.size_mm / 2) {
      next_sheet_ = sheet_of(largest.kind);
      next_title_->setText(tr("%1: the largest cause").arg(part_name(largest)));
      next_why_->setText(
          tr("%1 of what a job is off by today comes from it. Measure it over a long way, with a ruler or better.")
              .arg(length(*largest.mm, 2)));
      go_->setText(tr("Go to %1").arg(sheet_title(next_sheet_).toLower()));
      return;
    }
    if (!open.empty()) next_sheet_ = open.front().first;
    if (next_sheet_.isEmpty()) next_sheet_ = "program";
    const auto standing = standing_of(book, next_sheet_.toStdString());
    const QString title = sheet_title(next_sheet_);
    next_title_->setText(standing.standing == Standing::out_of_date ? tr("%1: measure again").arg(title)
                         : standing.standing == Standing::never_done && next_sheet_ != "program"
                             ? tr("%1: never done").arg(title)
                             : title);
    next_why_->setText(standing.standing == Standing::out_of_date ? out_of_date_reason(book, standing)
                                                                  : tr("It is the next stop in the order of work."));
    go_->setText(tr("Go to %1").arg(title.toLower()));
  }
}

}  // namespace ypsi::app
