#include "core/procedures/travel.h"

#include <fmt/format.h>

#include <cmath>

namespace ypsi {
namespace {

constexpr double back_off_mm = 8;       // within what is taken before homing
constexpr double short_of_stop_mm = 1;  // a way that found no switch ends this far before the stop
constexpr double beyond_mm = 2;

Result<void> standing_homed(const MachineStatus& now) {
  if (!now.all_homed()) return fail("not_homed", "Home the machine first: the travel is counted from the switch.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  return {};
}

}  // namespace

Result<void> LiftedLimit::lift(MachineLink& link, Axis axis, double travel) {
  if (auto ok = put_back(); !ok) return ok;
  if (auto ok = standing_homed(link.status()); !ok) return ok;
  if (!(travel > 0) || !std::isfinite(travel))
    return fail("out_of_range", "The travel must be above zero; say on the sheet Build how far the axis can go.");
  const auto home = link.setting(axis_setting(axis, "home_coordinate_mm")),
             at_max = link.setting(axis_setting(axis, "home_at_max"));
  if (!home || !at_max) return tl::make_unexpected(home ? at_max.error() : home.error());
  towards_plus_ = *at_max == 0;
  farthest_ = *home + (towards_plus_ ? travel : -travel);
  name_ = axis_setting(axis, towards_plus_ ? "soft_max_mm" : "soft_min_mm");
  const auto found = link.setting(name_);
  if (!found) return tl::make_unexpected(found.error());
  found_ = *found;
  if (towards_plus_ ? farthest_ > found_ : farthest_ < found_)
    if (auto ok = link.set_setting(name_, farthest_); !ok) return ok;
  link_ = &link;
  return {};
}

Result<void> LiftedLimit::put_back() {
  if (!link_) return {};
  auto done = link_->set_setting(name_, found_);
  if (done) link_ = nullptr;
  return done;
}

Result<void> FarSwitchSearch::start(MachineLink& link, Axis axis, double travel) {
  const MachineStatus now = link.status();
  if (auto ok = standing_homed(now); !ok) return ok;
  if (!(travel > short_of_stop_mm) || !std::isfinite(travel))
    return fail("out_of_range", "The travel must be above zero; say on the sheet Build how far the axis can go.");
  if (now.inputs.far_switch[index(axis)])
    return fail("on_at_rest", fmt::format("{}'s far switch is on though nothing presses it: it is stuck or wired the "
                                          "wrong way round. Nothing moved.",
                                          letter(axis)));
  const auto hard = link.setting("limits.hard");
  if (!hard) return tl::make_unexpected(hard.error());
  if (*hard == 0)
    return fail("unguarded",
                "This controller is set not to stop at its switches (limits.hard), so nothing would end the move. "
                "Switch that on, or bring the axis to its end by eye.");
  link_ = &link;
  axis_ = axis;
  travel_ = travel;
  stage_ = Stage::press;
  return {};
}

void FarSwitchSearch::fail_with(Error error) {
  stage_ = Stage::failed;
  error_ = std::move(error);
  if (const auto back = limit_.put_back(); !back)
    error_.message += " The soft limit that was lifted could not be put back: " + back.error().message;
}

void FarSwitchSearch::tick() {
  if (!running()) return;
  const MachineStatus now = link_->status();
  const bool on = now.inputs.far_switch[index(axis_)];
  const char name = letter(axis_);
  switch (stage_) {
    case Stage::press:
      if (on) stage_ = Stage::let_go;
      return;
    case Stage::let_go: {
      if (on) return;
      if (auto ok = limit_.lift(*link_, axis_, travel_ - short_of_stop_mm); !ok) return fail_with(ok.error());
      if (const auto ok = link_->jog(axis_, limit_.farthest() - now.position[axis_], creep_mm_min); !ok)
        return fail_with(ok.error());
      stage_ = Stage::creeping;
      return;
    }
    case Stage::creeping: {
      if (now.state == MachineState::moving) return;
      if (now.state == MachineState::stopped && on) {
        far_end_ = now.position[axis_];
        const double back = limit_.towards_plus() ? -back_off_mm : back_off_mm;
        if (const auto ok = link_->jog(axis_, back, creep_mm_min); !ok) return fail_with(ok.error());
        stage_ = Stage::backing_off;
        return;
      }
      if (arrived(now, axis_, limit_.farthest()))
        return fail_with(
            {"no_switch",
             fmt::format("{} went to {:.1f}, as far as the book says it can, and its far switch never came. "
                         "It was stopped before the end; see to the switch's place, or say on the sheet "
                         "Build that the travel is longer.",
                         name, limit_.farthest()),
             ""});
      return fail_with(
          {"stopped", now.message.empty() ? "The move was ended; nothing was measured." : now.message, ""});
    }
    case Stage::backing_off:
      if (now.state == MachineState::moving) return;
      if (on)
        return fail_with({"stuck", fmt::format("{}'s far switch stayed on after backing off: it is stuck.", name), ""});
      if (const auto ok = limit_.put_back(); !ok) return fail_with(ok.error());
      if (const auto ok = link_->home(); !ok) return fail_with(ok.error());
      stage_ = Stage::homing;
      return;
    case Stage::homing:
      if (now.state == MachineState::moving) return;
      if (!now.all_homed()) return fail_with({"stopped", "Homing after the measurement was ended; home again.", ""});
      stage_ = Stage::done;
      return;
    default:
      return;
  }
}

void FarSwitchSearch::cancel() {
  if (stage_ == Stage::press || stage_ == Stage::let_go)
    fail_with({"cancelled", "The search was given up; nothing was measured.", ""});
  else if (running())
    link_->hold();  // the tick that sees it stand puts the limit back
}

Result<void> prove_limits(MachineLink& link, Axis axis) {
  const MachineStatus now = link.status();
  if (auto ok = standing_homed(now); !ok) return ok;
  for (const bool upper : {false, true}) {
    const auto limit = link.setting(axis_setting(axis, upper ? "soft_max_mm" : "soft_min_mm"));
    if (!limit) return tl::make_unexpected(limit.error());
    const double beyond = *limit + (upper ? beyond_mm : -beyond_mm);
    const auto asked = link.jog(axis, beyond - now.position[axis], creep_mm_min);
    if (!asked && asked.error().code == "limit") continue;
    if (!asked) return asked;
    link.end_jog();
    return fail(
        "not_refused",
        fmt::format("The controller did not refuse a move of {} to {:.1f}, beyond its limit at {:.1f}; the move "
                    "was ended at once. Its soft limits are off: do not rely on them.",
                    letter(axis), beyond, *limit));
  }
  return {};
}

}  // namespace ypsi
