#include "app/sheets/bed/tram_page.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/instrument_choice.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "core/book/record.h"
#include "core/book/worksheets/bed.h"
#include "core/tasks/bed_spindle.h"
#include "core/tasks/build.h"

namespace ypsi::app {

TramPage::TramPage(Session& session) : BedPage(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* card = make_card(this);
  auto* inside = new QVBoxLayout(card);
  inside->setContentsMargins(14, 10, 14, 10);
  drawing_ = new SweepDrawing(card);
  inside->addWidget(drawing_, 1);
  PageFoot foot(inside, card);
  auto *row = foot.acts(), *settings = foot.settings();
  read_ = make_button("sweep-read", tr("Read the indicator"),
                      tr("The next reading round the circle, as a person would get it (Ctrl+R)"), card);
  read_->setShortcut(QKeySequence("Ctrl+R"));
  row->addWidget(read_);
  instruments_ = new QComboBox(card);
  instruments_->setObjectName("sweep-instrument");
  instruments_->setAccessibleName(tr("Read with"));
  row->addWidget(instruments_);
  cutter_ =
      add_field(settings, "tram-cutter", tr("Cutter ⌀"), tr("Cutter that would surface the bed"), 1, session, card)
          .field;
  stepover_ = add_field(settings, "tram-stepover", tr("Stepover"), tr("From pass to pass"), 1, session, card).field;
  column->addWidget(card, 1);

  take_positive(drawing_->radius(), &BedWorksheet::sweep_radius_mm, tr("Change the sweep's radius"));
  take_positive(drawing_->bolts_x(), &BedWorksheet::bolt_spacing_x_mm, tr("Change the bolts' spacing"));
  take_positive(drawing_->bolts_y(), &BedWorksheet::bolt_spacing_y_mm, tr("Change the bolts' spacing"));
  take_positive(cutter_, &BedWorksheet::cutter_mm, tr("Change the cutter"));
  take_positive(stepover_, &BedWorksheet::stepover_mm, tr("Change the stepover"));
  const auto refused = [this](const QString& why) { session_.notices().notify({NoticeLevel::attention, why, {}}); };
  for (auto* f : {drawing_->radius(), drawing_->bolts_x(), drawing_->bolts_y()})
    connect(f, &LengthField::refused, this, refused);
  for (int i = 0; i < sweep_places; ++i) {
    auto* f = drawing_->reading(i);
    connect(f, &LengthField::refused, this, refused);
    connect(f, &LengthField::committed, this, [this, i](double mm) {
      change(tr("Type a reading"), [&](BedWorksheet& w) {
        std::erase_if(w.sweep, [i](const SweepPoint& p) { return p.angle_deg == i * 45; });
        w.sweep.push_back({i * 45.0, mm});
      });
      refresh();
    });
    connect(f, &LengthField::next_wanted, this, [this, i] { drawing_->reading((i + 1) % sweep_places)->setFocus(); });
  }
  connect(read_, &QPushButton::clicked, this, &TramPage::read_next);
  connect(instruments_, &QComboBox::activated, this, [this] { refresh(); });
}

Result<TramResult> TramPage::evaluate() const {
  const BedWorksheet& w = worksheet();
  TramInput in;
  in.radius = w.sweep_radius_mm;
  for (const auto& p : w.sweep) in.sweep.push_back({p.angle_deg * std::numbers::pi / 180, p.reading_mm});
  in.bolt_spacing_x = w.bolt_spacing_x_mm;
  in.bolt_spacing_y = w.bolt_spacing_y_mm;
  in.cutter_diameter = w.cutter_mm;
  in.stepover = w.stepover_mm;
  in.indicator = instrument_or_indicator(session_.editor().book(), instruments_->currentText());
  if (const auto bed = bed_slope_of(session_.editor().book())) {
    in.bed_slope = bed->slope;
    in.u_bed_slope = bed->u;
  }
  return evaluate_tram(in);
}

void TramPage::read_next() {
  for (int i = 0; i < sweep_places; ++i) {
    if (drawing_->reading(i)->value()) continue;
    session_.machine().look(
        this,
        [i, radius = worksheet().sweep_radius_mm, with = instruments_->currentText().toStdString()](Bench& b) {
          return b.read_sweep(radius, i * 45, with);
        },
        [this, i](double read) {
          change(tr("Read the indicator"), [&](BedWorksheet& w) { w.sweep.push_back({i * 45.0, read}); });
          refresh();
        });
    return;
  }
}

PageFinding TramPage::finding() const {
  PageFinding f;
  const auto found = evaluate();
  if (!found) {
    const auto last = newest(session_.editor().book(), bed_spindle_id, tram_subject);
    f.lead = last && worksheet().sweep.empty() ? tr("In the book") : tr("The spindle's lean");
    if (last && worksheet().sweep.empty()) {
      const Entry& e = session_.editor().book().history[*last];
      const auto kept = finding_of<TramEntry>(e);
      f.figure = tr("%1 mrad").arg(lean_of(kept).value_or(0), 0, 'f', 2);
      f.spread = entry_date(e);
    }
    if (worksheet().sweep.size() >= 3) f.verdict = tr("◐ %1").arg(to_q(found.error().message));
    f.text =
        tr("You need a dial indicator on an arm in the spindle and a flat bed, the spindle switched off. Turn the arm "
           "by hand and type what it says at each place; three places at least, round the circle.");
    return f;
  }
  const TramEntry told = tram_entry(*found);
  const double lean = lean_of(told).value_or(0);
  const std::optional<double> U = U_lean_of(told);
  f.lead = tr("The spindle's top leans by");
  f.figure = U ? tr("%1 ±%2").arg(lean, 0, 'f', 2).arg(*U, 0, 'f', 2) : QString::number(lean, 'f', 2);
  f.spread = tr("mrad; X %1, Y %2, from %3 readings")
                 .arg(to_q(format_signed(*told.tilt_x, 2)), to_q(format_signed(*told.tilt_y, 2)))
                 .arg(worksheet().sweep.size());
  f.verdict = U && lean <= *U
                  ? tr("● Upright, as far as these readings can tell.")
                  : tr("A %1 cutter leaves ridges of %2.").arg(len(worksheet().cutter_mm, 0), len(found->ridge, 3));
  f.text =
      tr("A lean across the passes leaves a ridge at each, the same lean along them a hollow of %1. Shims under the "
         "bolts that are filled in the drawing set it upright; tighten, and sweep again.")
          .arg(len(found->hollow, 4)) +
      " " +
      (bed_slope_of(session_.editor().book())
           ? tr("Told to the travel: the slope of the bed's map is taken off.")
           : tr("Told to the bed, which is taken for level to the travel as long as it has no map."));
  f.keep = tr("Keep this finding");
  f.can_keep = true;
  f.second = tr("I put the shims in, sweep again");
  return f;
}

void TramPage::keep() {
  const auto found = evaluate();
  if (!found) return;
  session_.editor().change_book(
      tr("Keep the tram"),
      [&](Book& b) {
        Entry e = entry(tram_subject);
        e.instrument = instruments_->currentText().toStdString();
        for (const auto& p : worksheet().sweep)
          e.readings.push_back({{"angle_deg", p.angle_deg}, {"reading_mm", p.reading_mm}});
        e.result = result_of(tram_entry(*found));
        b.history.push_back(std::move(e));
        b.worksheets[bed_worksheet].sweep.clear();
      },
      MachineFollows::no);
}

void TramPage::second() {
  const auto found = evaluate();
  if (!found) return;
  keep();
  session_.editor().change_book(
      tr("Put the shims in"),
      [&](Book& b) {
        Entry e = entry("");
        e.sheet = build_id;
        e.as_found = {{"spindle.shim_x_mm", 0}, {"spindle.shim_y_mm", 0}};
        e.as_left = {{"spindle.shim_x_mm", found->shim_x}, {"spindle.shim_y_mm", found->shim_y}};
        e.result = result_of(SaidEntry{tr("shims under the spindle's mount").toStdString()});
        b.history.push_back(std::move(e));
      },
      MachineFollows::no);
}

void TramPage::refresh() {
  offer_instruments(instruments_, session_.editor().book());
  for (auto* f : {cutter_, stepover_}) f->set_unit(session_.editor().unit());
  cutter_->show_value(worksheet().cutter_mm);
  stepover_->show_value(worksheet().stepover_mm);
  const auto found = evaluate();
  drawing_->show(worksheet(), found ? std::optional(*found) : std::nullopt, session_.editor().unit());
  refresh_status();
  emit this->found();
}

void TramPage::refresh_status() {
  read_->setVisible(session_.machine().bench() != nullptr);
  read_->setEnabled(worksheet().sweep.size() < sweep_places);
}

}  // namespace ypsi::app
