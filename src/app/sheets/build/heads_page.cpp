#include "app/sheets/build/heads_page.h"

#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/wrapped_row.h"
#include "core/program/own_blocks.h"

namespace ypsi::app {
namespace {

enum HeadColumn {
  head_name,
  head_kind,
  head_lower,
  head_raise,
  head_on,
  head_off,
  head_gauge,
  head_low,
  head_high,
  head_cap,
  head_columns
};

}  // namespace

HeadsBuildPage::HeadsBuildPage(BuildDraft& draft) : BuildPage(draft) {
  setObjectName("build-page-heads");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(
      make_label("heads-what", "small",
                 tr("The first is the one that the machine counts for; where the others stand against it is "
                    "measured on the sheet Heads. Without any, the machine has its spindle alone."),
                 this));
  table_ = make_table("build-heads", tr("Heads on the carriage"),
                      {tr("Name"), tr("Kind"), tr("Lower"), tr("Raise"), tr("On"), tr("Off"), tr("Gauge"), tr("from"),
                       tr("to"), tr("most")},
                      head_name, 28, this);
  const std::pair<HeadColumn, QString> tips[] = {
      {head_lower, tr("Your own block of G-code that lowers it; empty: it goes down by Z")},
      {head_raise, tr("The block that raises it")},
      {head_on, tr("The block that switches it on, where it has something to switch; {level} stands for what its gauge "
                   "is set to: M171 P{level}")},
      {head_off, tr("The block that switches it off")},
      {head_gauge, tr("What its gauge shows: bar, g, %; empty: it has none")},
      {head_low, tr("Lowest that its gauge can be set to")},
      {head_high, tr("Highest that its gauge can be set to")},
      {head_cap, tr("Never above this; for a beam")}};
  for (const auto& [at, tip] : tips) table_->horizontalHeaderItem(at)->setToolTip(tip);
  constexpr int kind_px = 124;
  table_->horizontalHeader()->setSectionResizeMode(head_kind, QHeaderView::Fixed);
  table_->setColumnWidth(head_kind, kind_px);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  column->addWidget(table_, 1);
  auto* acts = new WrappedRow;
  add_ = make_button("build-head-add", tr("Add a head"), tr("One more head on the carriage"), this);
  remove_ = make_button("build-head-remove", tr("Take it out"), tr("Takes the chosen head out"), this);
  first_ = make_button("build-head-first", tr("Make it the first"),
                       tr("The machine counts for the chosen head; all others are measured anew"), this);
  for (QPushButton* b : {add_, first_, remove_}) acts->addWidget(b);
  column->addLayout(acts);
  connect(add_, &QPushButton::clicked, this, [this] {
    draft_.change(tr("Add a head"), [](MachineSetup& m) {
      Head head;
      head.kind = m.heads.empty() ? HeadKind::spindle : HeadKind::pointer;
      const std::string word = head_words(head.kind).toStdString();
      head.name = word;
      for (int n = 2; m.head(head.name); ++n) head.name = word + " " + std::to_string(n);
      m.heads.push_back(std::move(head));
    });
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    if (const int at = table_->currentRow(); at >= 0)
      draft_.change(tr("Take a head out"), [at](MachineSetup& m) { m.heads.erase(m.heads.begin() + at); });
  });
  connect(first_, &QPushButton::clicked, this, [this] {
    if (const int at = table_->currentRow(); at > 0)
      draft_.change(tr("Make a head the first"), [at](MachineSetup& m) {
        std::rotate(m.heads.begin(), m.heads.begin() + at, m.heads.begin() + at + 1);
        for (Head& h : m.heads) h.place.reset();
      });
  });
  connect(table_, &QTableWidget::cellChanged, this, [this](int row) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row] { take(row); }, Qt::QueuedConnection);
  });
  connect(table_, &QTableWidget::itemSelectionChanged, this, [this] {
    remove_->setEnabled(table_->currentRow() >= 0);
    first_->setEnabled(table_->currentRow() > 0);
  });
}

void HeadsBuildPage::take(int row) {
  const auto at = static_cast<std::size_t>(row);
  if (at >= draft_.machine().heads.size()) return;
  Head head = draft_.machine().heads[at];
  QString why;
  const auto cell = [&](int column) { return table_->item(row, column)->text().trimmed().toStdString(); };
  const auto number = [&](int column) {
    if (cell(column).empty()) return 0.0;
    const auto value = parse_number(cell(column));
    if (!value) why = to_q(value.error().message);
    return value.value_or(0);
  };
  head.name = cell(head_name);
  head.lower = cell(head_lower);
  head.raise = cell(head_raise);
  head.on = cell(head_on);
  head.off = cell(head_off);
  head.gauge = cell(head_gauge);
  head.gauge_low = number(head_low);
  head.gauge_high = number(head_high);
  head.cap = number(head_cap);
  if (auto* kind = qobject_cast<QComboBox*>(table_->cellWidget(row, head_kind)))
    head.kind = head_kinds[static_cast<std::size_t>(std::max(0, kind->currentIndex()))].first;
  if (why.isEmpty() && head.name.empty()) why = tr("A head needs a name.");
  for (std::size_t i = 0; i < draft_.machine().heads.size(); ++i)
    if (i != at && draft_.machine().heads[i].name == head.name) why = tr("There is a head of that name already.");
  if (why.isEmpty() && head.gauge_low > head.gauge_high) why = tr("A gauge goes from its lowest to its highest.");
  for (const HeadAct act : {HeadAct::off, HeadAct::raise})
    if (why.isEmpty() && says_level(head, act))
      why = tr("{level} has no meaning where a head is raised or switched off.");
  if (why.isEmpty() && head.cap < 0) why = tr("The most must not be below zero.");
  if (!why.isEmpty()) {
    session().notices().notify({NoticeLevel::attention, tr("%1 It was left as it is.").arg(why), {}});
    return refresh();
  }
  draft_.change(tr("Change a head"), [&](MachineSetup& m) { m.heads[at] = head; });
}

void HeadsBuildPage::refresh() {
  showing_ = true;
  const auto& heads = draft_.machine().heads;
  const int was = table_->currentRow();
  table_->setRowCount(static_cast<int>(heads.size()));
  for (std::size_t i = 0; i < heads.size(); ++i) {
    const Head& h = heads[i];
    const int row = static_cast<int>(i);
    const auto set = [&](int column, const QString& text) { table_->setItem(row, column, new QTableWidgetItem(text)); };
    set(head_name, to_q(h.name));
    set(head_lower, to_q(h.lower));
    set(head_raise, to_q(h.raise));
    set(head_on, to_q(h.on));
    set(head_off, to_q(h.off));
    set(head_gauge, to_q(h.gauge));
    set(head_low, number_or_blank(h.gauge_low));
    set(head_high, number_or_blank(h.gauge_high));
    set(head_cap, number_or_blank(h.cap));
    auto* kind = qobject_cast<QComboBox*>(table_->cellWidget(row, head_kind));
    if (!kind) {
      kind = new QComboBox(table_);
      kind->setObjectName(QString("head-kind-%1").arg(row + 1));
      kind->setAccessibleName(tr("Kind of head %1").arg(row + 1));
      for (const auto& [each, word] : head_kinds) kind->addItem(head_words(each));
      connect(kind, &QComboBox::activated, this, [this, row] { take(row); });
      table_->setCellWidget(row, head_kind, kind);
    }
    kind->setCurrentIndex(static_cast<int>(h.kind));
  }
  if (was >= 0 && was < table_->rowCount()) table_->selectRow(was);
  remove_->setEnabled(table_->currentRow() >= 0);
  first_->setEnabled(table_->currentRow() > 0);
  showing_ = false;
}

}  // namespace ypsi::app
