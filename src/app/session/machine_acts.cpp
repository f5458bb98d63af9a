// What the owner asks the machine for.
#include <algorithm>

#include "app/session/book_editor.h"
#include "app/session/machine_session.h"
#include "app/session/notices.h"
#include "app/session/phrases.h"
#include "core/book/worksheets/limits.h"
#include "core/calibration/limits.h"
#include "core/tasks/directions.h"
#include "core/tasks/homing_way.h"
#include "core/tasks/inputs.h"
#include "core/tasks/limits.h"
#include "core/tasks/work_zero.h"

namespace ypsi::app {

bool MachineSession::ask(const Result<void>& result) {
  if (connection_) {
    status_ = connection_->link().status();
    emit status_changed();
  }
  if (result) return true;
  if (result.error().code == "not_armed" && !editor_.book().machine.arming.empty()) {
    armed_ = 0;  // what its owner said is on is not
    ask_to_arm([] {});
    return false;
  }
  notices_.notify({NoticeLevel::attention, to_q(result.error().message), {}});
  return false;
}

bool MachineSession::must_be_there() {
  if (link()) return true;
  notices_.notify(
      {NoticeLevel::attention,
       tr("No machine is connected, so nothing moved and nothing was set. Connect one in the menu Machine."),
       {}});
  return false;
}

bool MachineSession::may_set() {
  if (!must_be_there()) return false;
  if (!editor_.read_only()) return true;
  notices_.notify(
      {NoticeLevel::attention, tr("This book is open for reading only, so nothing was set in the controller."), {}});
  return false;
}

bool MachineSession::tool_put_in(int number) {
  emit acted();
  if (!must_be_there() || (bench() && !ask(bench()->put_tool(number)))) return false;
  link()->tool_changed(number);
  ask({});
  status_.tool = number;  // the next status will say so too
  return true;
}

bool MachineSession::must_be_free() {
  if (!must_be_there()) return false;
  if (!runner_.running()) return true;
  return ask(fail("busy", "Something else is under way at the machine; wait for it, or end it first."));
}

void MachineSession::see_to(BeamPoint point, bool seen) {
  beam_points_.set(point, seen && up());
  emit status_changed();
}

void MachineSession::forget_beam_points() {
  beam_points_.clear();
  emit status_changed();
}

bool MachineSession::beam_seen_to() {
  if (beam_points_.all_seen()) return true;
  notices_.notify(
      {NoticeLevel::attention,
       tr("This switches the beam on. See to glasses, lid, extraction and extinguisher first, and tick each; "
          "nothing was switched on."),
       {}});
  return false;
}

/// Whether what is switched on first is on, and nothing lies where homing goes; else its owner is asked, and `then`
/// follows the answer.
bool MachineSession::armed_for(const std::function<void()>& then) {
  const Book& book = editor_.book();
  if (armed_ < book.machine.arming.size()) {
    ask_to_arm(then);
    return false;
  }
  const LaidOut laid = laid_in_homings_way(book);
  if (clear_ || laid.none()) return true;
  notices_.notify({NoticeLevel::attention,
                   tr("Homing goes %1, from wherever the carriage stands. Keep clear of its heads: %2.")
                       .arg(way_in_words(homing_way(book.machine)), laid_in_words(laid)),
                   {{tr("It is clear: home"),
                     [this, then] {
                       clear_ = true;
                       then();
                     }},
                    {tr("Show the way"), [this] { notices_.lead_to(work_zero_id); }}},
                   [this, here = which_machine()] { return which_machine() == here && !clear_; }});
  return false;
}

void MachineSession::home(bool even_so) {
  emit acted();
  if (!must_be_free() || !armed_for([this, even_so] { home(even_so); })) return;
  const auto inputs = editor_.standing(inputs_id).standing, directions = editor_.standing(directions_id).standing;
  QString why;
  const Task* sheet = nullptr;
  if (inputs == Standing::failed) {
    sheet = &inputs_task();
    why = tr(
        "An input did not answer as it should (sheet Inputs). Homing drives towards a switch that may never stop it.");
  } else if (directions == Standing::failed) {
    sheet = &directions_task();
    why = tr("An axis moves something else than it should (sheet Directions); homing would drive it into its stop.");
  } else if (inputs == Standing::never_done || directions == Standing::never_done) {
    sheet = inputs == Standing::never_done ? &inputs_task() : &directions_task();
    why =
        tr("Nobody has looked at Inputs and Directions of this machine yet. Homing the wrong way drives an axis into "
           "its stop.");
  }
  if (why.isEmpty()) {
    sheet = &limits_task();
    why = approach_too_fast();
  }
  if (why.isEmpty() || even_so) {
    clear_ = false;  // what is laid out afterwards is asked about anew
    ask(link()->home());
    return;
  }
  notices_.notify({NoticeLevel::attention,
                   why,
                   {{tr("Go to %1").arg(title_of(*sheet)), [this, sheet] { notices_.lead_to(sheet->id()); }},
                    {tr("Home even so"), [this] { home(true); }}},
                   [this, here = which_machine()] { return which_machine() == here && !status_.all_homed(); }});
}

/// Why homing would meet a stop: an axis that cannot stand within the room that its owner has said is behind its
/// switch.
QString MachineSession::approach_too_fast() {
  for (const Axis a : all_axes) {
    const auto& overtravel = editor_.book().worksheets[limits_worksheets][index(a)].overtravel_mm;
    const auto seek = link()->setting(axis_setting(a, "home_seek_mm_min"));
    if (!overtravel || !seek) continue;
    const AxisSetup& axis = editor_.book().machine.axis(a);
    const double way = stopping_distance(std::min(*seek, axis.max_rate), axis.acceleration, reaction_s);
    if (way > *overtravel)
      return tr("%1 seeks its switch at %2 mm/min and needs %3 to stand, but only %4 are behind it: it would hit its "
                "stop.")
          .arg(QChar(letter(a)))
          .arg(*seek, 0, 'f', 0)
          .arg(to_q(format_length(way, editor_.unit(a), 2) + " " + unit_name(editor_.unit(a))),
               to_q(format_length(*overtravel, editor_.unit(a), 2) + " " + unit_name(editor_.unit(a))));
  }
  return {};
}

void MachineSession::hold() {
  emit acted();
  if (link()) link()->hold();
}

void MachineSession::go_on() {
  emit acted();
  if (!link()) return;
  if (status_.state == MachineState::tool_change) {
    // At a simulated machine the hand that puts the tool in is this one; without the tool there is no going on.
    if (bench() && !ask(bench()->put_tool(status_.wanted_tool))) return;
    link()->tool_changed(status_.wanted_tool);
  } else {
    link()->go_on();
  }
}

void MachineSession::jog(Axis axis, double distance, double part_of_rate) {
  emit acted();
  if (!must_be_there()) return;
  if (hands()) {
    notices_.notify({NoticeLevel::attention,
                     tr("This machine is worked by hand: move it with its own keys, then say where it stands (Alt+W)."),
                     {}});
    return;
  }
  const auto moved =
      link()->jog(axis, distance, std::min(part_of_rate * jog_rate_, editor_.book().machine.axis(axis).max_rate));
  if (moved || moved.error().code != "busy") ask(moved);
}

void MachineSession::end_jog() {
  if (link()) link()->end_jog();
}

double MachineSession::room_ahead(Axis axis, double sign) const {
  if (!status_.homed[index(axis)]) return unhomed_distance_mm;
  const Room there = room(axis);
  const double at = status_.position[axis];
  return sign > 0 ? there.high - at : at - there.low;
}

void MachineSession::set_jog_rate(double mm_min) {
  jog_rate_ = mm_min;
  emit jog_step_changed();
}

void MachineSession::set_jog_step(double mm) {
  jog_step_ = mm;
  emit jog_step_changed();
}

}  // namespace ypsi::app
