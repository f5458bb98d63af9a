#include "app/sheets/work_zero/marks_page.h"

#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/drawing/left_over_drawing.h"
#include "app/session/book_editor.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/sheet.h"
#include "app/sheets/work_zero/turned_page.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "core/book/worksheets/marks.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {
namespace {

constexpr std::size_t most_printed_marks = 26;

}  // namespace

MarksPage::MarksPage(Session& session) : session_(session) {
  auto* inside = make_card_page(this);
  auto* card = inside->parentWidget();
  auto* upper = new QHBoxLayout;
  drawing_ = new LeftOverDrawing(card);
  upper->addWidget(drawing_, 4);
  table_ = make_table("printed-marks", tr("Marks as drawn and as found"), {"", tr("drawn X"), "Y", tr("found X"), "Y"},
                      -1, 24, card);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  auto* rows = new QVBoxLayout;
  auto* of_rows = new QHBoxLayout;
  rows->addWidget(table_, 1);
  rows->addLayout(of_rows);
  upper->addLayout(rows, 6);
  inside->addLayout(upper, 1);
  result_ = make_label("marks-result", "strong", "", card);
  words_ = make_label("marks-words", "task", "", card);
  inside->addWidget(result_);
  inside->addWidget(words_);
  PageFoot foot(inside, card);
  auto* acts = foot.acts();
  add_ = add_act(of_rows, "mark-add", tr("Add a mark"), tr("One more mark, to type where it is drawn"), card,
                 [this] { change(tr("Add a mark"), [](MarksWorksheet& s) { s.marks.push_back({}); }); });
  take_ = add_act(acts, "mark-take", "", tr("What is chosen to stand over the place stands over this mark now"), card,
                  [this] { take(); });
  out_ = add_act(of_rows, "printed-mark-out", tr("Take it out"), tr("Takes the chosen mark out"), card, [this] {
    const auto row = static_cast<std::ptrdiff_t>(table_->currentRow());
    change(tr("Take a mark out"), [row](MarksWorksheet& s) {
      if (row >= 0 && row < std::ssize(s.marks)) s.marks.erase(s.marks.begin() + row);
    });
  });
  of_rows->addStretch();
  apply_ = add_act(acts, "marks-apply", tr("Set zero by the marks"), tr("Zero of X and Y where the drawing has it"),
                   card, [this] { apply(); });
  turn_ = add_act(acts, "marks-turn", tr("Turn the program"),
                  tr("A copy of the program, turned as the marks lie, about work zero"), card, [this] {
                    if (const auto fit = evaluate_marks(session_.editor().book()); fit && session_.job().program())
                      turn_program(session_, this, fit->turn);
                  });
  number_acts({take_, apply_, turn_, add_, out_});
  hint_ = foot.hint("marks-hint");
  connect(table_, &QTableWidget::cellChanged, this, [this](int row, int at) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row, at] { take_cell(row, at); }, Qt::QueuedConnection);
  });
}

void MarksPage::change(const QString& text, const std::function<void(MarksWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[marks_worksheet]); }, MachineFollows::no);
}

/// The chosen one, or the first that was not found yet.
std::optional<std::size_t> MarksPage::next_open() const {
  const auto& marks = session_.editor().book().worksheets[marks_worksheet].marks;
  for (std::size_t i = 0; i < marks.size(); ++i)
    if (!marks[i].found) return i;
  if (const int row = table_->currentRow(); row >= 0 && static_cast<std::size_t>(row) < marks.size())
    return static_cast<std::size_t>(row);
  return std::nullopt;
}

void MarksPage::take() {
  const auto at = next_open();
  if (!at) return;
  const MachineSession& machine = session_.machine();
  const OverMark over{machine.status().position.x + machine.looks_beside(Axis::x),
                      machine.status().position.y + machine.looks_beside(Axis::y)};
  change(tr("Find a mark"), [&](MarksWorksheet& s) { s.marks[*at].found = over; });
}

void MarksPage::take_cell(int row, int at) {
  const QTableWidgetItem* item = table_->item(row, at);
  if (!item || at == 0) return;
  const auto typed = length_in(*item, session_);
  if (!typed) return refresh();
  const std::optional<double> mm = *typed;
  change(tr("Type a mark"), [&](MarksWorksheet& s) {
    const auto i = static_cast<std::size_t>(row);
    if (i >= s.marks.size()) return;
    PrintedMark& m = s.marks[i];
    if (at <= 2) {
      (at == 1 ? m.x_mm : m.y_mm) = mm.value_or(0);
    } else if (!mm) {
      m.found.reset();
    } else {
      OverMark now = m.found.value_or(OverMark{});
      (at == 3 ? now.x_mm : now.y_mm) = *mm;
      m.found = now;
    }
  });
}

void MarksPage::apply() {
  const auto fit = evaluate_marks(session_.editor().book());
  if (!fit || fit->verdict != MarksVerdict::ok) return;
  const PlanPoint zero = fit->at({0, 0});
  const Head* by = session_.machine().looking();
  const std::string instrument = by ? by->name : "eye";
  if (!session_.machine().set_work_zero_at({{Axis::x, zero.real()}, {Axis::y, zero.imag()}},
                                           RecordJson::from_text("[]"), instrument))
    return;
  session_.editor().change_book(
      tr("Keep how the drawing lies"),
      [&](Book& b) { keep_marks(b, *fit, instrument, session_.editor().now().toStdString()); }, MachineFollows::no);
  session_.notices().notify(
      {NoticeLevel::good, tr("Work zero is where the drawing has it. Turn the program as the marks lie."), {}});
}

void MarksPage::refresh() {
  const Book& book = session_.editor().book();
  const LengthUnit unit = session_.editor().unit();
  const auto& marks = book.worksheets[marks_worksheet].marks;
  const auto fit = evaluate_marks(book);
  showing_ = true;
  const int was = table_->currentRow();
  table_->setRowCount(static_cast<int>(marks.size()));
  std::vector<LeftOverDrawing::At> drawn;
  std::size_t told = 0;
  for (std::size_t i = 0; i < marks.size(); ++i) {
    const PrintedMark& m = marks[i];
    const int row = static_cast<int>(i);
    const auto set = [&](int column, const QString& text, bool editable = true) {
      auto* item = new QTableWidgetItem(text);
      if (!editable) item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      table_->setItem(row, column, item);
    };
    const auto len = [&](double mm) { return to_q(format_length(mm, unit, 2)); };
    set(0, mark_letter(i), false);
    set(1, len(m.x_mm));
    set(2, len(m.y_mm));
    set(3, m.found ? len(m.found->x_mm) : QString());
    set(4, m.found ? len(m.found->y_mm) : QString());
    LeftOverDrawing::At at{mark_letter(i), m.x_mm, m.y_mm};
    if (m.found && fit && told < fit->residuals.size()) {
      at.left_x = fit->residuals[told].real();
      at.left_y = fit->residuals[told].imag();
      at.told = true;
    }
    if (m.found) ++told;
    drawn.push_back(at);
  }
  table_->setColumnWidth(0, 28);
  if (was >= 0 && was < table_->rowCount()) table_->selectRow(was);
  showing_ = false;
  drawing_->show(std::move(drawn));
  QString result, words;
  if (!fit) {
    result = tr("Two marks or more tell how the drawing lies");
    words =
        tr("Type where each mark is drawn, from the drawing's zero; then bring the pointer, or the tool, over each. "
           "With three the odd one is found.");
  } else {
    result =
        tr("The drawing is turned by %1 mrad (%2°), its size %3 %")
            .arg(to_q(format_signed(fit->turn * 1000, 2)), to_q(format_signed(fit->turn * 180 / std::numbers::pi, 3)),
                 to_q(format_number(fit->scale * 100, 3)));
    QStringList odd;
    std::vector<std::size_t> found;
    for (std::size_t i = 0; i < marks.size(); ++i)
      if (marks[i].found) found.push_back(i);
    for (const std::size_t i : fit->odd)
      if (i < found.size()) odd << mark_letter(found[i]);
    words = fit->verdict == MarksVerdict::odd_mark
                ? tr("⊗ %1 does not fit the others: look whether it is the right mark, and take it again.")
                      .arg(odd.join(", "))
            : fit->verdict == MarksVerdict::wrong_scale
                ? tr("⊗ The two marks are not as far apart as drawn: see that they are the right ones.")
            : fit->scale != 1
                ? tr("◐ It lies there larger or smaller than drawn; the program is turned, not stretched.")
                : tr("● It fits as it was drawn.");
  }
  set_text(result_, result);
  set_text(words_, words);
  refresh_status();
}

void MarksPage::refresh_status() {
  const bool writable = !session_.editor().read_only();
  const MachineSession& machine = session_.machine();
  const bool stands = machine.standing_ready() && machine.status().all_homed();
  const auto at = next_open();
  const Head* by = machine.looking();
  set_text(take_, at ? tr("It is over %1").arg(mark_letter(*at)) : tr("It is over the mark"));
  take_->setEnabled(at && stands && writable);
  add_->setEnabled(writable && session_.editor().book().worksheets[marks_worksheet].marks.size() < most_printed_marks);
  out_->setEnabled(writable && table_->currentRow() >= 0 && table_->rowCount() > 0);
  const auto fit = evaluate_marks(session_.editor().book());
  const bool fits = fit && fit->verdict == MarksVerdict::ok;
  apply_->setEnabled(fits && stands && writable);
  turn_->setEnabled(fits && session_.job().program() != nullptr);
  set_text(hint_, by ? tr("The %1 is what stands over the marks; it is chosen at the right.").arg(to_q(by->name))
                     : tr("The tool's own point is what stands over the marks, unless another head is chosen."));
}

}  // namespace ypsi::app
