// What the owner asks the machine for.
#include "app/session/session.h"
#include "core/book/changes.h"
#include "core/book/tool_change.h"
#include "core/calibration/limits.h"
#include "core/procedures/go_to_zero.h"

namespace ypsi::app {

LengthUnit Session::unit(Axis axis) const {
  return is_rotary(book_.machine.axis(axis).drive.transmission) ? LengthUnit::degree : unit();
}

QString Session::length(double mm, int decimals) const {
  return to_q(format_length(mm, unit(), decimals) + " " + unit_name(unit()));
}

Session::Room Session::room(Axis axis) const {
  auto& known = rooms_[index(axis)];
  if (!known) known = read_room(axis);
  return *known;
}

Session::Room Session::read_room(Axis a) const {
  if (connection_ && connection_->up()) {
    const auto low = connection_->link().setting(axis_setting(a, "soft_min_mm")),
               high = connection_->link().setting(axis_setting(a, "soft_max_mm"));
    if (low && high && *low < *high) return {*low, *high};
  }
  const AxisSetup& axis = book_.machine.axis(a);
  if (axis.soft_min && axis.soft_max) return {*axis.soft_min, *axis.soft_max};
  const double home = axis.home_coordinate;
  return axis.home_at_max ? Room{home - axis.travel, home} : Room{home, home + axis.travel};
}

bool Session::ask(const Result<void>& result) {
  if (connection_) {
    status_ = connection_->link().status();
    emit status_changed();
  }
  if (result) return true;
  notify({NoticeLevel::attention, to_q(result.error().message), {}});
  return false;
}

void Session::home(bool even_so) {
  if (!link()) return;
  const auto inputs = standing_of(book_, "inputs").standing, directions = standing_of(book_, "directions").standing;
  QString why, sheet;
  if (inputs == Standing::failed) {
    sheet = "inputs";
    why = tr(
        "An input did not answer as it should (sheet Inputs). Homing drives towards a switch that may never stop it.");
  } else if (directions == Standing::failed) {
    sheet = "directions";
    why = tr("An axis moves something else than it should (sheet Directions); homing would drive it into its stop.");
  } else if (inputs == Standing::never_done || directions == Standing::never_done) {
    sheet = inputs == Standing::never_done ? "inputs" : "directions";
    why =
        tr("Nobody has looked at Inputs and Directions of this machine yet. Homing the wrong way drives an axis into "
           "its stop.");
  }
  if (why.isEmpty()) {
    sheet = "limits";
    why = approach_too_fast();
  }
  if (why.isEmpty() || even_so) {
    ask(link()->home());
    return;
  }
  notify({NoticeLevel::attention,
          why,
          {{sheet == "inputs"   ? tr("Go to Inputs")
            : sheet == "limits" ? tr("Go to Travel and limits")
                                : tr("Go to Directions"),
            [this, sheet] { emit sheet_wanted(sheet); }},
           {tr("Home even so"), [this] { home(true); }}}});
}

/// Why homing would meet a stop: an axis that cannot stand within the room that its owner has said is behind its
/// switch.
QString Session::approach_too_fast() {
  for (const Axis a : all_axes) {
    const auto& overtravel = book_.limits_worksheets[index(a)].overtravel_mm;
    const auto seek = link()->setting(axis_setting(a, "home_seek_mm_min"));
    if (!overtravel || !seek) continue;
    const AxisSetup& axis = book_.machine.axis(a);
    const double way = stopping_distance(std::min(*seek, axis.max_rate), axis.acceleration, reaction_s);
    if (way > *overtravel)
      return tr("%1 seeks its switch at %2 mm/min and needs %3 to stand, but only %4 are behind it: it would hit its "
                "stop.")
          .arg(QChar(letter(a)))
          .arg(*seek, 0, 'f', 0)
          .arg(to_q(format_length(way, unit(a), 2) + " " + unit_name(unit(a))),
               to_q(format_length(*overtravel, unit(a), 2) + " " + unit_name(unit(a))));
  }
  return {};
}

void Session::hold() {
  if (link()) link()->hold();
}

void Session::go_on() {
  if (!link()) return;
  if (status_.state == MachineState::tool_change) {
    // At a simulated machine the hand that puts the tool in is this one; without the tool there is no going on.
    if (bench() && !ask(bench()->put_tool(status_.wanted_tool))) return;
    link()->tool_changed(status_.wanted_tool);
  } else {
    link()->go_on();
  }
}

void Session::jog(Axis axis, double distance) {
  if (!link()) return;
  const auto moved = link()->jog(axis, distance, book_.machine.axis(axis).max_rate);
  if (moved || moved.error().code != "busy") ask(moved);
}

void Session::end_jog() {
  if (link()) link()->end_jog();
}

void Session::set_jog_step(double mm) {
  jog_step_ = mm;
  emit jog_step_changed();
}

void Session::set_work_zero(const std::vector<Axis>& axes, double z_offset) {
  if (!link()) return;
  const MachineStatus now_at = link()->status();
  if (!now_at.all_homed()) {
    notify({NoticeLevel::attention,
            tr("Home the machine first: before homing its positions mean nothing, and a zero set now would be lost."),
            {}});
    return;
  }
  std::vector<std::pair<Axis, double>> places;
  places.reserve(axes.size());
  for (const Axis a : axes) places.emplace_back(a, now_at.position[a] - (a == Axis::z ? z_offset : 0));
  set_work_zero_at(places, RecordJson::from_text("[]"), "");
}

bool Session::set_work_zero_at(const std::vector<std::pair<Axis, double>>& places, const RecordJson& readings,
                               const std::string& instrument, std::optional<bool> on_bed) {
  if (!link()) return false;
  const int frame = book_.job.frame, tool = status_.tool;
  for (const auto& [a, place] : places)
    if (!ask(link()->set_setting(work_zero_setting(frame, a), place))) {
      send_work_zero();  // all of it or nothing
      return false;
    }
  const std::string of = frame == 0 ? std::string("work_zero.") : "work_zero." + frame_name(frame) + ".";
  change_book(tr("Set zero"), [&](Book& b) {
    Entry entry;
    entry.time = now().toStdString();
    entry.sheet = "work_zero";
    entry.instrument = instrument;
    entry.readings = readings;
    for (const auto& [a, place] : places) {
      entry.subject += letter(a);
      auto& zero = b.job.zero(a);
      const std::string key = of + axis_key(a);
      if (zero) entry.as_found[key] = *zero;
      zero = place;
      entry.as_left[key] = place;
    }
    entry.result = entry.as_left;
    if (b.job.zero(Axis::z) && entry.subject.find('Z') != std::string::npos) {
      b.job.used().z_tool = tool;
      if (on_bed) b.job.used().on_bed = *on_bed;
      entry.result["on_bed"] = b.job.used().on_bed;
      entry.result["tool"] = tool;
    }
    b.history.push_back(std::move(entry));
  });
  return true;
}

bool Session::set_zero_by_length() {
  const int tool = status_.tool;
  return zero_after_change(book_, tool) == ZeroAfterChange::by_length &&
         set_work_zero_at({{Axis::z, zero_by_length(book_, tool)}}, RecordJson::from_text("[]"), "tool lengths");
}

void Session::use_frame(int frame) {
  if (frame == book_.job.frame || frame < 0 || frame >= static_cast<int>(work_frame_count)) return;
  if (!standing_ready() && status_.state != MachineState::not_homed && status_.state != MachineState::offline) {
    notify({NoticeLevel::attention, tr("The machine is not standing; choose the frame when it does."), {}});
    return;
  }
  change_book(tr("Use %1").arg(to_q(frame_name(frame))), [&](Book& b) { b.job.frame = frame; });
  send_work_zero();
}

bool Session::apply_steps(Axis axis, double steps, Entry entry, const QString& text,
                          const std::function<void(Book&)>& also) {
  if (!link()) return false;
  const std::string setting = axis_setting(axis, "steps_per_mm");
  const auto found = link()->setting(setting);
  if (!found || !ask(link()->set_setting(setting, steps))) return false;
  entry.time = now().toStdString();
  entry.sheet = "steps_per_unit";
  entry.subject = std::string(1, letter(axis));
  entry.as_found = {{setting, *found}};
  entry.as_left = {{setting, steps}};
  const Book before = without_history(book_);
  change_book(text, [&](Book& b) {
    b.machine.axis(axis).steps_per_mm = *found;
    change_steps_per_mm(b, axis, steps);
    b.history.push_back(entry);
    if (also) also(b);
  });
  set_machine_as_changed(before);
  return true;
}

void Session::go(const Result<ZeroWay>& way) {
  if (!way) {
    ask(tl::make_unexpected(way.error()));
    return;
  }
  way_text_.clear();
  for (const auto& block : way->blocks) way_text_ += block + "\n";
  run_is_cut_ = false;
  ask(run_.start(*link(), way_text_));
}

void Session::lift_then_go_to_zero(double stand_off) {
  if (link()) go(plan_way_to_zero(*link(), book_.machine.safe_height, stand_off));
}

void Session::lift_then_go_over(const MachinePosition& place) {
  if (link()) go(plan_way_over(*link(), book_.machine.safe_height, place));
}

}  // namespace ypsi::app
