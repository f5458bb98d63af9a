#include "app/sheets/program/clamps_table.h"

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"

namespace ypsi::app {
namespace {
constexpr int clamp_name = 0, number_columns = 5;
/// A clamp's number by its column.
template <class AnyClamp>
auto& number(AnyClamp& c, int column) {
  std::remove_reference_t<decltype((c.width_mm))>* const all[] = {&c.x_mm.mm, &c.y_mm.mm, &c.width_mm, &c.depth_mm,
                                                                  &c.height_mm};
  return *all[column];
}
}  // namespace

ClampsTable::ClampsTable(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  auto* row = new QHBoxLayout;
  row->addWidget(make_label("clamps-caption", "caption", tr("Clamps, vices"), this), 1);
  auto* add = make_button("clamp-add", tr("Add"), tr("One more clamp, where the tool is now (Ctrl+3)"), this);
  remove_ = make_button("clamp-remove", tr("Take it out"), tr("Takes the chosen one out (Ctrl+4)"), this);
  here_ = make_button("clamp-here", tr("It is here"), tr("Takes its middle from where the tool is (Ctrl+5)"), this);
  add->setShortcut(QKeySequence("Ctrl+3"));
  remove_->setShortcut(QKeySequence("Ctrl+4"));
  here_->setShortcut(QKeySequence("Ctrl+5"));
  for (auto* b : {add, here_, remove_}) row->addWidget(b);
  column->addLayout(row);
  table_ = make_table("clamps", tr("Clamps"), {tr("Name"), tr("X"), tr("Y"), tr("Wide"), tr("Deep"), tr("High")},
                      clamp_name, 22, this);
  const QString tips[] = {tr("What it is"),       tr("Its middle, machine X"), tr("Its middle, machine Y"),
                          tr("Its size along X"), tr("Its size along Y"),      tr("Its height above the bed")};
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setMaximumHeight(96);
  table_->setMinimumHeight(64);  // in a low window
  column->addWidget(table_);
  connect(add, &QPushButton::clicked, this, [this] {
    const auto at = session_.machine().status().position;
    change(tr("Add a clamp"), [&](std::vector<Clamp>& all) {
      Clamp c;
      c.name = tr("clamp %1").arg(all.size() + 1).toStdString();
      if (session_.machine().status().all_homed()) {
        c.x_mm = at.x;
        c.y_mm = at.y;
      }
      all.push_back(c);
    });
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    const int at = chosen();
    if (at >= 0) change(tr("Take a clamp out"), [at](std::vector<Clamp>& all) { all.erase(all.begin() + at); });
  });
  connect(here_, &QPushButton::clicked, this, [this] {
    const int at = chosen();
    const auto place = session_.machine().status().position;
    if (at < 0 || !session_.machine().must_be_there()) return;
    if (!session_.machine().status().all_homed()) {
      session_.notices().notify(
          {NoticeLevel::attention, tr("Home the machine first: before that it does not know where the tool is."), {}});
      return;
    }
    change(tr("Take a clamp's place"), [&](std::vector<Clamp>& all) {
      all[static_cast<std::size_t>(at)].x_mm = place.x;
      all[static_cast<std::size_t>(at)].y_mm = place.y;
    });
  });
  connect(table_, &QTableWidget::cellChanged, this, [this](int at) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, at] { take(at); }, Qt::QueuedConnection);
  });
}

/// The row that is chosen; below 0 where none is, which is said.
int ClampsTable::chosen() {
  const int at = table_->currentRow();
  if (at < 0)
    session_.notices().notify({NoticeLevel::attention,
                               session_.editor().book().job.clamps.empty()
                                   ? tr("There is no clamp yet; add one where the tool is.")
                                   : tr("Choose a clamp in the table first."),
                               {}});
  return at;
}

void ClampsTable::change(const QString& text, const std::function<void(std::vector<Clamp>&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.job.clamps); }, MachineFollows::no);
}

void ClampsTable::take(int row) {
  const auto at = static_cast<std::size_t>(row);
  if (at >= session_.editor().book().job.clamps.size()) return;
  Clamp c = session_.editor().book().job.clamps[at];
  c.name = table_->item(row, clamp_name)->text().trimmed().toStdString();
  for (int n = 0; n < number_columns; ++n) {
    const auto value = parse_length(table_->item(row, n + 1)->text().toStdString(), session_.editor().unit());
    if (!value || (n >= 2 && !(*value > 0))) {
      session_.notices().notify({NoticeLevel::attention,
                                 value ? tr("A clamp's size must be above zero; it was left as it is.")
                                       : tr("%1 It was left as it is.").arg(to_q(value.error().message)),
                                 {}});
      return refresh();
    }
    number(c, n) = *value;
  }
  if (!(c == session_.editor().book().job.clamps[at]))
    change(tr("Change a clamp"), [&](std::vector<Clamp>& all) { all[at] = c; });
}

void ClampsTable::refresh() {
  showing_ = true;
  const int row = table_->currentRow();
  const auto& clamps = session_.editor().book().job.clamps;
  table_->setRowCount(static_cast<int>(clamps.size()));
  for (std::size_t i = 0; i < clamps.size(); ++i) {
    table_->setItem(static_cast<int>(i), clamp_name, new QTableWidgetItem(to_q(clamps[i].name)));
    for (int n = 0; n < number_columns; ++n)
      table_->setItem(static_cast<int>(i), n + 1,
                      new QTableWidgetItem(to_q(format_length(number(clamps[i], n), session_.editor().unit(), 1))));
  }
  if (row >= 0 && row < table_->rowCount()) table_->setCurrentCell(row, clamp_name);
  showing_ = false;
}

}  // namespace ypsi::app
