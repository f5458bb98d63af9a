#include "app/sheets/fences_sheet.h"

#include <QSignalBlocker>
#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"
#include "app/sheets/fences/blanks_page.h"
#include "app/sheets/fences/fence_drawing.h"
#include "app/sheets/instrument_choice.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/save_program.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "core/book/worksheets/fences.h"
#include "core/metrology/spread.h"
#include "core/program/head_lines.h"

namespace ypsi::app {
namespace {

constexpr int fence_field_px = 96, fence_chip_px = 28;
constexpr double part_of_fence = 0.5;  // that the test's cut is long
constexpr double longest_test_mm = 400;

}  // namespace

FencesSheet::FencesSheet(Session& session)
    : Sheet(session, fences_task(), tr("Cut along a fence, measure, correct, until it is right.")) {
  auto* card = make_card();
  blanks_ = new BlanksPage(session);
  pages_ = new SheetPages(this, "fences-");
  pages_->add("test", tr("Test"), tr("Cut along it, measure, correct"), card);
  pages_->add("blanks", tr("Blanks"), tr("Blanks cut on it, one after the other"), blanks_);
  which_ = new QComboBox(this);
  which_->setObjectName("fence-which");
  which_->setAccessibleName(tr("Fence or stop"));
  which_->setMinimumWidth(130);
  title_row()->addWidget(which_);
  add_ = add_act(title_row(), "fence-add", tr("Add one"), tr("One more edge or stop"), this, [this] { add_fence(); });
  out_ = add_act(title_row(), "fence-out", tr("Take it out"), tr("Takes this fence out of the book"), this,
                 [this] { take_out(); });
  for (QPushButton* b : {add_, out_}) {
    b->setProperty("chip", true);
    b->setFixedSize(b->fontMetrics().horizontalAdvance(b->text()) + chip_edges_px, fence_chip_px);
  }
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(16, 10, 16, 10);
  column->setSpacing(7);
  drawing_ = new FenceDrawing(card);
  column->addWidget(drawing_, 5);
  tests_ = make_table("fence-tests", tr("Tests, one below the other"),
                      {tr("Test"), tr("added"), tr("measured"), tr("mean"), tr("off")}, 2, 24, card);
  tests_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  tests_->setMinimumHeight(56);
  column->addWidget(tests_, 3);

  PageFoot foot(column, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  settings->addWidget(make_label("word", "small", tr("Name"), card));
  name_ = new QLineEdit(card);
  name_->setObjectName("fence-name");
  name_->setAccessibleName(tr("Name of the fence"));
  name_->setMinimumWidth(140);
  settings->addWidget(name_);
  kind_ = new QComboBox(card);
  kind_->setObjectName("fence-kind");
  kind_->setAccessibleName(tr("How it runs"));
  kind_->addItems({tr("an edge along X"), tr("an edge along Y"), tr("a stop")});
  settings->addWidget(kind_);
  x_ = add_field(settings, "fence-x", tr("X"), tr("Where it stands, machine X"), 2, session, card).field;
  y_ = add_field(settings, "fence-y", tr("Y"), tr("Where it stands, machine Y"), 2, session, card).field;
  expected_ = add_field(settings, "fence-expected", tr("Wanted"),
                        tr("What a piece should measure from the fence to the cut"), 2, session, card)
                  .field;
  tolerance_ = add_field(settings, "fence-tolerance", tr("±"), tr("What it may be off by"), 2, session, card).field;
  instrument_ = new QComboBox(card);
  instrument_->setObjectName("fence-instrument");
  instrument_->setAccessibleName(tr("Instrument"));
  settings->addWidget(instrument_);
  measured_ = add_field(settings, "fence-measured", tr("This piece measures"), tr("One more piece of this test"), 3,
                        session, card)
                  .field;
  adds_ = new QCheckBox(tr("more added, larger piece"), card);
  adds_->setObjectName("fence-adds");
  adds_->setToolTip(tr("A larger offset makes a larger piece"));
  settings->addWidget(adds_);

  for (LengthField* f : {x_, y_, expected_, measured_}) f->setFixedWidth(fence_field_px);
  take_ = add_act(acts, "fence-take", tr("It is here"),
                  tr("Takes its place from the machine: the tool, or the pointer, stands at it now"), card,
                  [this] { take_place(); });
  zero_ = add_act(acts, "fence-zero", tr("Set zero by it"),
                  tr("Work zero lies at this fence from now on; at a stop on both axes"), card, [this] { set_zero(); });
  write_ = add_act(acts, "fence-write", tr("Write the test…"),
                   tr("A cut along it at the wanted distance, as a program"), card, [this] { write_test(); });
  back_ = add_act(acts, "fence-back", tr("Take back"), tr("Takes the newest measured piece out"), card, [this] {
    change(tr("Take a measured piece back"), [](Book& b) {
      auto& tests = b.worksheets[fences_worksheet].tests;
      if (tests.empty()) return;
      if (!tests.back().measured_mm.empty()) tests.back().measured_mm.pop_back();
    });
  });
  number_acts({take_, zero_, write_, back_});
  hint_ = foot.hint("fence-hint");
  body()->addWidget(pages_, 1);

  labels_.emplace(*finding(), "fences", QString());
  connect(labels_->keep(), &QPushButton::clicked, this, [this] { shows_blanks() ? blanks_->keep() : keep(); });
  connect(labels_->second(), &QPushButton::clicked, this, [this] {
    if (shows_blanks()) blanks_->second();
  });
  connect(which_, &QComboBox::activated, this, [this](int row) { choose(row); });
  connect(drawing_, &FenceDrawing::chosen, this, [this](int row) { choose(row); });
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const QString to = name_->text().trimmed();
    const auto at = chosen_fence(session_.editor().book());
    if (!at || to == to_q(session_.editor().book().fences[*at].name)) return;
    const auto& all = session_.editor().book().fences;
    if (to.isEmpty() ||
        std::any_of(all.begin(), all.end(), [&](const Fence& f) { return f.name == to.toStdString(); })) {
      session_.notices().notify(
          {NoticeLevel::attention, tr("A fence needs a name that no other has; it was left as it is."), {}});
      return refresh();
    }
    change(tr("Name a fence"), [&](Book& b) {
      b.fences[*at].name = to.toStdString();
      b.worksheets[fences_worksheet].fence = to.toStdString();
    });
  });
  connect(kind_, &QComboBox::activated, this, [this](int kind) {
    change_fence(tr("Say how a fence runs"), [kind](Fence& f) { f.kind = static_cast<FenceKind>(kind); });
  });
  connect(x_, &LengthField::committed, this,
          [this](double mm) { change_fence(tr("Place a fence"), [mm](Fence& f) { f.x_mm = mm; }); });
  connect(y_, &LengthField::committed, this,
          [this](double mm) { change_fence(tr("Place a fence"), [mm](Fence& f) { f.y_mm = mm; }); });
  const auto positive = [this](double FencesWorksheet::*value, const QString& text) {
    return [this, value, text](double mm) {
      if (mm > 0) return change(text, [&](Book& b) { b.worksheets[fences_worksheet].*value = mm; });
      session_.notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it is."), {}});
      refresh();
    };
  };
  connect(expected_, &LengthField::committed, this,
          positive(&FencesWorksheet::expected_mm, tr("Say what a piece should measure")));
  connect(tolerance_, &LengthField::committed, this,
          positive(&FencesWorksheet::tolerance_mm, tr("Say what it may be off by")));
  connect(measured_, &LengthField::committed, this, [this](double mm) { take_measured(mm); });
  connect(instrument_, &QComboBox::activated, this, [this] {
    change(tr("Choose an instrument"),
           [this](Book& b) { b.worksheets[fences_worksheet].instrument = instrument_->currentText().toStdString(); });
  });
  connect(adds_, &QCheckBox::clicked, this, [this](bool on) {
    change(tr("Say which way a fence is corrected"), [on](Book& b) { b.worksheets[fences_worksheet].adds = on; });
  });
  offer_jog();
}

bool FencesSheet::shows_blanks() const {
  return pages_->currentWidget() == blanks_;
}

void FencesSheet::show_part(const QString& part) {
  if (pages_->turn_to(part)) refresh();
}

void FencesSheet::set_zero() {
  const Book& book = session_.editor().book();
  const auto at = chosen_fence(book);
  if (!at || !session_.machine().must_be_free()) return;
  const Fence fence = book.fences[*at];
  RecordJson readings = RecordJson::from_text("[]");
  readings.push_back({{"fence", fence.name}, {"offset_mm", fence.offset_mm}});
  session_.machine().set_work_zero_at(zero_by(fence), readings, fence.name);
}

void FencesSheet::change(const QString& text, const std::function<void(Book&)>& how) {
  session_.editor().change_book(text, how, MachineFollows::no);
}

void FencesSheet::change_fence(const QString& text, const std::function<void(Fence&)>& how) {
  if (const auto at = chosen_fence(session_.editor().book())) change(text, [&](Book& b) { how(b.fences[*at]); });
}

void FencesSheet::choose(int row) {
  const auto& all = session_.editor().book().fences;
  if (row < 0 || static_cast<std::size_t>(row) >= all.size()) return;
  const std::string name = all[static_cast<std::size_t>(row)].name;
  session_.editor().note_in_book([&](Book& b) { choose_fence(b, name); });
  refresh();
}

void FencesSheet::add_fence() {
  change(tr("Add a fence"), [](Book& b) {
    Fence fence;
    int n = 1;
    const auto taken = [&] {
      return std::any_of(b.fences.begin(), b.fences.end(), [&](const Fence& f) { return f.name == fence.name; });
    };
    do fence.name = tr("fence %1").arg(n++).toStdString();
    while (taken());
    b.fences.push_back(fence);
    choose_fence(b, fence.name);
  });
  name_->setFocus();
  name_->selectAll();
}

void FencesSheet::take_out() {
  const auto at = chosen_fence(session_.editor().book());
  if (!at) return;
  change(tr("Take a fence out"), [&](Book& b) {
    b.fences.erase(b.fences.begin() + static_cast<std::ptrdiff_t>(*at));
    choose_fence(b, b.fences.empty() ? std::string() : b.fences.front().name);
  });
}

void FencesSheet::take_place() {
  const MachinePosition& at = session_.machine().status().position;
  change_fence(tr("Take a fence's place"), [&](Fence& f) {
    f.x_mm = at.x + session_.machine().looks_beside(Axis::x);
    f.y_mm = at.y + session_.machine().looks_beside(Axis::y);
  });
}

void FencesSheet::take_measured(double mm) {
  if (!(mm > 0)) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("A piece measures more than nothing; it was not taken."), {}});
    return refresh();
  }
  change(tr("Type what a piece measures"), [&](Book& b) {
    if (b.worksheets[fences_worksheet].tests.empty()) begin_fence_test(b);
    if (!b.worksheets[fences_worksheet].tests.empty())
      b.worksheets[fences_worksheet].tests.back().measured_mm.push_back(mm);
  });
  measured_->show_value(std::nullopt);
  measured_->setFocus();
}

/// A cut beside the fence, over half of the travel along it.
void FencesSheet::write_test() {
  const Book& book = session_.editor().book();
  const auto at = chosen_fence(book);
  if (!at || !book.job.has_zero()) {
    session_.notices().notify({NoticeLevel::attention,
                               tr("A program counts from work zero, and that is not set yet."),
                               {{tr("Go to Work zero"), [this] { session_.notices().lead_to("work_zero"); }}}});
    return;
  }
  const Fence& f = book.fences[*at];
  const double zero_x = *book.job.zero(Axis::x), zero_y = *book.job.zero(Axis::y);
  const double long_x = std::min(longest_test_mm, book.machine.axis(Axis::x).travel * part_of_fence),
               long_y = std::min(longest_test_mm, book.machine.axis(Axis::y).travel * part_of_fence);
  const double x = place_of(f, Axis::x) - zero_x, y = place_of(f, Axis::y) - zero_y;
  const double wanted = book.worksheets[fences_worksheet].expected_mm;
  const double middle_x = book.machine.axis(Axis::x).travel / 2 - zero_x,
               middle_y = book.machine.axis(Axis::y).travel / 2 - zero_y;
  HeadLine line;
  if (f.kind == FenceKind::along_y)
    line = {.x0 = x + wanted, .y0 = middle_y - long_y / 2, .x1 = x + wanted, .y1 = middle_y + long_y / 2};
  else if (f.kind == FenceKind::along_x)
    line = {.x0 = middle_x - long_x / 2, .y0 = y + wanted, .x1 = middle_x + long_x / 2, .y1 = y + wanted};
  else
    line = {.x0 = x + wanted, .y0 = y - long_y / 4, .x1 = x + wanted, .y1 = y + long_y / 4};
  HeadLinesSetting setting;
  setting.title = tr("test beside %1").arg(to_q(f.name)).toStdString();
  save_program(session_, this, head_lines_program(book, {line}, setting), tr("Write the test"), "fence.ngc");
}

void FencesSheet::keep() {
  const auto found = evaluate_fences(session_.editor().book());
  if (found)
    change(tr("Correct a fence"), [&](Book& b) { keep_fence(b, *found, session_.editor().now().toStdString()); });
}

PageFinding FencesSheet::finding_words() const {
  const Book& book = session_.editor().book();
  const auto at = chosen_fence(book);
  PageFinding f;
  if (!at) {
    f.lead = tr("No fence or stop yet");
    f.text =
        tr("A fence is an edge that blanks are laid against; a stop holds their corner. Add each, take its place with "
           "the pointer or the tool, then cut along it at a known distance and measure the piece.");
    return f;
  }
  const Fence& fence = book.fences[*at];
  const FencesWorksheet& s = book.worksheets[fences_worksheet];
  const LengthUnit unit = session_.editor().unit();
  f.lead = tr("What is added to %1").arg(to_q(fence.name));
  f.figure = signed_length(fence.offset_mm, unit) + " " + to_q(unit_name(unit));
  if (fence.U_offset_mm) f.spread = tr("±%1, in the book").arg(session_.editor().length(*fence.U_offset_mm, 2));
  const auto found = evaluate_fences(book);
  if (!found) {
    if (!fence.U_offset_mm) f.verdict = tr("○ Not tested yet");
    f.text = to_q(found.error().message);
    return f;
  }
  f.can_keep = true;
  f.spread = tr("the pieces measure %1 ±%2, wanted %3")
                 .arg(session_.editor().length(found->mean, 2), session_.editor().length(found->U, 2),
                      session_.editor().length(s.expected_mm, 2));
  if (found->done) {
    f.verdict = tr("● Done");
    f.keep = tr("Keep it: it is right");
    f.text = tr("The pieces are as wanted within what is known of them, and that is at most half of what you allow.");
  } else {
    f.figure = tr("%1 → %2").arg(signed_length(fence.offset_mm, unit), signed_length(found->new_offset, unit));
    f.verdict = tr("◐ Again");
    f.keep = tr("Correct it by %1").arg(signed_length(found->correction, unit));
    f.text = s.tests.size() == 1
                 ? tr("The first test corrects the whole of it. Cut another piece afterwards.")
                 : tr("The %1. test corrects a part of it: so the result gets ever better instead of following each "
                      "piece.")
                       .arg(s.tests.size());
  }
  return f;
}

void FencesSheet::show_tests() {
  const FencesWorksheet& s = session_.editor().book().worksheets[fences_worksheet];
  const LengthUnit unit = session_.editor().unit();
  tests_->setRowCount(static_cast<int>(s.tests.size()));
  for (std::size_t i = 0; i < s.tests.size(); ++i) {
    const FenceTry& t = s.tests[i];
    QStringList measured;
    for (const double mm : t.measured_mm) measured << to_q(format_length(mm, unit, 2));
    const QString mean_words = t.measured_mm.empty() ? QString() : to_q(format_length(mean(t.measured_mm), unit, 3));
    const QString off = t.measured_mm.empty() || !(s.expected_mm > 0)
                            ? QString()
                            : signed_length(mean(t.measured_mm) - s.expected_mm, unit);
    const QStringList cells{QString::number(i + 1), signed_length(t.offset_mm, unit), measured.join("  "), mean_words,
                            off};
    for (int c = 0; c < cells.size(); ++c) tests_->setItem(static_cast<int>(i), c, new QTableWidgetItem(cells[c]));
  }
  tests_->scrollToBottom();
}

void FencesSheet::refresh() {
  const Book& book = session_.editor().book();
  const auto at = chosen_fence(book);
  drawing_->show(book, at);
  {
    const QSignalBlocker quiet(which_);
    which_->clear();
    for (const Fence& f : book.fences) which_->addItem(to_q(f.name));
    which_->setCurrentIndex(at ? static_cast<int>(*at) : -1);
    which_->setVisible(book.fences.size() > 1);
  }
  const bool there = at.has_value(), writable = !session_.editor().read_only();
  const Fence fence = there ? book.fences[*at] : Fence{};
  if (!name_->hasFocus()) name_->setText(there ? to_q(fence.name) : QString());
  kind_->setCurrentIndex(static_cast<int>(fence.kind));
  for (LengthField* f : {x_, y_, expected_, tolerance_, measured_}) f->set_unit(session_.editor().unit());
  x_->show_value(there && fence.kind != FenceKind::along_x ? std::optional(fence.x_mm.mm) : std::nullopt);
  y_->show_value(there && fence.kind != FenceKind::along_y ? std::optional(fence.y_mm.mm) : std::nullopt);
  const FencesWorksheet& s = book.worksheets[fences_worksheet];
  expected_->show_value(s.expected_mm > 0 ? std::optional(s.expected_mm) : std::nullopt);
  tolerance_->show_value(s.tolerance_mm);
  adds_->setChecked(s.adds);
  offer_instruments(instrument_, book);
  instrument_->setCurrentText(to_q(s.instrument));
  for (QWidget* w : std::initializer_list<QWidget*>{name_, kind_, expected_, tolerance_, instrument_, adds_, measured_})
    w->setEnabled(there && writable);
  x_->setEnabled(there && writable && fence.kind != FenceKind::along_x);
  y_->setEnabled(there && writable && fence.kind != FenceKind::along_y);
  measured_->setEnabled(there && writable && s.expected_mm > 0);
  show_tests();
  blanks_->refresh();
  labels_->show(shows_blanks() ? blanks_->finding() : finding_words(), !writable);
  refresh_status();
}

void FencesSheet::refresh_status() {
  const Book& book = session_.editor().book();
  const bool there = chosen_fence(book).has_value(), writable = !session_.editor().read_only();
  const bool homed = session_.machine().status().all_homed();
  add_->setEnabled(writable);
  out_->setEnabled(there && writable);
  take_->setEnabled(there && writable && homed && session_.machine().standing_ready());
  zero_->setEnabled(there && writable && homed && session_.machine().standing_ready());
  blanks_->refresh_status();
  write_->setEnabled(there && book.worksheets[fences_worksheet].expected_mm > 0);
  back_->setEnabled(writable && !book.worksheets[fences_worksheet].tests.empty() &&
                    !book.worksheets[fences_worksheet].tests.back().measured_mm.empty());
  set_text(hint_, !there   ? tr("Add the edges and stops that you lay blanks against.")
                  : !homed ? tr("Home the machine (Ctrl+H) to take its place, or type it.")
                  : !(book.worksheets[fences_worksheet].expected_mm > 0)
                      ? tr("Say what a piece should measure from the fence to the cut.")
                      : tr("Lay a blank against it, cut, and type what the piece measures."));
}

}  // namespace ypsi::app
