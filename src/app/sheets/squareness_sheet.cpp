#include "app/sheets/squareness_sheet.h"

#include <QShortcut>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "core/book/record.h"
#include "core/book/worksheets/squareness.h"
#include "core/calibration/next_distance.h"
#include "core/calibration/squareness.h"
#include "core/program/corrected_copy.h"
#include "core/tasks/squareness.h"

namespace ypsi::app {
namespace {
constexpr double beside_marks_mm = 10;  // of the travel, left free
}

SquarenessSheet::SquarenessSheet(Session& session)
    : Sheet(session, squareness_task(), tr("Mark four corners, measure both diagonals, type each on its line.")) {
  auto* card = make_card();
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(14, 10, 14, 10);
  column->setSpacing(6);
  caption_ = make_label("square-caption", "caption", "", card);
  caption_->setWordWrap(false);
  column->addWidget(caption_);
  drawing_ = new SquareDrawing(card);
  column->addWidget(drawing_, 1);

  const auto field = [&](QLayout* row, const char* name, const QString& word, const QString& what, int decimals) {
    return add_field(row, name, word, what, decimals, session_, card).field;
  };
  PageFoot foot(column, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  width_ = field(settings, "marks-width", tr("Marks"), tr("From A to B"), 0);
  height_ = field(settings, "marks-height", "×", tr("From A to D"), 0);
  mark_ = make_button("mark-points", tr("Put the marks down"),
                      tr("Goes to each mark from below and touches the board there (Ctrl+M)"), card);
  mark_->setShortcut(QKeySequence("Ctrl+M"));
  acts->addWidget(mark_);
  auto* program =
      make_button("mark-program", tr("G-code"), tr("Writes the marks as a program for any controller"), card);
  add_ = make_button("add-distance", tr("Add a distance"),
                     tr("The distance that tells most; or drag from mark to mark (Ctrl+D)"), card);
  add_->setShortcut(QKeySequence("Ctrl+D"));
  read_ = make_button("read-between", tr("Read it"),
                      tr("The next distance, as a person with this instrument would read it (Ctrl+R)"), card);
  read_->setShortcut(QKeySequence("Ctrl+R"));
  instruments_ = new QComboBox(card);
  instruments_->setObjectName("square-instrument");
  instruments_->setAccessibleName(tr("Read with"));
  hole_ = field(settings, "hole-diameter", tr("Hole ⌀"), tr("Diameter of the marks' holes, for edges"), 2);
  tolerance_ =
      field(settings, "square-tolerance", tr("Wanted, per m"), tr("How well the lean must be known, per metre"), 2);
  mark_here_ =
      make_button("mark-here", tr("Mark here"), tr("Where the tool stands now becomes a mark (Ctrl+Shift+M)"), card);
  mark_here_->setShortcut(QKeySequence("Ctrl+Shift+M"));
  for (QWidget* w : std::initializer_list<QWidget*>{program, mark_here_, add_, read_, instruments_}) acts->addWidget(w);
  hint_ = foot.hint("square-hint");
  pages_ = new SheetPages(this, "square-");
  reversal_ = new ReversalPage(session);
  constexpr int chip_px = 96;
  pages_->add("marks", tr("By marks"), tr("Distances between marks that the machine puts down"), card)
      ->setMinimumWidth(chip_px);
  pages_->add("square", tr("By a square"), tr("A carpenter's square, turned over"), reversal_)
      ->setMinimumWidth(chip_px);
  body()->addWidget(pages_, 1);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("square-lead", "strong");
  figure_ = finding()->add_label("square-figure", "big");
  spread_ = finding()->add_label("square-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("square-verdict", "strong");
  text_ = finding()->add_label("square-text", "task");
  finding()->add_rule();
  also_heading_ = finding()->add_label("square-also-heading", "heading", tr("MOVING THE BEAM ALSO CHANGES"));
  also_ = finding()->add_label("square-also", "small");
  finding()->add_stretch();
  offset_ = finding()->add_button("set-offset", tr("Set the right side's offset"),
                                  tr("The right switch's offset in the controller, found again at each homing"), true);
  moved_ = finding()->add_button("beam-moved", tr("I moved the beam, measure again"),
                                 tr("Keeps what was found and empties the distances"));
  copy_ = finding()->add_button("corrected-copy", tr("Write a corrected copy"),
                                tr("Of a program, with the lean and the scales taken out, for where nothing can be "
                                   "adjusted (Ctrl+Shift+C)"));
  copy_->setShortcut(QKeySequence("Ctrl+Shift+C"));
  keep_ = finding()->add_button("keep", tr("Keep this finding"),
                                tr("Writes it into the book with its distances (Ctrl+Return)"));
  keep_->setShortcut(QKeySequence("Ctrl+Return"));

  connect(mark_, &QPushButton::clicked, this, &SquarenessSheet::mark);
  connect(program, &QPushButton::clicked, this, &SquarenessSheet::write_program);
  connect(add_, &QPushButton::clicked, this, &SquarenessSheet::add_proposed);
  connect(read_, &QPushButton::clicked, this, &SquarenessSheet::read_next);
  connect(offset_, &QPushButton::clicked, this, &SquarenessSheet::set_offset);
  connect(moved_, &QPushButton::clicked, this, &SquarenessSheet::beam_moved);
  connect(keep_, &QPushButton::clicked, this, [this] { by_square() ? keep_reversal() : keep(); });
  connect(copy_, &QPushButton::clicked, this, &SquarenessSheet::write_corrected_copy);
  connect(mark_here_, &QPushButton::clicked, this, &SquarenessSheet::add_mark_here);
  connect(reversal_, &ReversalPage::found, this, [this] {
    if (by_square()) show_finding();
  });
  connect(width_, &LengthField::committed, this, [this](double mm) { set_corners(mm, height_->value().value_or(mm)); });
  connect(height_, &LengthField::committed, this, [this](double mm) { set_corners(width_->value().value_or(mm), mm); });
  connect(hole_, &LengthField::committed, this, [this](double mm) {
    change(tr("Change the holes' diameter"), [mm](SquareWorksheet& w) {
      for (auto& d : w.distances) d.hole_diameter = std::max(0.0, mm);
    });
  });
  connect(tolerance_, &LengthField::committed, this, [this](double mm) {
    change(tr("Change what is wanted"),
           [mm](SquareWorksheet& w) { w.tolerance_per_m = mm > 0 ? std::optional(mm) : std::nullopt; });
  });
  connect(instruments_, &QComboBox::textActivated, this, [this](const QString& name) {
    change(tr("Read with another instrument"), [&](SquareWorksheet& w) { w.instrument = name.toStdString(); });
  });
  connect(drawing_->rails(), &LengthField::committed, this, [this](double mm) {
    if (mm > 0)
      session_.editor().change_book(
          tr("Change the distance between the rails"), [mm](Book& b) { b.machine.rail_spacing = mm; },
          MachineFollows::no);
    else
      session_.notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it is."), {}});
    refresh();
  });
  connect(drawing_, &SquareDrawing::measured, this, [this](std::size_t i, double mm) {
    if (!(mm > 0)) {
      session_.notices().notify(
          {NoticeLevel::attention, tr("A distance must be above zero; it was left as it is."), {}});
      refresh();
      return;
    }
    change(tr("Type a distance"), [&](SquareWorksheet& w) { w.distances[i].measured = mm; });
  });
  connect(drawing_, &SquareDrawing::next_wanted, this, &SquarenessSheet::focus_next);
  connect(drawing_, &SquareDrawing::edge_wanted, this, &SquarenessSheet::turn_edge);
  connect(drawing_, &SquareDrawing::pair_wanted, this, &SquarenessSheet::add_distance);
  connect(drawing_, &SquareDrawing::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
  const auto key = [this](const char* keys, void (SquarenessSheet::*act)(std::size_t)) {
    auto* shortcut = new QShortcut(QKeySequence(keys), this, nullptr, nullptr, Qt::WidgetWithChildrenShortcut);
    connect(shortcut, &QShortcut::activated, this, [this, act] {
      if (const auto i = focused()) (this->*act)(*i);
    });
  };
  key("Ctrl+Shift+E", &SquarenessSheet::turn_edge);
  key("Ctrl+Delete", &SquarenessSheet::take_out);
  offer_jog();
}
const SquareWorksheet& SquarenessSheet::worksheet() const {
  static const SquareWorksheet none;
  return session_.editor().book().worksheets[square_worksheet] ? *session_.editor().book().worksheets[square_worksheet]
                                                               : none;
}
void SquarenessSheet::change(const QString& text, const std::function<void(SquareWorksheet&)>& change) {
  session_.editor().change_book(
      text,
      [&](Book& b) {
        if (!b.worksheets[square_worksheet]) b.worksheets[square_worksheet].emplace();
        change(*b.worksheets[square_worksheet]);
      },
      MachineFollows::no);
}
SquareInput SquarenessSheet::input() const {
  const SquareWorksheet& w = worksheet();
  const Book& book = session_.editor().book();
  SquareInput in;
  in.points = w.points;
  for (const auto& d : w.distances)
    if (d.measured > 0) in.distances.push_back(d);
  if (const Instrument* i = book.instrument(w.instrument)) in.instrument = *i;
  in.rail_spacing = book.machine.rail_spacing;
  in.steps_per_mm = {book.machine.axis(Axis::x).steps_per_mm, book.machine.axis(Axis::y).steps_per_mm};
  return in;
}
std::optional<std::size_t> SquarenessSheet::focused() const {
  for (std::size_t i = 0; i < worksheet().distances.size(); ++i)
    if (drawing_->field(i)->hasFocus()) return i;
  return std::nullopt;
}
void SquarenessSheet::focus_next(std::size_t after) {
  const auto& all = worksheet().distances;
  for (std::size_t step = 1; step <= all.size(); ++step)
    if (const std::size_t i = (after + step) % all.size(); !(all[i].measured > 0)) {
      drawing_->field(i)->setFocus();
      return;
    }
}
QString SquarenessSheet::cannot_tell() const {
  QStringList missing;
  for (const auto& pair : result_->missing)
    missing << tr("%1 to %2").arg(to_q(worksheet().points[pair[0]].name), to_q(worksheet().points[pair[1]].name));
  return missing.isEmpty() ? tr("More distances are needed.") : tr("Measure %1 too.").arg(missing.join(tr(" and ")));
}
QString SquarenessSheet::too_small() const {
  const auto& wanted = worksheet().tolerance_per_m;
  const double U_per_m = std::tan(result_->fit->U_skew) * 1000;
  if (!wanted || U_per_m <= *wanted) return {};
  if (const auto ahead = distances_ahead(input(), std::atan(*wanted / 1000)); ahead && ahead->reaches)
    return tr("◐ ±%1 per m is wanted: read the diagonals %n times more (Ctrl+D).", nullptr, ahead->readings)
        .arg(length(*wanted, 2));
  const auto factor = enlargement_for(input(), std::atan(*wanted / 1000));
  if (!factor)
    return tr("◐ ±%1 per m is wanted; no size would do with this instrument. Take a finer one.")
        .arg(length(*wanted, 2));
  if (*factor <= 1) return tr("◐ ±%1 per m is wanted: the readings scatter; measure again.").arg(length(*wanted, 2));
  double diagonal = 0;
  for (const auto& a : worksheet().points)
    for (const auto& b : worksheet().points)
      diagonal = std::max(diagonal, std::hypot(a.commanded.x - b.commanded.x, a.commanded.y - b.commanded.y));
  const double room = std::hypot(session_.machine().room(Axis::x).size(), session_.machine().room(Axis::y).size());
  if (diagonal * *factor > room)
    return tr("◐ ±%1 per m is wanted; this machine has no room for marks far enough apart with this instrument. Take a "
              "finer one.")
        .arg(length(*wanted, 2));
  return tr("◐ Too small for ±%1 per m: marks %2 apart at the diagonal would do, these are %3. Or take a finer "
            "instrument.")
      .arg(length(*wanted, 2), length(diagonal * *factor, 0), length(diagonal, 0));
}
void SquarenessSheet::show_part(const QString& part) {
  if (pages_->turn_to(part)) refresh();
}
void SquarenessSheet::show_reversal() {
  const auto found = reversal_->result();
  for (QWidget* w : {static_cast<QWidget*>(also_heading_), static_cast<QWidget*>(also_), static_cast<QWidget*>(moved_),
                     static_cast<QWidget*>(offset_), static_cast<QWidget*>(copy_)})
    w->setVisible(false);
  keep_->setEnabled(found && !session_.editor().read_only());
  if (!found) {
    lead_->setText(tr("Two readings, the square turned over between them"));
    figure_->clear();
    spread_->clear();
    verdict_->setText(reversal_->problem().isEmpty() ? QString() : tr("◐ %1").arg(reversal_->problem()));
    text_->setText(tr(
        "You need a carpenter's square and a dial indicator in the spindle. What the square is off by cancels when it "
        "is turned over, so the square need not be a good one."));
    return;
  }
  const double per_m = std::tan(found->skew) * 1000, U = std::tan(found->U) * 1000;
  const int digits = std::clamp(decimals_for(U, 2), 0, 3);
  lead_->setText(found->skew < 0 ? tr("Y leans towards −X by") : tr("Y leans towards +X by"));
  figure_->setText(tr("%1 per m").arg(length(std::fabs(per_m), digits)));
  spread_->setText(tr("±%1, about 95 %, from two readings").arg(length(U, digits)));
  const double part = std::fabs(std::tan(found->skew)) * session_.editor().book().job.part_height;
  verdict_->setText(std::fabs(found->skew) > found->U
                        ? tr("Not square: a part %1 high is out by %2.")
                              .arg(length(session_.editor().book().job.part_height, 0), length(part, 2))
                        : tr("● Square, as far as these readings can tell."));
  text_->setText(
      tr("The square itself is off by %1 mm per m. Which end of the beam to move, and how far, the marks tell: "
         "go back to them to correct.")
          .arg(std::tan(found->square) * 1000, 0, 'f', 2)
          .replace('-', QChar(0x2212)));
}
void SquarenessSheet::show_finding() {
  if (by_square()) return show_reversal();
  const bool fits = result_ && result_->fit;
  const Book& book = session_.editor().book();
  const bool has_gantry = fits && result_->fit->gantry.has_value();
  const bool adjust = fits && result_->verdict == SquareVerdict::adjust;
  also_heading_->setVisible(adjust);
  also_->setVisible(adjust);
  const bool can = !session_.editor().read_only();
  keep_->setEnabled(fits && can);
  moved_->setVisible(adjust && has_gantry);
  moved_->setEnabled(can);
  offset_->setVisible(adjust && has_gantry);
  copy_->setVisible(fits);
  if (!fits) {
    const auto last = newest(book, squareness_id);
    lead_->setText(result_ ? tr("These distances do not tell the lean")
                   : last  ? tr("In the book")
                           : tr("Not measured yet"));
    const double skew = last ? finding_of<SquarenessEntry>(book.history[*last]).skew_mrad.value_or(0) / 1000 : 0;
    figure_->setText(last && !result_ ? tr("%1 per m").arg(length(std::tan(skew) * 1000, 2)) : QString());
    spread_->setText(last && !result_ ? entry_date(book.history[*last]) : QString());
    verdict_->setText(!problem_.empty() ? to_q(problem_) : result_ ? tr("◐ %1").arg(cannot_tell()) : QString());
    text_->setText(
        tr("You need a board as large as the travel, a pointed tool or a pen, and a ruler, tape or beam "
           "caliper. Set Z zero on the board, put the marks down, measure from mark to mark."));
    return;
  }
  const SquareFit& fit = *result_->fit;
  const double per_m = std::tan(fit.skew) * 1000, U_per_m = std::tan(fit.U_skew) * 1000;
  const int digits = std::clamp(decimals_for(U_per_m, 2), 0, 3);
  lead_->setText(fit.skew < 0 ? tr("Y leans towards −X by") : tr("Y leans towards +X by"));
  figure_->setText(tr("%1 per m").arg(length(std::fabs(per_m), digits)));
  spread_->setText(tr("±%1, about 95 %, from %2 distances").arg(length(U_per_m, digits)).arg(input().distances.size()));
  const double part = std::fabs(std::tan(fit.skew)) * book.job.part_height;
  const QString small = too_small();
  verdict_->setText(
      (adjust ? tr("Not square: a part %1 high is out by %2.").arg(length(book.job.part_height, 0), length(part, 2))
              : tr("● Square, as far as these readings can tell.")) +
      (small.isEmpty() ? QString() : "\n" + small));
  QStringList lines;
  if (fit.model == SquareModel::common_scale && scales_known())
    lines
        << tr("The lean by the diagonals; the scales are those of Steps per unit, from which these lengths are off by "
              "%1 % together.")
               .arg((fit.scale_x - 1) * 100, 0, 'f', 3)
               .replace('-', QChar(0x2212));
  else if (fit.model == SquareModel::common_scale)
    lines << tr("Both diagonals tell the lean, but of the scales only what X and Y have in common: %1 %.")
                 .arg((fit.scale_x - 1) * 100, 0, 'f', 3)
          << cannot_tell();
  else
    lines << tr("X scale %1 ±%2 %, Y scale %3 ±%4 %.")
                 .arg((fit.scale_x - 1) * 100, 0, 'f', 3)
                 .arg(fit.U_scale_x * 100, 0, 'f', 3)
                 .arg((fit.scale_y - 1) * 100, 0, 'f', 3)
                 .arg(fit.U_scale_y * 100, 0, 'f', 3)
                 .replace('-', QChar(0x2212));
  if (fit.coverage.scatter_exceeds_claim)
    lines << tr("The distances disagree by more than this instrument should: look for a slip.");
  if (adjust && !has_gantry)
    lines << tr("Type how far the rails are apart, above the beam, and it says which end to move.");
  text_->setText(lines.join("\n"));
  QStringList also;
  for (const Task* task : downstream(squareness_id))
    if (const auto s = session_.editor().standing(task->id()).standing; s != Standing::never_done)
      also << tr("◐ %1: measure again").arg(title_of(*task));
  also_->setText(also.isEmpty() ? tr("Nothing else that was measured.") : also.join("\n"));
}
void SquarenessSheet::refresh() {
  const Book& book = session_.editor().book();
  QStringList names;
  for (const auto& i : book.instruments) names << to_q(i.name);
  if (instruments_->count() != names.size()) {
    instruments_->clear();
    instruments_->addItems(names);
  }
  if (!worksheet().instrument.empty()) instruments_->setCurrentText(to_q(worksheet().instrument));
  for (auto* f : {width_, height_, hole_, tolerance_}) f->set_unit(session_.editor().unit());
  const SquareWorksheet& w = worksheet();
  if (w.points.size() >= 4) {
    width_->show_value(w.points[1].commanded.x - w.points[0].commanded.x);
    height_->show_value(w.points[3].commanded.y - w.points[0].commanded.y);
  } else {
    const auto round = [](double room) { return std::max(10.0, std::floor((room - 2 * beside_marks_mm) / 50) * 50); };
    width_->show_value(round(session_.machine().room(Axis::x).size()));
    height_->show_value(round(session_.machine().room(Axis::y).size()));
  }
  tolerance_->show_value(w.tolerance_per_m);
  if (!w.distances.empty() && w.distances.front().hole_diameter > 0)
    hole_->show_value(w.distances.front().hole_diameter);
  SquareInput in = input();
  if (!book.instrument(w.instrument) && !book.instruments.empty()) in.instrument = book.instruments.front();
  result_.reset();
  problem_.clear();
  if (!in.distances.empty()) {
    if (auto found = fit_square(in))
      result_ = std::move(*found);
    else
      problem_ = found.error().message;
  }
  std::optional<SquareFit> drawn = result_ ? result_->fit : std::nullopt;
  if (drawn && result_->verdict != SquareVerdict::adjust) drawn->gantry.reset();  // nothing to move
  drawing_->show(w, drawn, book.machine.rail_spacing, session_.editor().unit());
  const double factor = drawing_->exaggeration();
  caption_->setText(factor > 1 ? tr("Drawn with the lean exaggerated %1 times; dashed is a true rectangle").arg(factor)
                               : tr("The marks, the distances between them, and the beam on its rails"));
  reversal_->refresh();
  show_finding();
  refresh_status();
}
void SquarenessSheet::refresh_status() {
  if (marking_->on_mark()) {
    const auto spotted =
        session_.machine().bench() ? session_.machine().bench()->spot(marking_->point().name) : Result<void>();
    marking_->go_on();  // before anything is said: that comes back here
    if (!spotted) session_.machine().ask(spotted);
  }
  const bool moving = marking_->running(), marked = marking_->phase() == Procedure::Phase::done;
  const auto& all = worksheet().distances;
  const bool open = std::any_of(all.begin(), all.end(), [](const MarkDistance& d) { return !(d.measured > 0); });
  set_text(hint_,
           moving           ? tr("It goes to mark %1; keep clear.").arg(to_q(marking_->point().name))
           : marked && open ? tr("The marks are down: measure and type each distance.")
           : !session_.machine().status().all_homed()
               ? tr("Home the machine first (Ctrl+H).")
               : tr("The larger the figure, the better it tells. Drag from mark to mark for one more distance."));
  mark_->setEnabled(session_.machine().standing_ready() && !moving);
  mark_here_->setEnabled(session_.machine().status().all_homed() && !moving);
  add_->setEnabled(worksheet().points.size() >= 2);
  read_->setVisible(session_.machine().bench() != nullptr);
  read_->setEnabled(marked && open);
  offset_->setEnabled(session_.machine().standing_ready() && !session_.editor().read_only());
}
}  // namespace ypsi::app
