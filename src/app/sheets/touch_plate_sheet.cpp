#include "app/sheets/touch_plate_sheet.h"

#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/page_foot.h"
#include "app/sheets/references/circuit_words.h"
#include "app/to_q.h"
#include "core/book/record.h"
#include "core/metrology/coverage.h"
#include "core/metrology/spread.h"
#include "core/tasks/known_scale.h"
#include "core/tasks/touch_plate.h"

namespace ypsi::app {
namespace {
constexpr double usual_search_mm = 10;
constexpr int usual_touches = 5;
}  // namespace

TouchPlateSheet::TouchPlateSheet(Session& session)
    : Sheet(session, touch_plate_task(), tr("Type its dimensions, see its circuit work, check its thickness.")) {
  auto* card = make_card();
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(14, 10, 14, 10);
  column->setSpacing(6);
  section_ = new PlateSection(card);
  column->addWidget(section_, 1);
  PageFoot foot(column, card);
  auto *settings = foot.settings(), *acts = foot.acts();
  search_ = add_field(settings, "touch-search", tr("Search"), tr("How far the tool goes to find the plate; no further"),
                      1, session, card)
                .field;
  touches_ =
      add_field(settings, "touch-repeats", tr("Touches"), tr("Slow touches each time, 2 to 50"), 0, session, card)
          .field;
  touches_->set_unit(LengthUnit::none);
  search_->show_value(usual_search_mm);
  touches_->show_value(usual_touches);
  circuit_button_ = make_button("circuit-check", tr("Check the circuit"),
                                tr("Plate and tool touched by hand, seen on screen (Ctrl+K)"), card);
  circuit_button_->setShortcut(QKeySequence("Ctrl+K"));
  with_button_ = make_button("touch-with", tr("Touch the plate"),
                             tr("Tool over the plate, less than the search above it (Ctrl+M)"), card);
  with_button_->setShortcut(QKeySequence("Ctrl+M"));
  without_button_ = make_button("touch-without", tr("Touch without it"),
                                tr("The same place without the plate, where it conducts (Ctrl+Shift+M)"), card);
  without_button_->setShortcut(QKeySequence("Ctrl+Shift+M"));
  for (auto* b : {circuit_button_, with_button_, without_button_}) acts->addWidget(b);
  without_ = add_field(settings, "bare-z", tr("or Z where it just drags"),
                       tr("Machine Z at the surface without the plate, found by paper or by eye"), 3, session, card)
                 .field;
  hint_ = foot.hint("plate-hint");
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("plate-lead", "strong");
  figure_ = finding()->add_label("plate-figure", "big");
  spread_ = finding()->add_label("plate-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("plate-verdict", "strong");
  text_ = finding()->add_label("plate-text", "task");
  finding()->add_stretch();
  keep_ =
      finding()->add_button("keep", tr("Keep this plate"), tr("Writes the plate into the book (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));

  const auto plate_field = [this](LengthField* f, double TouchPlate::*what, bool may_be_zero) {
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
    connect(f, &LengthField::committed, this, [this, what, may_be_zero](double mm) {
      if (mm > 0 || (may_be_zero && mm == 0))
        change_plate(tr("Type the plate's dimensions"), [&](TouchPlate& p) { p.*what = mm; });
      else
        session_.notices().notify({NoticeLevel::attention, tr("That cannot be; it was left as it was."), {}});
      refresh();
    });
  };
  plate_field(section_->thickness(), &TouchPlate::thickness, false);
  plate_field(section_->wall_x(), &TouchPlate::wall_x, true);
  plate_field(section_->wall_y(), &TouchPlate::wall_y, true);
  for (auto* f : {section_->tool(), section_->stock()})
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
  connect(section_->tool(), &LengthField::committed, this, [this](double mm) {
    const int in = session_.machine().status().tool;
    if (mm > 0 && session_.editor().book().tool(in))
      session_.editor().change_book(
          tr("Change the tool's diameter"),
          [&](Book& b) {
            for (auto& t : b.tools)
              if (t.number == in) t.diameter = mm;
          },
          MachineFollows::no);
    else
      session_.notices().notify({NoticeLevel::attention,
                                 tr("Enter the tool on the sheet Tools first; its diameter must be above zero."),
                                 {}});
    refresh();
  });
  connect(section_->stock(), &LengthField::committed, this, [this](double mm) {
    if (mm > 0)
      session_.editor().change_book(
          tr("Change the stock's thickness"), [mm](Book& b) { b.job.stock_size[2] = mm; }, MachineFollows::no);
    refresh();
  });
  connect(circuit_button_, &QPushButton::clicked, this, [this] { session_.machine().check_circuit(); });
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p == touch_.get()) over();
  });
  connect(with_button_, &QPushButton::clicked, this, [this] { touch(true); });
  connect(without_button_, &QPushButton::clicked, this, [this] { touch(false); });
  connect(without_, &LengthField::committed, this, [this](double mm) {
    bare_ = Touched{mm, 0, 1};
    show_finding();
  });
  connect(keep_, &QPushButton::clicked, this, &TouchPlateSheet::keep);
  offer_jog();
}

QString TouchPlateSheet::len(double mm, int decimals) const {
  return length(mm, decimals);
}

TouchPlate TouchPlateSheet::plate() const {
  if (!session_.editor().book().plates.empty()) return session_.editor().book().plates.front();
  TouchPlate p;
  p.name = "touch plate";
  return p;
}

void TouchPlateSheet::change_plate(const QString& text, const std::function<void(TouchPlate&)>& how) {
  const TouchPlate usual = plate();
  session_.editor().change_book(
      text,
      [&](Book& b) {
        if (b.plates.empty()) b.plates.push_back(usual);
        how(b.plates.front());
      },
      MachineFollows::no);
}

void TouchPlateSheet::touch(bool with_plate) {
  if (touch_->running()) return session_.machine().end_procedure();
  if (!session_.machine().circuit().works()) {
    session_.notices().notify(
        {NoticeLevel::attention,
         tr("The circuit was not seen to work yet. With the clip off the plate the tool would not stop."),
         {{tr("Check the circuit"), [this] { session_.machine().check_circuit(); }}}});
    return;
  }
  TouchWay way;
  way.search = search_->value().value_or(usual_search_mm);
  way.touches = static_cast<int>(std::lround(touches_->value().value_or(usual_touches)));
  touching_with_ = with_plate;
  session_.machine().start(touch_, way);
  refresh_status();
}

std::optional<std::pair<double, double>> TouchPlateSheet::measured() const {
  if (!with_ || !bare_) return std::nullopt;
  const auto part = [&](const Touched& t) {
    // A step of Z is the least that the touches can be told apart.
    const double step = 1 / session_.editor().book().machine.axis(Axis::z).steps_per_mm;
    return (t.s * t.s) / t.touches + step * step / 12;
  };
  const int freedom = std::max(1, with_->touches + bare_->touches - 2);
  const double thickness = with_->mean - bare_->mean;
  return std::pair{thickness, U_with_scale(session_.editor().book(), Axis::z, thickness,
                                           t95(freedom) * std::sqrt(part(*with_) + part(*bare_)))};
}

void TouchPlateSheet::keep() {
  const auto found = measured();
  const double as_found = plate().thickness;
  const TouchPlate usual = plate();
  session_.editor().change_book(tr("Keep the plate"), [&](Book& b) {
    if (b.plates.empty()) b.plates.push_back(usual);
    if (found) b.plates.front().thickness = found->first;
    Entry e;
    e.time = session_.editor().now().toStdString();
    e.sheet = touch_plate_id;
    e.instrument = "probe";
    const TouchPlate& p = b.plates.front();
    if (found)
      e.readings = {{{"with_plate_z_mm", with_->mean}, {"s_mm", with_->s}, {"touches", with_->touches}},
                    {{"without_z_mm", bare_->mean}, {"s_mm", bare_->s}, {"touches", bare_->touches}}};
    PlateEntry result{.thickness = p.thickness, .wall_x = p.wall_x, .wall_y = p.wall_y};
    if (found) result.U_thickness = found->second;
    e.result = result_of(result);
    e.as_found = {{"plate.thickness_mm", as_found}};
    e.as_left = {{"plate.thickness_mm", p.thickness}};
    b.history.push_back(std::move(e));
  });
  with_.reset();
  bare_.reset();
  refresh();
}

void TouchPlateSheet::show_finding() {
  const TouchPlate p = plate();
  const auto found = measured();
  keep_->setEnabled(p.thickness > 0 && !session_.editor().read_only());
  lead_->setText(found ? tr("The plate measures") : p.thickness > 0 ? tr("The plate in the book") : tr("No plate yet"));
  figure_->setText(found ? len(found->first, 3) : p.thickness > 0 ? len(p.thickness, 3) : QString());
  if (found) {
    spread_->setText(tr("±%1, about 95 %, from %2 and %3 touches")
                         .arg(len(found->second, 3))
                         .arg(with_->touches)
                         .arg(bare_->touches));
    const double off = found->first - p.thickness;
    verdict_->setText(
        p.thickness > 0 && std::fabs(off) <= found->second
            ? tr("● As the book has it.")
            : tr("◐ The book has %1: %2 off. Every zero set with it is off by as much.")
                  .arg(len(p.thickness, 3), to_q(format_signed(in_unit(off, session_.editor().unit()), 3))));
    text_->setText(tr("%1 − %2 = %3. Keep it, and the book has what was measured.")
                       .arg(to_q(format_length(with_->mean, session_.editor().unit(), 3)),
                            to_q(format_length(bare_->mean, session_.editor().unit(), 3)),
                            to_q(format_length(found->first, session_.editor().unit(), 3))));
    return;
  }
  const auto last = newest(session_.editor().book(), touch_plate_id);
  spread_->setText(last ? entry_date(session_.editor().book().history[*last]) : QString());
  verdict_->setText(
      with_
          ? tr("With the plate: Z %1, s %2. Now the same place without it.").arg(len(with_->mean, 3), len(with_->s, 3))
          : QString());
  text_->setText(
      tr("You need the plate on its wire, a caliper for its walls, and a plain shank in the spindle: a two-flute "
         "cutter measures smaller than it is at some angles. Touch the plate, then the same place without it: the "
         "difference is what the plate really adds."));
}

void TouchPlateSheet::refresh() {
  const Book& book = session_.editor().book();
  search_->set_unit(session_.editor().unit());
  without_->set_unit(session_.editor().unit());
  const Tool* tool = book.tool(session_.machine().status().tool);
  section_->show(plate(), tool ? tool->diameter : 0, book.job.stock_size[2], session_.editor().unit());
  show_finding();
  refresh_status();
}

void TouchPlateSheet::over() {
  if (touch_->phase() == Procedure::Phase::done)
    (touching_with_ ? with_ : bare_) = Touched{touch_->mean_trigger(), sample_deviation(touch_->triggers()).value_or(0),
                                               static_cast<int>(touch_->triggers().size())};
  show_finding();
  refresh_status();
}

void TouchPlateSheet::refresh_status() {
  const ProbeCircuit& circuit = session_.machine().circuit();
  const bool homed = session_.machine().status().all_homed();
  const QString asked = circuit_words(circuit.stage());
  set_text(hint_, touch_->running()  ? tr("It touches; keep a finger on Hold.")
                  : !asked.isEmpty() ? asked
                  : !homed           ? tr("Home the machine first (Ctrl+H).")
                  : circuit.works()
                      ? tr("● The circuit works. Bring the tool over the plate, nearer than the search, and touch.")
                      : tr("First the circuit: clip on the tool, plate in your hand."));
  const bool ready = session_.machine().standing_ready() && homed;
  circuit_button_->setEnabled(!touch_->running() && !circuit.waiting() &&
                              session_.machine().status().state != MachineState::offline);
  set_text(with_button_, touch_->running() && touching_with_ ? tr("End the touch") : tr("Touch the plate"));
  with_button_->setEnabled((touch_->running() && touching_with_) || (ready && !touch_->running()));
  without_button_->setEnabled(ready && !touch_->running());
}

}  // namespace ypsi::app
