#include "app/sheets/homing_sheet.h"

#include <algorithm>
#include <cmath>

#include "app/session/book_editor.h"
#include "app/session/entry_text.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/sheets/axis_chips.h"
#include "app/sheets/page_foot.h"
#include "app/to_q.h"
#include "core/book/record.h"
#include "core/book/worksheets/homing.h"
#include "core/tasks/homing.h"

namespace ypsi::app {
namespace {

constexpr double usual_place_mm = 60;  // of the indicator, from the switch
constexpr double rate_mm_min = 1500;

QString verdict_word(HomingVerdict verdict) {
  return verdict == HomingVerdict::drifting    ? HomingSheet::tr("✕ It drifts")
         : verdict == HomingVerdict::scattered ? HomingSheet::tr("✕ It scatters too much")
                                               : HomingSheet::tr("● It repeats");
}

}  // namespace

HomingSheet::HomingSheet(Session& session)
    : Sheet(session, homing_task(), tr("Home several times and see whether it ends at the same place each time.")) {
  auto* chips = new AxisChips(this);
  title_row()->addWidget(chips);
  auto* card = make_card();
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(14, 10, 14, 10);
  column->setSpacing(6);
  chart_ = new TrialsChart(card);
  column->addWidget(chart_, 1);

  const auto field = [&](QLayout* row, const char* name, const QString& word, const QString& what, int decimals) {
    return add_field(row, name, word, what, decimals, session_, card);
  };
  PageFoot foot(column, card);
  auto *row = foot.settings(), *acts = foot.acts();
  way_ = new QComboBox(card);
  way_->setObjectName("homing-way");
  way_->setAccessibleName(tr("Read by"));
  row->addWidget(way_);
  trials_ = field(row, "homing-trials", tr("Trials"), tr("How many homings, 5 to 100"), 0).field;
  trials_->set_unit(LengthUnit::none);
  tolerance_ =
      field(row, "homing-tolerance", tr("Asked: 2s within"), tr("What two standard deviations may be"), 3).field;
  begin_ = make_button("homing-begin", tr("Home again and again"), tr("Begins the trials (Ctrl+M)"), card);
  begin_->setShortcut(QKeySequence("Ctrl+M"));
  acts->addWidget(begin_);
  read_ = make_button("homing-read", tr("Read the indicator"),
                      tr("A reading as a person with this instrument would get (Ctrl+R)"), card);
  read_->setShortcut(QKeySequence("Ctrl+R"));
  acts->addWidget(read_);
  indicator_place_ =
      field(row, "indicator-place", tr("Indicator at"), tr("Where the axis meets the indicator, machine position"), 1);
  place_ = indicator_place_.field;
  take_place_ = make_button("take-indicator-place", tr("Take it from the machine"),
                            tr("Where the axis stands now (Ctrl+Shift+M)"), card);
  take_place_->setShortcut(QKeySequence("Ctrl+Shift+M"));
  row->addWidget(take_place_);
  hint_ = foot.hint("homing-hint");
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("homing-lead", "strong");
  figure_ = finding()->add_label("homing-figure", "big");
  spread_ = finding()->add_label("homing-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("homing-verdict", "strong");
  text_ = finding()->add_label("homing-text", "task");
  finding()->add_rule();
  finding()->add_label("homing-others-heading", "heading", tr("ALL AXES"));
  others_ = finding()->add_label("homing-others", "small");
  finding()->add_stretch();
  keep_ = finding()->add_button("keep", tr("Keep this finding"),
                                tr("Writes it into the book with its readings (Ctrl+Return)"), true);
  keep_->setShortcut(QKeySequence("Ctrl+Return"));

  connect(chips, &AxisChips::chosen, this, [this](Axis axis) {
    if (by_indicator() && repeat_->running()) session_.machine().end_procedure();
    axis_ = axis;
    place_->show_value(std::nullopt);
    refresh();
  });
  const auto change = [this](const QString& text, const std::function<void(HomingWorksheet&)>& how) {
    session_.editor().change_book(
        text, [&](Book& b) { how(b.worksheets[homing_worksheet]); }, MachineFollows::no);
  };
  connect(way_, &QComboBox::activated, this, [this, change](int i) {
    if (repeat_->running()) session_.machine().end_procedure();
    change(tr("Read homing another way"), [&](HomingWorksheet& w) {
      w.instrument = i == 0 ? std::string() : way_->itemText(i).toStdString();
      for (auto& r : w.readings_mm) r.clear();
    });
  });
  connect(trials_, &LengthField::committed, this, [this, change](double n) {
    if (n >= 5 && n <= 100)
      change(tr("Change the trials"), [n](HomingWorksheet& w) { w.trials = static_cast<int>(std::lround(n)); });
    else
      session_.notices().notify({NoticeLevel::attention, tr("Between 5 and 100 trials tell scatter from drift."), {}});
    refresh();
  });
  connect(tolerance_, &LengthField::committed, this, [this, change](double mm) {
    if (mm > 0)
      change(tr("Change what is asked"), [mm](HomingWorksheet& w) { w.tolerance_mm = mm; });
    else
      session_.notices().notify({NoticeLevel::attention, tr("That must be above zero; it was left as it was."), {}});
    refresh();
  });
  connect(take_place_, &QPushButton::clicked, this,
          [this] { place_->show_value(session_.machine().status().position[axis_]); });
  connect(begin_, &QPushButton::clicked, this, &HomingSheet::begin);
  connect(read_, &QPushButton::clicked, this, &HomingSheet::read_here);
  connect(chart_->field(), &LengthField::committed, this, &HomingSheet::take);
  connect(chart_->field(), &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
  connect(keep_, &QPushButton::clicked, this, &HomingSheet::keep);
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p == repeat_.get()) over();
  });
  offer_jog();
}

QString HomingSheet::len(double mm, int decimals) const {
  const LengthUnit unit = session_.editor().unit(axis_);
  return to_q(format_length(mm, unit, decimals) + " " + unit_name(unit));
}

/// What one reading can tell at best: the instrument's, or a step of the motor.
double HomingSheet::resolution() const {
  if (const Instrument* i = session_.editor().book().instrument(worksheet().instrument)) return i->resolution_mm;
  return by_indicator() ? 0.01 : 1 / session_.editor().book().machine.axis(axis_).steps_per_mm;
}

std::optional<HomingResult> HomingSheet::result(Axis axis) const {
  const auto found =
      evaluate_homing(worksheet().readings_mm[index(axis)], std::max(1e-6, worksheet().tolerance_mm), resolution());
  return found ? std::optional(*found) : std::nullopt;
}

/// What the book has of an axis; an entry that names none is about all.
std::optional<std::size_t> HomingSheet::kept(Axis axis) const {
  const Book& book = session_.editor().book();
  if (const auto own = newest(book, homing_id, std::string(1, letter(axis)))) return own;
  const auto any = newest(book, homing_id);
  return any && book.history[*any].subject.empty() ? any : std::nullopt;
}

void HomingSheet::begin() {
  if (repeat_->running()) return session_.machine().end_procedure();
  HomingRepeatWay way;
  way.trials = worksheet().trials;
  way.rate = rate_mm_min;
  if (by_indicator()) {
    const AxisSetup& axis = session_.editor().book().machine.axis(axis_);
    way.indicator_axis = axis_;
    way.indicator_at =
        place_->value().value_or(axis.home_coordinate + (axis.home_at_max ? -usual_place_mm : usual_place_mm));
    place_->show_value(way.indicator_at);
  }
  if (!session_.machine().start(repeat_, way)) return;
  session_.editor().change_book(
      tr("Begin the trials"),
      [&](Book& b) {
        for (auto& r : b.worksheets[homing_worksheet].readings_mm) r.clear();
      },
      MachineFollows::no);
}

void HomingSheet::take(double reading) {
  if (repeat_->waits_for() != WaitsFor::reading) return;
  session_.editor().change_book(
      tr("Read a trial"), [&](Book& b) { b.worksheets[homing_worksheet].readings_mm[index(axis_)].push_back(reading); },
      MachineFollows::no);
  chart_->field()->show_value(std::nullopt);
  repeat_->go_on();
  refresh();
}

void HomingSheet::read_here() {
  Bench* bench = session_.machine().bench();
  if (!bench || repeat_->waits_for() != WaitsFor::reading) return;
  if (worksheet().readings_mm[index(axis_)].empty()) bench->mark(axis_);  // set to zero there
  session_.machine().look(
      this, [axis = axis_, with = worksheet().instrument](Bench& b) { return b.read_distance(axis, with); },
      [this, axis = axis_](double read) {
        if (axis == axis_) take(read);
      });
}

void HomingSheet::keep() {
  session_.editor().change_book(
      tr("Keep homing's repeat"),
      [&](Book& b) {
        for (const Axis a : all_axes) {
          const auto found = result(a);
          if (!found) continue;
          Entry e;
          e.time = session_.editor().now().toStdString();
          e.sheet = homing_id;
          e.subject = std::string(1, letter(a));
          e.instrument = worksheet().instrument.empty() ? "switch" : worksheet().instrument;
          for (const double r : worksheet().readings_mm[index(a)]) e.readings.push_back(r);
          e.result = result_of(HomingEntry{.s = found->s,
                                           .range = found->range,
                                           .drift = found->drift,
                                           .U_drift = found->U_drift,
                                           .tolerance = worksheet().tolerance_mm,
                                           .trials = static_cast<int>(worksheet().readings_mm[index(a)].size()),
                                           .verdict = name(found->verdict),
                                           .failed = found->verdict != HomingVerdict::repeatable});
          b.history.push_back(std::move(e));
        }
        for (auto& r : b.worksheets[homing_worksheet].readings_mm) r.clear();
      },
      MachineFollows::no);
}

double HomingSheet::scatter_in(std::size_t entry) const {
  return finding_of<HomingEntry>(session_.editor().book().history[entry]).s.value_or(0);
}

void HomingSheet::show_finding() {
  const auto found = result(axis_);
  const QChar axis_name(letter(axis_));
  const auto last = kept(axis_);
  if (!found) {
    const bool some = !worksheet().readings_mm[index(axis_)].empty();
    lead_->setText(
        some   ? tr("%1: %2 of at least 5 trials").arg(axis_name).arg(worksheet().readings_mm[index(axis_)].size())
        : last ? tr("%1 in the book").arg(axis_name)
               : tr("%1 was never tried").arg(axis_name));
    figure_->setText(last && !some ? tr("s %1").arg(len(scatter_in(*last), 3)) : QString());
    spread_->setText(last && !some ? entry_date(session_.editor().book().history[*last]) : QString());
    verdict_->clear();
    text_->setText(tr(
        "You need nothing but ten minutes: the controller knows where it met each switch. A dial indicator on a foot "
        "sees more, one axis at a time: what the carriage does after it left the switch."));
  } else {
    lead_->setText(tr("%1 comes back to within").arg(axis_name));
    figure_->setText(tr("s %1").arg(len(found->s, 3)));
    spread_->setText(
        tr("range %1, %2 trials").arg(len(found->range, 3)).arg(worksheet().readings_mm[index(axis_)].size()));
    const bool drifts = found->verdict == HomingVerdict::drifting;
    verdict_->setText(tr("%1: 2s is %2, asked %3.")
                          .arg(verdict_word(found->verdict), len(2 * found->s, 3), len(worksheet().tolerance_mm, 3)));
    const QString drift =
        tr("Drift %1 ±%2 a trial.")
            .arg(to_q(format_signed(in_unit(found->drift, session_.editor().unit(axis_)), 4)), len(found->U_drift, 4));
    text_->setText(
        drift + " " +
        (drifts ? tr("Let the machine run warm and try again; then look for a bracket or a coupling that works "
                     "loose.")
         : found->verdict == HomingVerdict::scattered
             ? tr("Try, in this order: a slower second touch, a clean switch, a stiffer bracket, a warm machine.")
             : tr("Work zero outlives a new homing to about %1.").arg(len(2 * found->s, 3))));
  }
  QStringList all;
  for (const Axis a : all_axes) {
    const auto each = result(a);
    const auto in_book = kept(a);
    all << (each      ? tr("%1: s %2, %3").arg(QChar(letter(a))).arg(len(each->s, 3), verdict_word(each->verdict))
            : in_book ? tr("%1: s %2, %3")
                            .arg(QChar(letter(a)))
                            .arg(len(scatter_in(*in_book), 3), entry_date(session_.editor().book().history[*in_book]))
                      : tr("%1: ○ never tried").arg(QChar(letter(a))));
  }
  others_->setText(all.join("\n"));
  const bool any = std::any_of(all_axes.begin(), all_axes.end(), [&](Axis a) { return result(a).has_value(); });
  keep_->setEnabled(any && !repeat_->running() && !session_.editor().read_only());
}

void HomingSheet::refresh() {
  QStringList ways{tr("By the switches, all axes")};
  for (const auto& i : session_.editor().book().instruments) ways << to_q(i.name);
  if (way_->count() != ways.size()) {
    way_->clear();
    way_->addItems(ways);
  }
  way_->setCurrentIndex(by_indicator() ? std::max(0, way_->findText(to_q(worksheet().instrument))) : 0);
  trials_->show_value(worksheet().trials);
  tolerance_->set_unit(session_.editor().unit());
  tolerance_->show_value(worksheet().tolerance_mm);
  place_->set_unit(session_.editor().unit(axis_));
  indicator_place_.set_visible(by_indicator());
  take_place_->setVisible(by_indicator());
  show_finding();
  refresh_status();
}

/// By the switches, what was found stands, however the trials ended.
void HomingSheet::over() {
  if (!by_indicator())
    session_.editor().change_book(
        tr("Home again and again"),
        [&](Book& b) {
          for (const Axis a : all_axes) {
            auto& r = b.worksheets[homing_worksheet].readings_mm[index(a)];
            r.clear();
            for (const auto& p : repeat_->met()) r.push_back(p[a]);
          }
        },
        MachineFollows::no);
  refresh();
}

void HomingSheet::refresh_status() {
  std::vector<double> places = worksheet().readings_mm[index(axis_)];
  if (!by_indicator() && repeat_->running()) {
    places.clear();
    for (const auto& p : repeat_->met()) places.push_back(p[axis_]);
  }
  const bool asks = repeat_->waits_for() == WaitsFor::reading;
  chart_->show(places, repeat_->running() ? std::nullopt : result(axis_), worksheet().tolerance_mm, worksheet().trials,
               asks, session_.editor().unit(axis_));
  if (const auto before = std::exchange(waited_, repeat_->waits_for()); asks && before != waited_)
    chart_->field()->setFocus();
  set_text(hint_, repeat_->waits_for() == WaitsFor::machine
                      ? tr("Trial %1 of %2; keep clear. Hold ends it.").arg(repeat_->trial()).arg(worksheet().trials)
                  : asks ? tr("Trial %1 of %2: read the indicator and type it under its dot.")
                               .arg(repeat_->trial())
                               .arg(worksheet().trials)
                  : !session_.machine().status().all_homed() ? tr("Home the machine first (Ctrl+H).")
                  : by_indicator()
                      ? tr("Set the indicator where %1 comes to it from the switch's side, with room for 5 mm before.")
                            .arg(QChar(letter(axis_)))
                      : tr("Z homes first each time. Ten trials take a few minutes."));
  set_text(begin_, repeat_->running() ? tr("End the trials") : tr("Home again and again"));
  begin_->setEnabled(repeat_->running() ||
                     (session_.machine().standing_ready() && session_.machine().status().all_homed()));
  read_->setVisible(session_.machine().bench() != nullptr && by_indicator());
  read_->setEnabled(asks);
  take_place_->setEnabled(session_.machine().status().all_homed() && !repeat_->running());
}

}  // namespace ypsi::app
