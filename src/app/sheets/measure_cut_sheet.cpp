#include "app/sheets/measure_cut_sheet.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/job_session.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/measure_cut/cause_words.h"
#include "app/sheets/measure_cut/coupon_words.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "app/widgets/plain_table.h"
#include "core/book/record.h"
#include "core/book/worksheets/cut.h"
#include "core/calibration/first_cut.h"
#include "core/program/head_coupon.h"
#include "core/tasks/coupon_choice.h"
#include "core/tasks/measure_cut.h"
#include "core/tasks/trials.h"

namespace ypsi::app {
namespace {

struct ByHand {
  FeatureKind kind;
  Axis axis;
};
constexpr ByHand sizes_by_hand[] = {{FeatureKind::inside, Axis::x},  {FeatureKind::inside, Axis::y},
                                    {FeatureKind::outside, Axis::x}, {FeatureKind::outside, Axis::y},
                                    {FeatureKind::spacing, Axis::x}, {FeatureKind::spacing, Axis::y},
                                    {FeatureKind::depth, Axis::z}};

}  // namespace

MeasureCutSheet::MeasureCutSheet(Session& session)
    : Sheet(session, measure_cut_task(), tr("Cut a test piece, type what it measures, and put right what it shows.")) {
  auto* card = make_card();
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(14, 10, 14, 10);
  column->setSpacing(6);
  auto* cut = new WrappedRow;
  coupon_ = new QComboBox(card);
  coupon_->setObjectName("coupon-kind");
  coupon_->setAccessibleName(tr("Which test cut"));
  coupon_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
  cut->addWidget(coupon_);
  material_ = new QComboBox(card);
  material_->setObjectName("coupon-material");
  material_->setAccessibleName(tr("What the blank is made of"));
  material_->setToolTip(tr("For feed and depth of a pass"));
  material_->addItems({tr("wood"), tr("plastic"), tr("foam"), tr("aluminium"), tr("brass")});
  cut->addWidget(material_);
  make_ = add_act(
      cut, "make-coupon", tr("Make the test cut"),
      tr("Writes its program beside the book and loads it; a part that is there already is described below (Ctrl+M)"),
      card, [this] { make_cut(); });
  make_->setShortcut(QKeySequence("Ctrl+M"));
  instrument_ = new QComboBox(card);
  instrument_->setObjectName("cut-instrument");
  instrument_->setAccessibleName(tr("Measured with"));
  title_row()->addWidget(instrument_);
  short_ = new QComboBox(card);
  short_->setObjectName("cut-short-instrument");
  short_->setAccessibleName(tr("What lies close together is measured with"));
  short_->setToolTip(short_->accessibleName());
  title_row()->addWidget(short_);
  read_ = add_act(title_row(), "read-size", tr("Measure it"),
                  tr("What a person with this instrument reads at the part (Ctrl+R)"), card, [this] { read_here(); });
  read_->setShortcut(QKeySequence("Ctrl+R"));
  column->addLayout(cut);
  drawing_ = new PartDrawing(card);
  column->addWidget(drawing_, 3);
  table_ =
      make_table("cut-sizes", tr("Sizes of the part"),
                 {tr("Size"), tr("What"), tr("Drawn"), tr("Measured"), tr("Off by"), tr("Unexplained")}, 1, 22, card);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setToolTip(tr("Delete takes a size out"));
  table_->installEventFilter(this);
  column->addWidget(table_, 1);
  PageFoot foot(column, card);
  auto* more = foot.settings();
  kind_ = new QComboBox(card);
  kind_->setObjectName("size-kind");
  kind_->setAccessibleName(tr("What is measured"));
  for (const ByHand& by_hand : sizes_by_hand) {
    const QString words = by_hand.kind == FeatureKind::inside    ? tr("inside %1")
                          : by_hand.kind == FeatureKind::outside ? tr("outside %1")
                          : by_hand.kind == FeatureKind::spacing ? tr("like edges %1")
                                                                 : tr("depth %1");
    kind_->addItem(words.arg(QChar(letter(by_hand.axis))));
  }
  more->addWidget(kind_);
  nominal_ = add_field(more, "size-nominal", tr("drawn"), tr("The size as it was drawn"), 2, session_, card).field;
  nominal_->setMinimumWidth(104);
  top_ = add_field(more, "size-top", tr("top"),
                   tr("Where the top beside the chosen depth stands: the work Z at which the tool just touches it; "
                      "nothing on a flat top"),
                   3, session_, card);
  add_ = add_act(more, "add-size", tr("Add a size"), tr("One more size of the part (Ctrl+Shift+N)"), card,
                 [this] { add_size(); });
  add_->setShortcut(QKeySequence("Ctrl+Shift+N"));
  out_ = add_act(more, "take-size-out", tr("Take it out"), tr("The chosen size (Delete in the table)"), card,
                 [this] { take_out(); });
  hint_ = foot.hint("cut-hint");
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("WHAT THE PART SAYS"));
  lead_ = finding()->add_label("cut-lead", "strong");
  for (std::size_t i = 0; i < most_causes; ++i) {
    rows_[i].words = finding()->add_label(QString("cause-%1").arg(i), "task");
    rows_[i].apply = finding()->add_button(QString("apply-cause-%1").arg(i), {}, {});
    if (i < 9) rows_[i].apply->setShortcut(QKeySequence(QString("Ctrl+%1").arg(i + 1)));
    connect(rows_[i].apply, &QPushButton::clicked, this, [this, i] { apply(i); });
  }
  undetermined_ = finding()->add_label("cut-undetermined", "attention");
  scatter_ = finding()->add_label("cut-scatter", "small");
  finding()->add_stretch();
  keep_ = finding()->add_button("keep", tr("Keep this finding"),
                                tr("Writes it into the book with its readings (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));
  connect(keep_, &QPushButton::clicked, this, &MeasureCutSheet::keep);
  connect(drawing_, &PartDrawing::measured, this, [this](std::size_t i, double mm) { take(i, mm); });
  connect(drawing_, &PartDrawing::cleared, this, [this](std::size_t i) { take(i, std::nullopt); });
  connect(drawing_, &PartDrawing::next_wanted, this, &MeasureCutSheet::next_after);
  connect(drawing_, &PartDrawing::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
  connect(top_.field, &LengthField::committed, this, &MeasureCutSheet::take_top);
  connect(table_, &QTableWidget::currentCellChanged, this, &MeasureCutSheet::show_chosen);
  connect(nominal_, &LengthField::next_wanted, add_, [this] { add_->setFocus(); });
  connect(coupon_, &QComboBox::currentIndexChanged, this, &MeasureCutSheet::show_material);
  connect(instrument_, &QComboBox::activated, this, [this](int i) {
    change(tr("Measure the part with another instrument"),
           [&](CutWorksheet& w) { w.instrument = instrument_->itemText(i).toStdString(); });
  });
  connect(short_, &QComboBox::activated, this, [this](int i) {
    change(tr("Measure what lies close with another instrument"),
           [&](CutWorksheet& w) { w.short_instrument = short_->itemText(i).toStdString(); });
  });
}

void MeasureCutSheet::change(const QString& text, const std::function<void(CutWorksheet&)>& how) {
  session_.editor().change_book(
      text, [&](Book& b) { how(b.worksheets[cut_worksheet]); }, MachineFollows::no);
}

void MeasureCutSheet::take(std::size_t i, std::optional<double> mm) {
  if (i >= worksheet().sizes.size()) return;
  if (mm && !(*mm > 0) && !(*mm == 0 && worksheet().sizes[i].kind == FeatureKind::depth)) {
    session_.notices().notify(
        {NoticeLevel::attention, tr("A measured size must be above zero; it was left as it was."), {}});
    return refresh();
  }
  if (worksheet().sizes[i].measured_mm == mm) return;
  change(tr("Measure size %1").arg(to_q(worksheet().sizes[i].name)),
         [&](CutWorksheet& w) { w.sizes[i].measured_mm = mm; });
}

std::optional<std::size_t> MeasureCutSheet::chosen_depth() const {
  const auto row = static_cast<std::size_t>(table_->currentRow());
  if (table_->currentRow() < 0 || row >= worksheet().sizes.size()) return std::nullopt;
  return worksheet().sizes[row].kind == FeatureKind::depth ? std::optional(row) : std::nullopt;
}

void MeasureCutSheet::take_top(double mm) {
  if (const auto depth = chosen_depth())
    change(tr("Say where the top stands beside %1").arg(to_q(worksheet().sizes[*depth].name)),
           [&](CutWorksheet& w) { w.sizes[*depth].top_mm = mm; });
}

void MeasureCutSheet::show_chosen() {
  const auto depth = chosen_depth();
  top_.set_visible(depth.has_value() && !is_engraved(worksheet()));
  top_.field->set_unit(session_.editor().unit());
  top_.field->show_value(depth ? worksheet().sizes[*depth].top_mm : std::nullopt);
  if (worksheet().sizes.empty())
    hint_->setText(
        (engraves(session_.editor().book().machine)
             ? tr("%1 You need a plate, a pointed tool, a caliper, and a magnifier for the lines; about half an hour. "
                  "Any other part serves too: choose “another part” and add its sizes.")
         : cut_by_heads(session_.editor().book().machine)
             ? tr("%1 You need a piece of what you cut, a tape and a caliper; about half an hour. Any other part "
                  "serves too: choose “another part” and add its sizes.")
             : tr("%1 You need a stock, a cutter whose diameter the book has, and a caliper; about half an hour. Any "
                  "other part serves too: choose “another part” and add its sizes."))
            .arg(reason_words(choose_coupon(session_.editor().book()).reason)));
  else if (depth && !is_engraved(worksheet()))
    hint_->setText(
        tr("A depth is measured from the top beside it. Where the top is not flat, touch it there and say in "
           "“top” at which Z."));
  else if (is_engraved(worksheet()))
    hint_->setText(
        tr("Engraved with T%1, to be %2 deep. Crosses and the square are measured from the middle of one line "
           "to that of the other, widths at the top; a depth is not needed, but tells the tip.")
            .arg(worksheet().tool)
            .arg(session_.editor().length(worksheet().depth_mm, 2)));
  else if (cut_by_heads(worksheet()))
    hint_->setText(
        tr("Squares and crosses are measured from the middle of one line to the middle of the other; Enter "
           "goes on to the next."));
  else if (!(worksheet().tool_diameter_mm > 0))
    hint_->setText(tr("Measure each size where its letter is; Enter goes on to the next."));
  else
    hint_->setText(tr("Cut with T%1, made for %2. Measure each size where its letter is; Enter goes on to the next.")
                       .arg(worksheet().tool)
                       .arg(session_.editor().length(worksheet().tool_diameter_mm, 2)));
}

void MeasureCutSheet::next_after(std::size_t i) {
  for (std::size_t n = 1; n <= drawing_->count(); ++n)
    if (const std::size_t next = (i + n) % drawing_->count(); !worksheet().sizes[next].measured_mm)
      return drawing_->field(next)->setFocus();
  keep_->setFocus();
}

void MeasureCutSheet::read_here() {
  const auto chosen = drawing_->chosen();
  if (!chosen) return;
  const CutSize& s = worksheet().sizes[*chosen];
  const auto laid = as_laid(s, session_.machine().status().work_zero);
  if (!laid) {
    session_.notices().notify({NoticeLevel::attention,
                               tr("Nobody knows where this size is on the part; measure it by hand and type it."),
                               {}});
    return;
  }
  session_.machine().look(
      this, [laid = *laid, with = instrument_for(worksheet(), s)](Bench& b) { return b.measure(laid, with); },
      [this, size = *chosen](double read) {
        if (size >= worksheet().sizes.size()) return;
        take(size, std::round(read * 1000) / 1000);
        next_after(size);
      });
}

void MeasureCutSheet::add_size() {
  const auto nominal = nominal_->value();
  if (!nominal || !(*nominal > 0)) {
    session_.notices().notify({NoticeLevel::attention, tr("Say first how large it was drawn."), {}});
    nominal_->setFocus();
    return;
  }
  const std::size_t added = worksheet().sizes.size();
  change(tr("Add a size"), [&](CutWorksheet& w) {
    CutSize size;
    const ByHand& by_hand = sizes_by_hand[std::max(0, kind_->currentIndex())];
    size.kind = by_hand.kind;
    size.axis = by_hand.axis;
    size.nominal_mm = *nominal;
    const auto taken = [&](const std::string& name) {
      return std::any_of(w.sizes.begin(), w.sizes.end(), [&](const CutSize& s) { return s.name == name; });
    };
    for (int n = 0; size.name.empty() || taken(size.name); ++n)
      size.name = n < 26 ? std::string(1, static_cast<char>('A' + n)) : "A" + std::to_string(n);
    if (!cut_by_heads(w) && !(w.tool_diameter_mm > 0)) cut_with(w);
    w.sizes.push_back(std::move(size));
  });
  if (added < drawing_->count()) drawing_->field(added)->setFocus();
}

void MeasureCutSheet::take_out() {
  const int row = table_->currentRow();
  if (row < 0 || row >= static_cast<int>(worksheet().sizes.size())) return;
  change(tr("Take a size out"), [&](CutWorksheet& w) { w.sizes.erase(w.sizes.begin() + row); });
}

bool MeasureCutSheet::eventFilter(QObject* watched, QEvent* event) {
  if (watched == table_ && event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete) {
    take_out();
    return true;
  }
  return Sheet::eventFilter(watched, event);
}

void MeasureCutSheet::show_table() {
  const auto& sizes = worksheet().sizes;
  table_->setRowCount(static_cast<int>(sizes.size()));
  const LengthUnit unit = session_.editor().unit();
  const auto len = [&](std::optional<double> mm, int decimals) {
    return mm ? to_q(format_length(*mm, unit, decimals)) : QString("–");
  };
  const auto off = [&](const std::vector<std::optional<double>>& all, std::size_t i) {
    return reading_ && i < all.size() && all[i]
               ? to_q(format_signed(in_unit(*all[i], unit), unit == LengthUnit::inch ? 4 : 3))
               : QString("–");
  };
  for (std::size_t i = 0; i < sizes.size(); ++i) {
    const QString cells[] = {to_q(sizes[i].name),
                             size_words(sizes[i]),
                             len(sizes[i].nominal_mm, 2),
                             len(sizes[i].measured_mm, 3),
                             off(reading_ ? reading_->deviations : std::vector<std::optional<double>>{}, i),
                             off(reading_ ? reading_->residuals : std::vector<std::optional<double>>{}, i)};
    for (int column = 0; column < 6; ++column) {
      auto* item = table_->item(static_cast<int>(i), column);
      if (!item) table_->setItem(static_cast<int>(i), column, item = new QTableWidgetItem);
      item->setText(cells[column]);
    }
  }
}

void MeasureCutSheet::show_finding() {
  const Book& book = session_.editor().book();
  const std::size_t causes = reading_ ? std::min(reading_->causes.size(), most_causes) : 0;
  bool any = false;
  for (std::size_t i = 0; i < most_causes; ++i) {
    const bool there = i < causes;
    rows_[i].words->setVisible(there);
    rows_[i].apply->setVisible(false);
    if (!there) continue;
    const CutCause& c = reading_->causes[i];
    any = any || c.significant;
    const bool done = already_applied(book, c);
    rows_[i].words->setText((c.significant ? QString::number(i + 1) + ". " : QString("● ")) + cause_sentence(c, book) +
                            (done ? "\n" + tr("✓ Put right; cut again to see it.") : QString()));
    const QString cure = done ? QString() : cure_words(c, book);
    set_text(rows_[i].apply, cure);
    rows_[i].apply->setToolTip(cure_tip(c) + (i < 9 ? QString(" (Ctrl+%1)").arg(i + 1) : QString()));
    rows_[i].apply->setVisible(!cure.isEmpty());
    rows_[i].apply->setEnabled(!session_.editor().read_only());
  }
  if (causes == 0 && !reading_ && !worksheet().sizes.empty()) {
    rows_[0].words->setVisible(true);
    rows_[0].words->setText(
        is_engraved(worksheet())
            ? tr("Set work zero at the plate's front left corner, turn the nose as the program asks, go through Ready "
                 "check, and engrave it. Brush the chips off, leave the plate where it lies, and type what you read; "
                 "a width twice, once from each side.")
        : cut_by_heads(worksheet())
            ? tr("Set the start point at the front left corner of the piece, go through Ready check, and cut it. "
                 "Leave it lying flat, measure each size two or three times, and type what you trust.")
            : tr("Set work zero at the stock's front left corner, go through Ready check, and cut it. Then blow "
                 "the chips off, measure each size two or three times, and type what you trust."));
  }
  QStringList open;
  if (reading_ && reading_->sizes) {
    QStringList names;
    for (const CutQuantity q : reading_->sizes->undetermined) names << quantity_words(q, cut_by_heads(worksheet()));
    if (!names.isEmpty())
      open << tr("◐ Cannot be told apart yet: %1. Nothing of it is offered to be changed.").arg(names.join(", "));
    for (const MissingFeature& m : reading_->sizes->missing) open << missing_sentence(m, cut_by_heads(worksheet()));
  }
  undetermined_->setText(open.join("\n\n"));
  undetermined_->setVisible(!open.isEmpty());
  const bool scatters = reading_ && reading_->sizes && reading_->sizes->coverage.scatter_exceeds_claim;
  scatter_->setVisible(scatters);
  scatter_->setText(
      tr("◐ The sizes scatter more than this instrument explains: look for a slip of the reading, chips, a tool that "
         "bends. The ± is widened for it."));
  const bool measured = reading_.has_value();
  lead_->setText(worksheet().sizes.empty() ? tr("No part yet")
                 : !measured               ? tr("Nothing measured yet")
                 : any                     ? tr("Causes, the largest first")
                 : open.isEmpty()          ? tr("● Nothing to put right")
                                           : tr("◐ More sizes are needed"));
  const auto kept =
      newest(book, measure_cut_id, cut_by_heads(worksheet()) ? std::string() : "T" + std::to_string(worksheet().tool));
  keep_->setEnabled(measured && !session_.editor().read_only() &&
                    !(kept && book.history[*kept].readings == cut_readings(worksheet())));
}

void MeasureCutSheet::refresh() {
  const Book& book = session_.editor().book();
  if (instrument_->count() != static_cast<int>(book.instruments.size())) {
    for (QComboBox* box : {instrument_, short_}) {
      box->clear();
      for (const Instrument& i : book.instruments) box->addItem(to_q(i.name));
    }
  }
  instrument_->setCurrentText(to_q(worksheet().instrument));
  short_->setVisible(cut_by_heads(worksheet()) || is_engraved(worksheet()));
  short_->setCurrentText(
      to_q(worksheet().short_instrument.empty() ? worksheet().instrument : worksheet().short_instrument));
  const CouponChoice choice = choose_coupon(book);
  if (const auto kinds = coupon_kinds(book.machine); kinds != kinds_ || coupon_->count() == 0) {
    kinds_ = kinds;
    coupon_->clear();
    coupon_->addItem({});
    for (const CouponKind kind : kinds_) coupon_->addItem(coupon_words(kind));
    coupon_->addItem(tr("another part, described by its sizes"));
  }
  coupon_->setItemText(0, tr("best now: %1").arg(coupon_words(choice.kind)));
  coupon_->setToolTip(reason_words(choice.reason));
  show_material();
  reading_ = read_cut(book);
  drawing_->show(worksheet(), reading_ ? &*reading_ : nullptr, session_.editor().unit());
  nominal_->set_unit(session_.editor().unit());
  show_table();
  show_chosen();
  show_finding();
  out_->setEnabled(!worksheet().sizes.empty() && !session_.editor().read_only());
  add_->setEnabled(!session_.editor().read_only());
  refresh_status();
}

void MeasureCutSheet::refresh_status() {
  make_->setEnabled(!session_.editor().read_only() && !session_.job().in_job());
  read_->setVisible(session_.machine().bench() != nullptr);
  read_->setEnabled(session_.machine().bench() && !worksheet().sizes.empty() && !session_.job().cutting());
}

}  // namespace ypsi::app
