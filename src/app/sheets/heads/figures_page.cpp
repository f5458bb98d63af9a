#include "app/sheets/heads/figures_page.h"

#include <QComboBox>
#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "app/drawing/draft.h"
#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/instrument_choice.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/save_program.h"
#include "app/sheets/sheet.h"
#include "app/to_q.h"
#include "core/book/worksheets/heads.h"

namespace ypsi::app {
namespace {

constexpr double figure_line_mm = 40, strip_length_mm = 60;
constexpr int figure_field_px = 92;

}  // namespace

FiguresDrawing::FiguresDrawing(HeadMeasure measure, QWidget* parent) : QWidget(parent), measure_(measure) {
  setObjectName(QString("%1-drawing").arg(name(measure)));
  setAccessibleName(measure == HeadMeasure::trailing ? tr("Two lines towards one end, and the gap between them")
                    : measure == HeadMeasure::blade  ? tr("Two lines of a turned blade, one from each side")
                                                     : tr("Strips pushed together"));
  setMinimumHeight(250);
}

LengthField* FiguresDrawing::add(const QString& name, const QString& what, QPointF where) {
  auto* field = new LengthField(name, what, this);
  field->setFixedWidth(figure_field_px);
  field->set_decimals(3);
  field->set_clearable(true);
  fields_.emplace_back(field, where);
  return field;
}

void FiguresDrawing::set_strips(int strips) {
  strips_ = strips;
  update();
}

void FiguresDrawing::resizeEvent(QResizeEvent*) {
  for (const auto& [field, where] : fields_)
    field->move(static_cast<int>(where.x() * width()) - figure_field_px / 2,
                static_cast<int>(where.y() * height()) - field->height() / 2);
}

void FiguresDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  Draft draft(painter);
  if (measure_ == HeadMeasure::trailing) paint_trailing(draft);
  if (measure_ == HeadMeasure::blade) paint_blade(draft);
  if (measure_ == HeadMeasure::kerf) paint_kerf(draft);
}

void FiguresDrawing::paint_trailing(Draft& draft) {
  const double y = 0.42, from = 0.43, to = 0.57;
  draft.text(at(0.03, 0.09), tr("Seen from above, not to scale"), theme().second_ink, 11);
  draft.box(QRectF(at(0.05, 0.2), at(0.95, 0.64)), theme().rule, theme().stock, 1);
  draft.line(at(0.12, y), at(from, y), theme().teal, 3.4);
  draft.line(at(0.88, y), at(to, y), theme().teal, 3.4);
  draft.arrow_head(at(from, y), {1, 0}, theme().teal, 12);
  draft.arrow_head(at(to, y), {-1, 0}, theme().teal, 12);
  draft.text(at(0.12, y) + QPointF(0, -12), tr("first line, towards +X"), theme().ink, 12);
  draft.text(at(0.88, y) + QPointF(0, -12), tr("second line, towards −X"), theme().ink, 12, false, Qt::AlignRight);
  // Where the pivot came to, both times.
  draft.line(at(0.5, 0.26), at(0.5, 0.6), theme().red, 1.2, Qt::DashLine);
  draft.text(at(0.5, 0.25) + QPointF(0, -6), tr("both were sent to here"), theme().red, 11, false, Qt::AlignHCenter);
  for (const double x : {from, to}) draft.line(at(x, y) + QPointF(0, 6), at(x, 0.83), theme().second_ink);
  draft.line(at(from, 0.8), at(0.5, 0.8) - QPointF(figure_field_px / 2.0 + 4, 0), theme().second_ink);
  draft.line(at(to, 0.8), at(0.5, 0.8) + QPointF(figure_field_px / 2.0 + 4, 0), theme().second_ink);
  draft.text(at(0.5, 0.93), tr("gap between the two ends"), theme().second_ink, 12, false, Qt::AlignHCenter);
}

void FiguresDrawing::paint_blade(Draft& draft) {
  draft.text(at(0.03, 0.08), tr("Seen from above, not to scale; both lines were sent to the red cross"),
             theme().second_ink, 11);
  draft.box(QRectF(at(0.05, 0.14), at(0.95, 0.72)), theme().rule, theme().stock, 1);
  const QPointF sent = at(0.5, 0.42);
  draft.line(sent - QPointF(9, 0), sent + QPointF(9, 0), theme().red, 1.4);
  draft.line(sent - QPointF(0, 9), sent + QPointF(0, 9), theme().red, 1.4);
  draft.line(at(0.14, 0.34), at(0.56, 0.34), theme().teal, 3.2);
  draft.arrow_head(at(0.56, 0.34), {1, 0}, theme().teal, 12);
  draft.text(at(0.14, 0.34) + QPointF(0, -10), tr("line towards +X"), theme().ink, 12);
  draft.line(at(0.86, 0.5), at(0.44, 0.5), theme().teal, 3.2);
  draft.arrow_head(at(0.44, 0.5), {-1, 0}, theme().teal, 12);
  draft.text(at(0.86, 0.5) + QPointF(0, 18), tr("line towards −X"), theme().ink, 12, false, Qt::AlignRight);
  for (const auto& [x, words] : {std::pair{0.14, tr("Y of line +X")},
                                 {0.38, tr("Y of line −X")},
                                 {0.62, tr("X of the end of +X")},
                                 {0.86, tr("X of the end of −X")}})
    draft.text(at(x, 0.8), words, theme().second_ink, 12, false, Qt::AlignHCenter);
}

void FiguresDrawing::paint_kerf(Draft& draft) {
  draft.text(at(0.03, 0.09), tr("The strips pushed together"), theme().second_ink, 11);
  const int n = std::clamp(strips_, 1, 30);
  const QRectF all(at(0.1, 0.2), at(0.9, 0.6));
  for (int i = 0; i < n; ++i)
    draft.box(QRectF(all.left() + all.width() * i / n, all.top(), all.width() / n - 1, all.height()), theme().ink,
              theme().stock, 1.2);
  for (const double x : {0.1, 0.9}) draft.line(at(x, 0.62), at(x, 0.82), theme().second_ink);
  draft.line(at(0.1, 0.79), at(0.5, 0.79) - QPointF(figure_field_px / 2.0 + 4, 0), theme().second_ink);
  draft.line(at(0.5, 0.79) + QPointF(figure_field_px / 2.0 + 4, 0), at(0.9, 0.79), theme().second_ink);
  draft.text(at(0.5, 0.93), tr("all together"), theme().second_ink, 12, false, Qt::AlignHCenter);
}

FiguresPage::FiguresPage(Session& session, HeadMeasure measure) : FindingPage(session), measure_(measure) {
  auto* column = make_card_page(this);
  QWidget* card = column->parentWidget();
  drawing_ = new FiguresDrawing(measure, card);
  column->addWidget(drawing_, 1);
  PageFoot foot(column, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  settings->addWidget(make_label("word", "small", tr("Measured with"), card));
  instrument_ = new QComboBox(card);
  instrument_->setObjectName(QString("%1-instrument").arg(name(measure)));
  instrument_->setAccessibleName(tr("Instrument"));
  settings->addWidget(instrument_);
  using Typed = HeadsWorksheet;
  const auto optional_field = [&](LengthField* field, std::optional<double> Typed::*value) {
    bind(
        field, [value](const Typed& s) { return s.*value; },
        [value](Typed& s, std::optional<double> mm) { s.*value = mm; });
  };
  if (measure == HeadMeasure::trailing)
    optional_field(drawing_->add("trailing-gap", tr("Gap between the ends of the two lines"), {0.5, 0.8}),
                   &Typed::gap_mm);
  if (measure == HeadMeasure::kerf) {
    optional_field(drawing_->add("kerf-total", tr("Width of all strips pushed together"), {0.5, 0.79}),
                   &Typed::total_mm);
    auto* strips =
        add_field(settings, "kerf-strips", tr("Strips"), tr("How many strips, 1 or more"), 0, session, card).field;
    bind(
        strips, [](const Typed& s) { return std::optional<double>(s.strips); },
        [](Typed& s, std::optional<double> n) { s.strips = std::max(1, static_cast<int>(std::lround(n.value_or(1)))); },
        false);
    auto* pitch =
        add_field(settings, "kerf-pitch", tr("Pitch"), tr("How far the cuts are apart"), 2, session, card).field;
    bind(
        pitch, [](const Typed& s) { return std::optional(s.pitch_mm); },
        [](Typed& s, std::optional<double> mm) {
          if (mm.value_or(0) > 0) s.pitch_mm = *mm;
        });
  }
  if (measure == HeadMeasure::blade) {
    const std::array<const char*, 4> names{"blade-y-plus", "blade-y-minus", "blade-end-plus", "blade-end-minus"};
    const std::array<QString, 4> what{
        tr("Where the line towards +X lies along Y"), tr("Where the line towards −X lies along Y"),
        tr("X of the end of the line towards +X"), tr("X of the end of the line towards −X")};
    for (std::size_t i = 0; i < 4; ++i)
      bind(
          drawing_->add(names[i], what[i], {0.14 + 0.24 * static_cast<double>(i), 0.89}),
          [i](const Typed& s) { return std::optional(s.blade_mm[i]); },
          [i](Typed& s, std::optional<double> mm) { s.blade_mm[i] = mm.value_or(0); });
    const std::array<const char*, 4> angle{"angle-a", "kerf-a", "angle-b", "kerf-b"};
    const std::array<QString, 4> words{tr("Set to °"), tr("kerf"), tr("and °"), tr("kerf")};
    for (std::size_t i = 0; i < 4; ++i)
      bind(
          add_field(settings, angle[i], words[i],
                    i % 2 == 0 ? tr("Angle that the blade is set to") : tr("Width of the cut at that angle"),
                    i % 2 == 0 ? 1 : 3, session, card)
              .field,
          [i](const Typed& s) { return std::optional(s.angle_width[i]); },
          [i](Typed& s, std::optional<double> v) { s.angle_width[i] = v.value_or(0); }, i % 2 == 1);
    auto* chord = add_field(settings, "blade-chord", tr("Chord"), tr("Length of the blade's edge in the material"), 2,
                            session, card)
                      .field;
    bind(
        chord, [](const Typed& s) { return std::optional(s.chord_mm); },
        [](Typed& s, std::optional<double> mm) { s.chord_mm = mm.value_or(0); });
  }
  write_ = add_act(acts, QString("write-%1").arg(name(measure)), tr("Write the lines…"),
                   tr("A program that cuts what is to be measured"), card, [this] { write_program(); });
  square_ = add_act(acts, "write-square", tr("Write a square…"),
                    tr("A square with the trailing offset taken out, to see whether its corners come out sharp"), card,
                    [this] { write_square(); });
  square_->setVisible(measure == HeadMeasure::trailing);
  number_acts(measure == HeadMeasure::trailing ? std::vector{write_, square_} : std::vector{write_});
  hint_ = foot.hint("figures-hint");
  connect(instrument_, &QComboBox::activated, this, [this] {
    change(tr("Choose an instrument"),
           [this](HeadsWorksheet& s) { s.instrument = instrument_->currentText().toStdString(); });
  });
}

void FiguresPage::bind(LengthField* field, const std::function<std::optional<double>(const HeadsWorksheet&)>& get,
                       const std::function<void(HeadsWorksheet&, std::optional<double>)>& set, bool is_length) {
  fields_.push_back({field, get, is_length});
  if (!is_length) field->set_unit(LengthUnit::none);
  const QString what = tr("Type %1").arg(field->accessibleName());
  connect(field, &LengthField::committed, this,
          [this, set, what](double mm) { change(what, [&](HeadsWorksheet& s) { set(s, mm); }); });
  connect(field, &LengthField::cleared, this,
          [this, set, what] { change(what, [&](HeadsWorksheet& s) { set(s, std::nullopt); }); });
  connect(field, &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
}

void FiguresPage::change(const QString& text, const std::function<void(HeadsWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[heads_worksheet]); }, MachineFollows::no);
}

void FiguresPage::write_program() {
  const Book& book = session_.editor().book();
  const auto head = chosen_head(book);
  if (!head) return;
  const double x = book.job.stock_corner[0] + book.job.stock_size[0] / 2,
               y = book.job.stock_corner[1] + book.job.stock_size[1] / 2;
  std::vector<HeadLine> lines;
  if (measure_ == HeadMeasure::kerf) {
    const HeadsWorksheet& s = book.worksheets[heads_worksheet];
    for (int i = 0; i <= s.strips; ++i) {
      const double at = x + (i - s.strips / 2.0) * s.pitch_mm;
      lines.push_back(
          {.head = *head, .x0 = at, .y0 = y - strip_length_mm / 2, .x1 = at, .y1 = y + strip_length_mm / 2});
    }
  } else {
    lines = facing_lines(*head, x, y, figure_line_mm);
  }
  HeadLinesSetting setting;
  setting.title = tr("lines to be measured").toStdString();
  save_program(session_, this, head_lines_program(book, lines, setting), tr("Write the lines"), "lines.ngc");
}

/// With corners: what the offset is for.
void FiguresPage::write_square() {
  const Book& book = session_.editor().book();
  const auto head = chosen_head(book);
  if (!head) return;
  const PlanPoint middle(book.job.stock_corner[0] + book.job.stock_size[0] / 2,
                         book.job.stock_corner[1] + book.job.stock_size[1] / 2);
  std::vector<PlanPoint> corners;
  for (const auto& [x, y] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}, {-1, -1}})
    corners.push_back(middle + PlanPoint(x, y) * (figure_line_mm / 2));
  HeadLinesSetting setting;
  setting.title = tr("a square by the %1").arg(to_q(book.machine.heads[*head].name)).toStdString();
  save_program(session_, this, knife_program(book, *head, {corners}, setting), tr("Write a square"), "square.ngc");
}

PageFinding FiguresPage::finding() const {
  const Book& book = session_.editor().book();
  PageFinding f;
  const auto at = chosen_head(book);
  if (!at) return f;
  const Head& head = book.machine.heads[*at];
  const QString name = to_q(head.name);
  const auto with_U = [&](double mm, double U) {
    return tr("%1 ±%2").arg(session_.editor().length(mm, 2), session_.editor().length(U, 2));
  };
  const auto told = [&](const Result<MeasuredLength>& r, const std::optional<double>& in_book,
                        const std::optional<double>& U) {
    if (r) {
      f.figure = session_.editor().length(r->value, 3);
      f.spread = tr("±%1").arg(session_.editor().length(r->U, 3));
      f.can_keep = r->value > 0;
      f.verdict = r->value > 0 ? tr("● Told from the reading") : tr("⊗ Below zero: something was read wrongly");
      if (in_book) f.text = tr("In the book now: %1.").arg(with_U(*in_book, U.value_or(0)));
    } else if (in_book) {
      f.figure = session_.editor().length(*in_book, 3);
      f.spread = tr("±%1, in the book").arg(session_.editor().length(U.value_or(0), 3));
    } else {
      f.verdict = tr("○ Not measured yet");
    }
  };
  switch (measure_) {
    case HeadMeasure::trailing:
      f.lead = tr("The %1 trails its pivot by").arg(name);
      told(evaluate_trailing(book), head.trailing_mm, head.U_trailing_mm);
      f.text += (f.text.isEmpty() ? "" : "\n") +
                tr("Cut two lines towards one end, one from each side, and measure the gap that they leave. With it a "
                   "program goes on past each corner and turns there, so that corners come out sharp.");
      break;
    case HeadMeasure::kerf:
      f.lead = tr("The %1 takes away").arg(name);
      told(evaluate_kerf(book), head.kerf_mm, head.U_kerf_mm);
      f.text += (f.text.isEmpty() ? "" : "\n") +
                tr("Cut a row of strips, push them together and measure all at once: what is missing is the kerf, once "
                   "for each.");
      break;
    case HeadMeasure::blade: {
      f.lead = tr("The blade of the %1 stands").arg(name);
      const auto r = evaluate_blade(book);
      const auto& s = book.worksheets[heads_worksheet];
      constexpr double degrees = 180 / std::numbers::pi;
      const auto stands = [&](double forward, double left) {
        return tr("%1 before, %2 left").arg(session_.editor().length(forward, 2), session_.editor().length(left, 2));
      };
      const bool typed = std::any_of(s.blade_mm.begin(), s.blade_mm.end(), [](double mm) { return mm != 0; });
      if (typed && r) {
        f.figure = stands(r->forward, r->left);
        f.spread = tr("of its turning axis, ±%1").arg(session_.editor().length(r->U, 3));
        f.can_keep = true;
        f.verdict = tr("● Told from the readings");
        if (r->angle_zero)
          f.text = tr("Its angle zero is off by %1 ±%2°.")
                       .arg(*r->angle_zero * degrees, 0, 'f', 2)
                       .arg(r->U_angle.value_or(0) * degrees, 0, 'f', 2);
      } else if (head.blade) {
        f.figure = stands(head.blade->forward_mm, head.blade->left_mm);
        f.spread = tr("of its turning axis, in the book");
      } else {
        f.verdict = tr("○ Not measured yet");
      }
      f.text +=
          (f.text.isEmpty() ? "" : "\n") +
          tr("Cut a line towards +X and one towards −X to the same end; type where each lies and ends. Two widths "
             "of cut with the blade set to either side tell its angle zero as well.");
      break;
    }
    default:
      break;
  }
  return f;
}

void FiguresPage::keep() {
  const Book& book = session_.editor().book();
  const std::string time = session_.editor().now().toStdString();
  const auto keep_in = [&](const std::function<void(Book&)>& how) {
    session_.editor().change_book(tr("Keep what a head was found to do"), how, MachineFollows::no);
  };
  if (measure_ == HeadMeasure::blade) {
    if (const auto r = evaluate_blade(book)) keep_in([&](Book& b) { keep_blade(b, *r, time); });
  } else if (measure_ == HeadMeasure::trailing) {
    if (const auto r = evaluate_trailing(book)) keep_in([&](Book& b) { keep_trailing(b, *r, time); });
  } else if (const auto r = evaluate_kerf(book)) {
    keep_in([&](Book& b) { keep_kerf(b, *r, time); });
  }
}

void FiguresPage::refresh() {
  const Book& book = session_.editor().book();
  const HeadsWorksheet& s = book.worksheets[heads_worksheet];
  for (const Bound& b : fields_) {
    if (b.is_length) b.field->set_unit(session_.editor().unit());
    b.field->show_value(b.get(s));
    b.field->setEnabled(!session_.editor().read_only());
  }
  drawing_->set_strips(s.strips);
  offer_instruments(instrument_, book);
  instrument_->setCurrentText(to_q(s.instrument));
  const auto at = chosen_head(book);
  const bool placed = at && (*at == 0 || book.machine.heads[*at].place);
  write_->setEnabled(placed);
  square_->setEnabled(placed && book.machine.heads[*at].trailing_mm.has_value());
  set_text(hint_, placed ? tr("Write the lines, cut them in what you cut most, and measure.")
                         : tr("Its place against the first is not measured yet, so a program cannot send it; cut the "
                              "lines by hand, or measure the place first."));
}

}  // namespace ypsi::app
