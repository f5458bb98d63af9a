#include "app/sheets/heads/place_page.h"

#include <QComboBox>
#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/drawing/left_over_drawing.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"
#include "app/sheets/instrument_choice.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/save_program.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "core/book/worksheets/heads.h"
#include "core/book/worksheets/marks.h"
#include "core/program/head_lines.h"
#include "core/tasks/heads.h"

namespace ypsi::app {
namespace {

constexpr int most_head_marks = 26;
constexpr double cross_mm = 30, cross_apart = 0.4;  // of the stock, from its middle

}  // namespace

PlacePage::PlacePage(Session& session) : FindingPage(session) {
  auto* column = make_card_page(this);
  QWidget* card = column->parentWidget();
  column->addWidget(make_label("carriage-caption", "caption",
                               tr("The carriage from above, to scale; each head's place against the first"), card));
  carriage_ = new CarriageDrawing(card);
  column->addWidget(carriage_, 5);
  auto* middle = new QHBoxLayout;
  left_over_ = new LeftOverDrawing(card);
  middle->addWidget(left_over_, 4);
  table_ = make_table("head-marks", tr("Marks, and where the machine stood with each head over them"),
                      {"", "X", "Y", "X", "Y"}, -1, 24, card);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  middle->addWidget(table_, 6);
  column->addLayout(middle, 5);

  PageFoot foot(column, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  settings->addWidget(make_label("word", "small", tr("Told by"), card));
  marks_chip_ = make_chip("heads-by-marks", tr("Marks"), tr("Each head is brought over the same marks by eye"), card);
  crosses_chip_ =
      make_chip("heads-by-crosses", tr("Crosses"), tr("Each head cuts a cross, and they are measured"), card);
  marks_chip_->setChecked(true);
  settings->addWidget(marks_chip_);
  settings->addWidget(crosses_chip_);
  instrument_ = new QComboBox(card);
  instrument_->setObjectName("heads-instrument");
  instrument_->setAccessibleName(tr("Instrument that the crosses are measured with"));
  settings->addWidget(instrument_);
  first_ = add_act(acts, "first-over", "", tr("The first head stands over the mark now"), card, [this] { take(true); });
  other_ = add_act(acts, "other-over", "", tr("This head stands over the mark now"), card, [this] { take(false); });
  write_ =
      add_act(acts, "write-crosses", tr("Write the crosses…"),
              tr("A program in which both heads cut crosses at the same places"), card, [this] { write_crosses(); });
  add_ = add_act(acts, "cross-add", tr("Add a cross"), tr("One more cross, to type what was measured at it"), card,
                 [this] { change(tr("Add a cross"), [](HeadsWorksheet& s) { s.crosses.push_back({}); }); });
  out_ = add_act(acts, "mark-out", tr("Take it out"), tr("Takes the chosen row out"), card, [this] { take_out(); });
  number_acts({first_, other_, write_, add_, out_});
  hint_ = foot.hint("heads-hint");

  for (QPushButton* chip : {marks_chip_, crosses_chip_})
    connect(chip, &QPushButton::clicked, this, [this] { refresh(); });
  connect(instrument_, &QComboBox::activated, this, [this] {
    change(tr("Choose an instrument"),
           [this](HeadsWorksheet& s) { s.instrument = instrument_->currentText().toStdString(); });
  });
  connect(table_, &QTableWidget::cellChanged, this, [this](int row, int at) {
    if (!showing_)
      QMetaObject::invokeMethod(
          this, [this, row, at] { take_cell(row, at); }, Qt::QueuedConnection);
  });
}

bool PlacePage::by_crosses() const {
  return crosses_chip_->isChecked();
}

QString PlacePage::first_name() const {
  const auto& heads = session_.editor().book().machine.heads;
  return heads.empty() ? QString() : to_q(heads.front().name);
}

QString PlacePage::other_name() const {
  const Book& book = session_.editor().book();
  const auto at = chosen_head(book);
  return at ? to_q(book.machine.heads[*at].name) : QString();
}

Result<HeadOffset> PlacePage::result() const {
  return evaluate_head_place(session_.editor().book(), by_crosses());
}

void PlacePage::change(const QString& text, const std::function<void(HeadsWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[heads_worksheet]); }, MachineFollows::no);
}

void PlacePage::take(bool first) {
  const MachinePosition& at = session_.machine().status().position;
  const auto& marks = session_.editor().book().worksheets[heads_worksheet].marks;
  const auto open = [&](const HeadMark& m) { return first ? !m.first : !m.other; };
  const bool full = std::none_of(marks.begin(), marks.end(), open);
  if (full && marks.size() >= most_head_marks) return;
  change(tr("Take a mark"), [&](HeadsWorksheet& s) {
    auto mark = std::find_if(s.marks.begin(), s.marks.end(), open);
    if (mark == s.marks.end()) mark = s.marks.insert(s.marks.end(), HeadMark{});
    (first ? mark->first : mark->other) = OverMark{at.x, at.y};
  });
}

void PlacePage::take_out() {
  const int row = table_->currentRow();
  if (row < 0) return;
  change(tr("Take a mark out"), [&](HeadsWorksheet& s) {
    const auto at = static_cast<std::ptrdiff_t>(row);
    if (by_crosses() && at < std::ssize(s.crosses)) s.crosses.erase(s.crosses.begin() + at);
    if (!by_crosses() && at < std::ssize(s.marks)) s.marks.erase(s.marks.begin() + at);
  });
}

void PlacePage::take_cell(int row, int at) {
  const QTableWidgetItem* item = table_->item(row, at);
  if (!item || at == 0) return;
  const auto typed = length_in(*item, session_);
  if (!typed) return refresh();
  const std::optional<double> mm = *typed;
  change(tr("Type a place"), [&](HeadsWorksheet& s) {
    const auto i = static_cast<std::size_t>(row);
    if (by_crosses() && i < s.crosses.size()) {
      HeadCross& c = s.crosses[i];
      if (at == 1) c.x_mm = mm.value_or(0);
      if (at == 2) c.y_mm = mm.value_or(0);
      if (at == 3) c.dx_mm = mm;
      if (at == 4) c.dy_mm = mm;
    } else if (!by_crosses() && i < s.marks.size()) {
      auto& over = at <= 2 ? s.marks[i].first : s.marks[i].other;
      if (!mm) {
        over.reset();
        return;
      }
      OverMark now = over.value_or(OverMark{});
      (at == 1 || at == 3 ? now.x_mm : now.y_mm) = *mm;
      over = now;
    }
  });
}

/// Four crosses towards the corners of the stock and one in its middle.
void PlacePage::write_crosses() {
  const Book& book = session_.editor().book();
  const auto head = chosen_head(book);
  if (!head || *head == 0) return;
  const auto& size = book.job.stock_size;
  if (!(size[0] > 2 * cross_mm) || !(size[1] > 2 * cross_mm)) {
    session_.notices().notify({NoticeLevel::attention,
                               tr("Say how large the stock is first: the crosses are cut on it."),
                               {{tr("Go to the stock"), [this] { session_.notices().lead_to("stock_program"); }}}});
    return;
  }
  std::vector<HeadLine> lines;
  std::vector<HeadCross> meant;
  const double cx = book.job.stock_corner[0] + size[0] / 2, cy = book.job.stock_corner[1] + size[1] / 2;
  const double reach_x = size[0] * cross_apart - cross_mm / 2, reach_y = size[1] * cross_apart - cross_mm / 2;
  for (const auto& [dx, dy] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}, {0, 0}}) {
    const double x = cx + dx * reach_x, y = cy + dy * reach_y;
    for (const HeadLine& l : cross_lines(0, *head, x, y, cross_mm)) lines.push_back(l);
    meant.push_back({x, y, {}, {}});
  }
  // All by the one head first: holders are changed once.
  std::stable_sort(lines.begin(), lines.end(), [](const HeadLine& a, const HeadLine& b) { return a.head < b.head; });
  HeadLinesSetting setting;
  setting.title = tr("crosses by %1 and %2").arg(first_name(), other_name()).toStdString();
  setting.unmeasured_at_zero = true;
  if (save_program(session_, this, head_lines_program(book, lines, setting), tr("Write the crosses"), "crosses.ngc"))
    change(tr("Write the crosses"), [&](HeadsWorksheet& s) { s.crosses = meant; });
}

PageFinding PlacePage::finding() const {
  const Book& book = session_.editor().book();
  const auto at = chosen_head(book);
  PageFinding f;
  f.keep = tr("Apply to the %1").arg(other_name());
  if (!at || *at == 0) {
    f.lead = tr("The others are told against the %1").arg(first_name());
    f.text = tr("It is the first head of the build, the one that the machine counts for. Choose another above.");
    return f;
  }
  const Head& head = book.machine.heads[*at];
  const LengthUnit unit = session_.editor().unit();
  const auto signed_two = [&](double mm) { return signed_length(mm, unit); };
  if (head.place) f.second = tr("The %1 was taken off").arg(other_name());
  const auto found = result();
  if (!found) {
    f.lead = tr("The %1 stands from the %2").arg(other_name(), first_name());
    if (head.place) {
      f.figure = signed_two(head.place->x_mm) + "   " + signed_two(head.place->y_mm);
      f.spread = tr("along X and Y, ±%1, in the book").arg(session_.editor().length(head.place->U_mm, 2));
    }
    f.verdict = head.place ? QString() : tr("○ Not measured yet");
    f.text =
        by_crosses()
            ? tr("You need a sheet that every head marks, and a caliper. Write the crosses, cut them, and type how "
                 "far each cross of the %1 lies from the one of the %2 at the same place.")
                  .arg(other_name(), first_name())
            : tr("You need a few fine marks that lie still, spread over the bed. Bring the %1 over each, then the "
                 "%2 over each, from the same side. One tells the place; three tell whether the machine turned "
                 "between the two looks. About ten minutes.")
                  .arg(first_name(), other_name());
    return f;
  }
  f.lead = tr("The %1 stands from the %2").arg(other_name(), first_name());
  f.figure = signed_two(found->offset.real()) + "   " + signed_two(found->offset.imag());
  const auto count = by_crosses() ? crosses_as_marks(book.worksheets[heads_worksheet], head.place).size()
                                  : shared_marks(book.worksheets[heads_worksheet]).size();
  f.spread = (count == 1 ? tr("along X and Y, ±%1, from one mark") : tr("along X and Y, ±%2, from %1 marks").arg(count))
                 .arg(session_.editor().length(found->U, 2));
  QStringList words;
  if (found->left) {
    words << tr("Turn %1 ±%2 mrad, stretch %3 ±%4 %.")
                 .arg(to_q(format_number(found->left->turn * 1000, 2)),
                      to_q(format_number(found->left->U_turn * 1000, 2)),
                      to_q(format_number(found->left->stretch * 100, 3)),
                      to_q(format_number(found->left->U_stretch * 100, 3)));
  } else {
    words << tr("With three marks it is also told whether the machine turned between the two looks.");
  }
  if (head.place)
    words << tr("In the book now: %1 %2. Cut by one and marked by the other, a part is off by %3 today.")
                 .arg(signed_two(head.place->x_mm), signed_two(head.place->y_mm),
                      session_.editor().length(
                          std::hypot(found->offset.real() - head.place->x_mm, found->offset.imag() - head.place->y_mm),
                          2));
  f.can_keep = found->verdict == HeadVerdict::ok;
  switch (found->verdict) {
    case HeadVerdict::ok:
      f.verdict = found->left ? tr("● No turn, no stretch between the looks") : tr("● It fits");
      if (constexpr double one_holder_mm = 1; std::abs(found->offset) < one_holder_mm) {
        f.verdict = tr("◐ Both in one place");
        words << tr("So they would share a holder. Where they do not, bring the %1 over the mark before its look.")
                     .arg(other_name());
      }
      words << tr("Programs written for several heads carry the old place: write them again.");
      break;
    case HeadVerdict::turned:
      f.verdict = tr("⊗ The machine turned between the looks");
      words << tr(
          "A place means nothing before that is mended: a loose head, the beam out of square, or a mark taken "
          "wrongly. See what is left over at each mark.");
      break;
    case HeadVerdict::stretched:
      f.verdict = tr("⊗ The machine stretched between the looks");
      words << tr(
          "A place means nothing before that is mended: steps per unit changed between, or a mark was taken "
          "wrongly. See what is left over at each mark.");
      break;
  }
  f.text = words.join("\n");
  return f;
}

void PlacePage::keep() {
  const auto found = result();
  if (!found || found->verdict != HeadVerdict::ok) return;
  session_.editor().change_book(
      tr("Apply a head's place"),
      [&](Book& b) { keep_head_place(b, *found, by_crosses(), session_.editor().now().toStdString()); },
      MachineFollows::no);
}

void PlacePage::second() {
  const auto at = chosen_head(session_.editor().book());
  if (!at) return;
  session_.editor().change_book(
      tr("Say that a head was taken off"),
      [&](Book& b) { head_taken_off(b, *at, session_.editor().now().toStdString()); }, MachineFollows::no);
}

void PlacePage::refresh() {
  const Book& book = session_.editor().book();
  const auto at = chosen_head(book);
  const HeadsWorksheet& s = book.worksheets[heads_worksheet];
  const auto found = result();
  std::optional<HeadPlace> place;
  if (found && found->verdict == HeadVerdict::ok)
    place = HeadPlace{found->offset.real(), found->offset.imag(), found->U};
  carriage_->show(book.machine.heads, at.value_or(0), place, session_.editor().unit());
  offer_instruments(instrument_, book);
  instrument_->setCurrentText(to_q(s.instrument));
  instrument_->setVisible(by_crosses());

  showing_ = true;
  const LengthUnit unit = session_.editor().unit();
  const auto cell = [&](int row, int where, std::optional<double> mm) {
    table_->setItem(row, where, new QTableWidgetItem(mm ? to_q(format_length(*mm, unit, 3)) : QString()));
  };
  const auto head_row = [&](int row, std::size_t i) {
    auto* name = new QTableWidgetItem(mark_letter(i));
    name->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    table_->setItem(row, 0, name);
  };
  const int was = table_->currentRow();
  if (by_crosses()) {
    table_->setHorizontalHeaderLabels({"", tr("meant X"), tr("meant Y"), tr("off along X"), tr("off along Y")});
    table_->setRowCount(static_cast<int>(s.crosses.size()));
    for (std::size_t i = 0; i < s.crosses.size(); ++i) {
      const int row = static_cast<int>(i);
      head_row(row, i);
      cell(row, 1, s.crosses[i].x_mm);
      cell(row, 2, s.crosses[i].y_mm);
      cell(row, 3, s.crosses[i].dx_mm);
      cell(row, 4, s.crosses[i].dy_mm);
    }
  } else {
    table_->setHorizontalHeaderLabels({"", tr("%1 X").arg(first_name()), "Y", tr("%1 X").arg(other_name()), "Y"});
    table_->setRowCount(static_cast<int>(s.marks.size()));
    for (std::size_t i = 0; i < s.marks.size(); ++i) {
      const int row = static_cast<int>(i);
      head_row(row, i);
      const auto &a = s.marks[i].first, &b = s.marks[i].other;
      cell(row, 1, a ? std::optional(a->x_mm.mm) : std::nullopt);
      cell(row, 2, a ? std::optional(a->y_mm.mm) : std::nullopt);
      cell(row, 3, b ? std::optional(b->x_mm.mm) : std::nullopt);
      cell(row, 4, b ? std::optional(b->y_mm.mm) : std::nullopt);
    }
  }
  table_->setColumnWidth(0, 28);
  if (was >= 0 && was < table_->rowCount()) table_->selectRow(was);
  showing_ = false;

  std::vector<LeftOverDrawing::At> marks;
  std::size_t told = 0;
  const auto residual = [&](LeftOverDrawing::At mark) {
    if (found && found->left && told < found->left->residuals.size()) {
      mark.left_x = found->left->residuals[told].real();
      mark.left_y = found->left->residuals[told].imag();
      mark.told = true;
    }
    ++told;
    return mark;
  };
  if (by_crosses()) {
    for (std::size_t i = 0; i < s.crosses.size(); ++i) {
      const LeftOverDrawing::At mark{mark_letter(i), s.crosses[i].x_mm, s.crosses[i].y_mm};
      marks.push_back(s.crosses[i].dx_mm && s.crosses[i].dy_mm ? residual(mark) : mark);
    }
  } else {
    for (std::size_t i = 0; i < s.marks.size(); ++i) {
      if (!s.marks[i].first) continue;
      const LeftOverDrawing::At mark{mark_letter(i), s.marks[i].first->x_mm, s.marks[i].first->y_mm};
      marks.push_back(s.marks[i].other ? residual(mark) : mark);
    }
  }
  left_over_->show(std::move(marks));
  for (QPushButton* b : {first_, other_}) b->setVisible(!by_crosses());
  for (QPushButton* b : {write_, add_}) b->setVisible(by_crosses());
  refresh_status();
}

void PlacePage::refresh_status() {
  const Book& book = session_.editor().book();
  const auto& marks = book.worksheets[heads_worksheet].marks;
  const auto next = [&](bool first) {
    std::size_t i = 0;
    while (i < marks.size() && (first ? marks[i].first : marks[i].other)) ++i;
    return i;
  };
  const auto begun = [](QString name) {
    if (!name.isEmpty()) name[0] = name[0].toUpper();
    return name;
  };
  set_text(first_, tr("%1 is over %2").arg(begun(first_name()), mark_letter(next(true))));
  set_text(other_, tr("%1 is over %2").arg(begun(other_name()), mark_letter(next(false))));
  const auto at = chosen_head(book);
  const bool another = at && *at > 0, homed = session_.machine().status().all_homed();
  const bool stands = session_.machine().standing_ready() && homed && another && !session_.editor().read_only();
  first_->setEnabled(stands);
  other_->setEnabled(stands);
  write_->setEnabled(another);
  add_->setEnabled(another && !session_.editor().read_only());
  out_->setEnabled(table_->currentRow() >= 0 && table_->rowCount() > 0 && !session_.editor().read_only());
  set_text(hint_, !another       ? tr("Choose a head above; the first is the one that the others are told against.")
                  : by_crosses() ? tr("+ to the right and to the back: where the %1's cross lies from the %2's.")
                                       .arg(other_name(), first_name())
                  : !homed ? tr("Home the machine first (Ctrl+H), or type where it stood.")
                           : tr("Approach each mark from the same side, with both heads. The jog strip (Ctrl+J) "
                                "brings them there."));
}

}  // namespace ypsi::app
