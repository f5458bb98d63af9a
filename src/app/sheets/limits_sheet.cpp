#include "app/sheets/limits_sheet.h"

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
#include "core/book/worksheets/limits.h"
#include "core/tasks/build.h"
#include "core/tasks/limits.h"

namespace ypsi::app {
namespace {

constexpr double further_mm = 15;  // beyond the travel that the book has, by eye
constexpr double usual_home_mm = 4, usual_far_mm = 3;
constexpr double unknown_overtravel = 1e6;

}  // namespace

LimitsSheet::LimitsSheet(Session& session)
    : Sheet(session, limits_task(), tr("Find where each axis ends, then set limits that leave it room to stop.")) {
  chips_ = new AxisChips(this);
  title_row()->addWidget(chips_);
  auto* card = make_card();
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(10, 10, 10, 10);
  column->setSpacing(6);
  drawing_ = new TravelDrawing(card);
  column->addWidget(drawing_, 1);
  make_ways(column);
  body()->addWidget(card, 1);

  finding()->add_label("finding-heading", "heading", tr("FINDING"));
  lead_ = finding()->add_label("limits-lead", "strong");
  figure_ = finding()->add_label("limits-figure", "big");
  spread_ = finding()->add_label("limits-spread", "small");
  finding()->box()->addSpacing(4);
  verdict_ = finding()->add_label("limits-verdict", "strong");
  text_ = finding()->add_label("limits-text", "task");
  finding()->add_rule();
  finding()->add_label("limits-also-heading", "heading", tr("IN THE CONTROLLER NOW"));
  also_ = finding()->add_label("limits-also", "small");
  finding()->add_stretch();
  set_ = finding()->add_button(
      "set-limits", tr("Set these limits"),
      tr("Into book and controller, then asks for a move beyond each, which must be refused (Ctrl+Return)"), true);
  set_->setShortcut(QKeySequence("Ctrl+Return"));
  slow_ = finding()->add_button("slow-approach", "", tr("Sets the rate at which homing seeks the switch"));

  connect(chips_, &AxisChips::chosen, this, [this](Axis axis) {
    axis_ = axis;
    refresh();
  });
  connect(drawing_, &TravelDrawing::axis_chosen, this, [this](Axis axis) { chips_->choose(axis); });
  connect(drawing_, &TravelDrawing::limit_dragged, this, [this](Axis axis, bool upper, double at) {
    const AxisTravel t = travel_of(axis);
    const bool home_side = upper == t.home_at_max;
    change(axis, tr("Drag a limit"), [&](LimitsWorksheet& w) {
      (home_side ? w.clearance_home_mm : w.clearance_far_mm) = std::fabs(at - (home_side ? t.home : t.far));
    });
  });
  const auto field = [this](LengthField* f, std::optional<double> LimitsWorksheet::*what, const QString& text) {
    connect(f, &LengthField::refused, this, [this](const QString& why) {
      session_.notices().notify({NoticeLevel::attention, why, {}});
    });
    connect(f, &LengthField::committed, this, [this, what, text](double mm) {
      if (mm >= 0)
        change(axis_, text, [&](LimitsWorksheet& w) { w.*what = mm; });
      else
        session_.notices().notify(
            {NoticeLevel::attention, tr("That is a distance from an end: zero or more. It was left."), {}});
      refresh();
    });
  };
  field(drawing_->overtravel(), &LimitsWorksheet::overtravel_mm, tr("Type the room behind the switch"));
  field(drawing_->clearance_home(), &LimitsWorksheet::clearance_home_mm, tr("Type a clearance"));
  field(drawing_->clearance_far(), &LimitsWorksheet::clearance_far_mm, tr("Type a clearance"));
  connect(drawing_->travel(), &LengthField::refused, this, [this](const QString& why) {
    session_.notices().notify({NoticeLevel::attention, why, {}});
  });
  connect(drawing_->travel(), &LengthField::committed, this, [this](double mm) {
    const AxisTravel t = travel_of(axis_);
    if (mm > 0)
      take_far_end(t.home_at_max ? t.home - mm : t.home + mm);
    else
      session_.notices().notify(
          {NoticeLevel::attention, tr("The travel must be above zero; it was left as it was."), {}});
    refresh();
  });
  connect(search_button_, &QPushButton::clicked, this, &LimitsSheet::search);
  connect(further_, &QPushButton::clicked, this, &LimitsSheet::let_further);
  connect(back_, &QPushButton::clicked, this, [this] { creep(-1); });
  connect(out_, &QPushButton::clicked, this, [this] { creep(1); });
  connect(take_, &QPushButton::clicked, this, [this] { take_far_end(session_.machine().status().position[axis_]); });
  connect(set_, &QPushButton::clicked, this, [this] { set_limits(false); });
  connect(slow_, &QPushButton::clicked, this, &LimitsSheet::slow_the_approach);
  connect(&session_.machine(), &MachineSession::procedure_ended, this, [this](const Procedure* p) {
    if (p == search_.get() && search_->phase() == Procedure::Phase::done) take_far_end(search_->far_end());
    if (p == proof_.get())
      if (const auto proved = std::exchange(proving_, std::nullopt);
          proved && proof_->phase() == Procedure::Phase::done)
        keep_limits(*proved);
    refresh_status();
  });
  offer_jog();
}

void LimitsSheet::make_ways(QVBoxLayout* column) {
  PageFoot foot(column, this);
  auto* acts = foot.acts();
  search_button_ = make_button("search-far", tr("Seek the far switch"),
                               tr("Asks you to press it once, then creeps towards it (Ctrl+M)"), this);
  search_button_->setShortcut(QKeySequence("Ctrl+M"));
  further_ = make_button("let-further", tr("Let it go to its end"),
                         tr("Lifts the far soft limit while you bring the axis to its end by eye (Ctrl+E)"), this);
  further_->setShortcut(QKeySequence("Ctrl+E"));
  take_ = make_button("take-far-end", tr("Take it from the machine"),
                      tr("Where the axis stands now is its far end (Ctrl+Shift+M)"), this);
  take_->setShortcut(QKeySequence("Ctrl+Shift+M"));
  back_ = make_button("creep-back", tr("One step back"), tr("Slowly, by the rail's step, towards the switch (Ctrl+,)"),
                      this);
  back_->setShortcut(QKeySequence("Ctrl+,"));
  out_ = make_button("creep-out", tr("One step out"), tr("Slowly, by the rail's step, towards the far end (Ctrl+.)"),
                     this);
  out_->setShortcut(QKeySequence("Ctrl+."));
  for (QWidget* w : {search_button_, further_, back_, out_, take_}) acts->addWidget(w);
  hint_ = foot.hint("limits-hint");
}

QString LimitsSheet::in(double mm, int decimals) const {
  const LengthUnit unit = session_.editor().unit(axis_);
  return to_q(format_length(mm, unit, decimals) + " " + unit_name(unit));
}

void LimitsSheet::change(Axis axis, const QString& text, const std::function<void(LimitsWorksheet&)>& change) {
  session_.editor().change_book(
      text, [&](Book& b) { change(b.worksheets[limits_worksheets][index(axis)]); }, MachineFollows::no);
}

AxisTravel LimitsSheet::travel_of(Axis axis) const {
  const AxisSetup& setup = session_.editor().book().machine.axis(axis);
  const LimitsWorksheet& w = session_.editor().book().worksheets[limits_worksheets][index(axis)];
  AxisTravel t;
  t.home = setup.home_coordinate;
  t.home_at_max = setup.home_at_max;
  const double sign = t.home_at_max ? -1 : 1;
  t.far = w.far_end_mm.value_or(t.home + sign * setup.travel);
  t.far_measured =
      w.far_end_mm.has_value() || newest(session_.editor().book(), limits_id, std::string(1, letter(axis)));
  t.overtravel = w.overtravel_mm;
  // What the book has already, or a proposal: within the pull-off, and the way to stand in front of the stop.
  const auto& home_limit = t.home_at_max ? setup.soft_max : setup.soft_min;
  const auto& far_limit = t.home_at_max ? setup.soft_min : setup.soft_max;
  const Homing& h = homing_[index(axis)];
  t.clearance_home = w.clearance_home_mm.value_or(home_limit ? std::fabs(*home_limit - t.home)
                                                  : h.known  ? std::min(usual_home_mm, h.pull_off)
                                                             : usual_home_mm);
  t.clearance_far = w.clearance_far_mm.value_or(far_limit ? std::max(0.0, sign * (t.far - *far_limit)) : usual_far_mm);
  const LimitsInput i = input(axis);
  t.stop_way = stopping_distance(i.unguarded_rate, i.acceleration, i.latency);
  t.low = std::min(t.home + sign * t.clearance_home, t.far - sign * t.clearance_far);
  t.high = std::max(t.home + sign * t.clearance_home, t.far - sign * t.clearance_far);
  return t;
}

LimitsSheet::Homing LimitsSheet::homing(Axis axis) const {
  Homing h;
  if (!session_.machine().link() || !session_.machine().connection()->up()) return h;
  const auto seek = session_.machine().link()->setting(axis_setting(axis, "home_seek_mm_min")),
             pull_off = session_.machine().link()->setting(axis_setting(axis, "pull_off_mm"));
  if (seek && pull_off) h = {*seek, *pull_off, true};
  return h;
}

LimitsInput LimitsSheet::input(Axis axis) const {
  const AxisSetup& setup = session_.editor().book().machine.axis(axis);
  const Homing& h = homing_[index(axis)];
  LimitsInput in;
  in.home_at_max = setup.home_at_max;
  in.home_coordinate = setup.home_coordinate;
  in.seek_rate = h.known ? std::min(h.seek, setup.max_rate) : setup.max_rate;
  in.max_rate = setup.max_rate;
  in.unguarded_rate = in.seek_rate;
  in.acceleration = setup.acceleration;
  in.latency = reaction_s;
  if (h.known) in.pull_off = h.pull_off;
  in.overtravel_home =
      session_.editor().book().worksheets[limits_worksheets][index(axis)].overtravel_mm.value_or(unknown_overtravel);
  return in;
}

void LimitsSheet::take_far_end(double at) {
  const AxisTravel t = travel_of(axis_);
  if ((t.home_at_max ? t.home - at : at - t.home) <= 0) {
    session_.notices().notify(
        {NoticeLevel::attention,
         tr("%1 is not beyond the switch at %2: the far end is the other one.").arg(in(at), in(t.home)),
         {}});
    return;
  }
  put_back();
  change(axis_, tr("Take the far end"), [&](LimitsWorksheet& w) { w.far_end_mm = at; });
}

void LimitsSheet::search() {
  put_back();
  if (session_.machine().start(search_, axis_, session_.editor().book().machine.axis(axis_).travel)) refresh_status();
}

void LimitsSheet::let_further() {
  if (lifted_->running()) return put_back();
  const double travel = session_.editor().book().machine.axis(axis_).travel + further_mm;
  if (!session_.machine().start(lifted_, axis_, travel)) return;
  session_.notices().notify(
      {NoticeLevel::attention,
       tr("%1's far limit is lifted to %2 until you take the end. Nothing stops it at the end but you: "
          "step out slowly, with small steps near the end.")
           .arg(QChar(letter(axis_)))
           .arg(in(lifted_->farthest())),
       {{tr("Put the limit back"), [this] { put_back(); }}}});
  refresh_status();
}

void LimitsSheet::creep(double outwards) {
  if (!session_.machine().must_be_there()) return;
  const double sign = session_.editor().book().machine.axis(axis_).home_at_max ? -outwards : outwards;
  session_.machine().ask(session_.machine().link()->jog(axis_, sign * session_.machine().jog_step(), creep_mm_min));
}

void LimitsSheet::put_back() {
  if (lifted_->running()) session_.machine().end_procedure();
}

void LimitsSheet::set_limits(bool even_so) {
  if (!session_.machine().may_set()) return;
  put_back();
  LimitsInput i = input(axis_);
  const AxisTravel t = travel_of(axis_);
  i.travel = std::fabs(t.far - t.home);
  i.clearance_home = t.clearance_home;
  i.clearance_far = t.clearance_far;
  const LimitsResult found = evaluate_limits(i);
  const auto has = [&](LimitsProblem p) {
    return std::find(found.problems.begin(), found.problems.end(), p) != found.problems.end();
  };
  if (has(LimitsProblem::no_usable_travel)) {
    session_.notices().notify({NoticeLevel::danger, problem_words(LimitsProblem::no_usable_travel, i, found), {}});
    return;
  }
  if (!found.problems.empty() && !even_so) {
    QStringList words;
    for (const auto p : found.problems) words << problem_words(p, i, found);
    session_.notices().notify(
        {NoticeLevel::attention,
         words.join(" "),
         {{tr("Set them all the same"), [this] { set_limits(true); }}},
         [this, of = axis_, typed = session_.editor().book().worksheets[limits_worksheets][index(axis_)],
          here = session_.machine().which_machine()] {
           return axis_ == of && session_.machine().which_machine() == here &&
                  session_.editor().book().worksheets[limits_worksheets][index(of)] == typed;
         }});
    return;
  }
  const std::string low = axis_setting(axis_, "soft_min_mm"), high = axis_setting(axis_, "soft_max_mm");
  const MachineLink& link = *session_.machine().link();
  const auto low_found = link.setting(low), high_found = link.setting(high);
  if (!low_found || !high_found) {
    session_.machine().ask(tl::make_unexpected(low_found ? high_found.error() : low_found.error()));
    return;
  }
  if (!session_.machine().start(proof_, axis_, found.soft_min, found.soft_max)) return;
  proving_ = Proving{axis_, i, t, found, *low_found, *high_found};
  refresh_status();
}

void LimitsSheet::keep_limits(const Proving& proved) {
  const Axis axis = proved.axis;
  const LimitsInput& i = proved.input;
  const AxisTravel& t = proved.travel;
  const LimitsResult& found = proved.found;
  const std::string low = axis_setting(axis, "soft_min_mm"), high = axis_setting(axis, "soft_max_mm");
  MachineLink& link = *session_.machine().link();
  const auto put = [&](double a, double b) {
    return session_.machine().ask(link.set_setting(low, a)) && session_.machine().ask(link.set_setting(high, b));
  };
  if (!put(found.soft_min, found.soft_max)) {
    put(proved.low_found, proved.high_found);
    return;
  }
  // The book knows what was found, so that undoing sets the controller back.
  session_.editor().note_in_book([&](Book& b) {
    b.machine.axis(axis).soft_min = proved.low_found;
    b.machine.axis(axis).soft_max = proved.high_found;
  });
  session_.editor().change_book(tr("Set limits of %1").arg(QChar(letter(axis))), [&](Book& b) {
    AxisSetup& setup = b.machine.axis(axis);
    Entry e;
    e.time = session_.editor().now().toStdString();
    e.sheet = limits_id;
    e.subject = std::string(1, letter(axis));
    e.readings = {{{"far_end_mm", t.far}}};
    if (t.overtravel) e.readings = {{{"far_end_mm", t.far}, {"overtravel_mm", *t.overtravel}}};
    LimitsEntry result{.travel = i.travel, .soft_min = found.soft_min, .soft_max = found.soft_max, .proved = true};
    for (const auto p : found.problems) result.problems.emplace_back(name(p));
    e.result = result_of(result);
    e.as_found = {{low, proved.low_found}, {high, proved.high_found}};
    e.as_left = {{low, found.soft_min}, {high, found.soft_max}};
    setup.travel = i.travel;
    setup.soft_min = found.soft_min;
    setup.soft_max = found.soft_max;
    b.history.push_back(std::move(e));
    auto& w = b.worksheets[limits_worksheets][index(axis)];
    w = LimitsWorksheet{std::nullopt, w.overtravel_mm, std::nullopt, std::nullopt};
  });
  session_.machine().keep_settings();
  session_.notices().notify({NoticeLevel::good,
                             tr("%1 refuses to go beyond %2 and %3: both limits are proved.")
                                 .arg(QChar(letter(axis)))
                                 .arg(in(found.soft_min), in(found.soft_max)),
                             {}});
}

void LimitsSheet::slow_the_approach() {
  if (!session_.machine().may_set()) return;
  LimitsInput i = input(axis_);
  i.travel = 1;
  const double safe = std::floor(evaluate_limits(i).max_safe_seek / 10) * 10;
  const std::string setting = axis_setting(axis_, "home_seek_mm_min");
  const auto found = session_.machine().link()->setting(setting);
  if (!found || !session_.machine().ask(session_.machine().link()->set_setting(setting, safe))) return;
  session_.editor().change_book(
      tr("Slow the approach"),
      [&](Book& b) {
        Entry e;
        e.time = session_.editor().now().toStdString();
        e.sheet = build_id;
        e.subject = std::string(1, letter(axis_));
        e.as_found = {{setting, *found}};
        e.as_left = {{setting, safe}};
        e.result = result_of(
            SaidEntry{tr("approach to %1's switch: %2 mm/min").arg(QChar(letter(axis_))).arg(safe).toStdString()});
        b.history.push_back(std::move(e));
      },
      MachineFollows::no);
  session_.machine().keep_settings();
  refresh();
}

QString LimitsSheet::problem_words(LimitsProblem problem, const LimitsInput& i, const LimitsResult& found) const {
  const auto rate = [](double mm_min) { return tr("%1 mm/min").arg(mm_min, 0, 'f', 0); };
  switch (problem) {
    case LimitsProblem::no_usable_travel:
      return tr("The clearances leave nothing of the travel: make one of them smaller.");
    case LimitsProblem::seek_too_fast:
      return tr("Homing seeks at %1 and needs %2 to stand, but behind the switch are %3: at most %4 is safe.")
          .arg(rate(i.seek_rate), in(found.stop_distance_seek, 2), in(i.overtravel_home, 2), rate(found.max_safe_seek));
    case LimitsProblem::far_clearance_shorter_than_stop:
      return tr("The far limit is %1 from the end, and the way to stand from %2 is %3: set it further in.")
          .arg(in(i.clearance_far, 2), rate(i.unguarded_rate),
               in(stopping_distance(i.unguarded_rate, i.acceleration, i.latency), 2));
    case LimitsProblem::pull_off_shorter_than_release:
      return tr("Homing ends before the switch lets go: raise the pull-off.");
    case LimitsProblem::limit_beyond_pull_off:
      return tr("Homing ends %1 from the switch, and the limit would be %2 from it: the machine would stand outside "
                "its "
                "limits. Set the limit nearer to the switch.")
          .arg(in(i.pull_off.value_or(0), 2), in(i.clearance_home, 2));
  }
  return {};
}

void LimitsSheet::show_finding() {
  const AxisTravel t = travel_of(axis_);
  const QChar name(letter(axis_));
  LimitsInput i = input(axis_);
  i.travel = std::fabs(t.far - t.home);
  i.clearance_home = t.clearance_home;
  i.clearance_far = t.clearance_far;
  const LimitsResult found = evaluate_limits(i);
  lead_->setText(tr("%1 can use").arg(name));
  figure_->setText(in(std::max(0.0, found.usable)));
  spread_->setText(tr("limits %1 to %2").arg(in(found.soft_min), in(found.soft_max)));
  QStringList words;
  for (const auto p : found.problems) words << tr("◐ %1").arg(problem_words(p, i, found));
  verdict_->setText(words.isEmpty() ? t.far_measured ? tr("● Room enough to stop at both ends.")
                                                     : tr("◐ The far end is what the book says, not measured.")
                                    : words.join("\n"));
  QStringList text;
  text << tr("From %1 mm/min it stands after %2, with %3 ms to react; from its fastest, %4 mm/min, after %5.")
              .arg(i.seek_rate, 0, 'f', 0)
              .arg(in(found.stop_distance_seek, 2))
              .arg(i.latency * 1000, 0, 'f', 0)
              .arg(i.max_rate, 0, 'f', 0)
              .arg(in(found.stop_distance_max, 2));
  if (t.overtravel)
    text << tr("Largest safe rate to seek the switch: %1 mm/min.").arg(found.max_safe_seek, 0, 'f', 0);
  else
    text << tr("Type how far %1 can go on behind its switch, and it says how fast homing may be.").arg(name);
  text_->setText(text.join("\n"));
  const bool too_fast =
      std::find(found.problems.begin(), found.problems.end(), LimitsProblem::seek_too_fast) != found.problems.end();
  slow_->setVisible(too_fast && homing_[index(axis_)].known);
  set_text(slow_, tr("Seek at %1 mm/min").arg(std::floor(found.max_safe_seek / 10) * 10, 0, 'f', 0));
  const MachineSession::Room room = session_.machine().room(axis_);
  const auto last = newest(session_.editor().book(), limits_id, std::string(1, letter(axis_)));
  also_->setText(tr("%1 %2 to %3").arg(name).arg(in(room.low), in(room.high)) +
                 (last ? "\n" + tr("last proved %1").arg(entry_date(session_.editor().book().history[*last]))
                       : "\n" + tr("never proved")));
}

void LimitsSheet::refresh() {
  for (const Axis a : all_axes) homing_[index(a)] = homing(a);
  for (const Axis a : all_axes) travels_[index(a)] = travel_of(a);
  show_finding();
  refresh_status();
}

void LimitsSheet::refresh_status() {
  using Stage = FarSwitchSearch::Stage;
  const Stage stage = search_->stage();
  for (const Axis a : all_axes)
    travels_[index(a)].now = session_.machine().status().homed[index(a)]
                                 ? std::optional(session_.machine().status().position[a])
                                 : std::nullopt;
  drawing_->show(travels_, axis_, session_.editor().unit(axis_));
  const QChar name(letter(axis_));
  const bool homed = session_.machine().status().all_homed();
  set_text(hint_,
           stage == Stage::press
               ? tr("Press %1's far switch with a finger: nothing moves before it was seen.").arg(name)
           : stage == Stage::let_go   ? tr("Seen. Let it go and stand clear: then %1 creeps towards it.").arg(name)
           : stage == Stage::creeping ? tr("%1 creeps towards its far switch. Hold ends it.").arg(name)
           : stage == Stage::backing_off || stage == Stage::homing ? tr("Found. It backs off and homes again.")
           : !homed ? tr("Home the machine first (Ctrl+H): the travel is counted from the switch.")
           : lifted_->running()
               ? tr("The far limit is lifted: bring %1 to its end, slowly, then take it.").arg(name)
               : tr("With a switch at the far end, seek it. Without, let the axis go to its end by eye, and take it."));
  const bool ready = session_.machine().standing_ready() && homed && !search_->running();
  search_button_->setEnabled(ready);
  further_->setEnabled(ready || lifted_->running());
  set_text(further_, lifted_->running() ? tr("Put the limit back") : tr("Let it go to its end"));
  for (auto* b : {take_, back_, out_}) b->setEnabled(ready);
  set_->setEnabled(ready && !session_.editor().read_only());
  slow_->setEnabled(session_.machine().standing_ready());
}

}  // namespace ypsi::app
