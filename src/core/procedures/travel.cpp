#include "core/procedures/travel.h"

#include <fmt/format.h>

#include <cmath>

#include "core/procedures/readiness.h"

namespace ypsi {
namespace {

constexpr double back_off_mm = 8;       // within what is taken before homing
constexpr double short_of_stop_mm = 1;  // a way that found no switch ends this far before the stop
constexpr double beyond_mm = 2;
constexpr const char* counted_from_switch = "the travel is counted from the switch.";

}  // namespace

Result<FarEnd> far_end(const MachineLink& link, Axis axis, double travel) {
  if (!(travel > 0) || !std::isfinite(travel))
    return fail("out_of_range", "The travel must be above zero; say on the sheet Build how far the axis can go.");
  const auto home = link.setting(axis_setting(axis, "home_coordinate_mm")),
             at_max = link.setting(axis_setting(axis, "home_at_max"));
  if (!home || !at_max) return tl::make_unexpected(home ? at_max.error() : home.error());
  FarEnd end;
  end.towards_plus = *at_max == 0;
  end.place = *home + (end.towards_plus ? travel : -travel);
  end.limit = axis_setting(axis, end.towards_plus ? "soft_max_mm" : "soft_min_mm");
  const auto found = link.setting(end.limit);
  if (!found) return tl::make_unexpected(found.error());
  end.in_the_way = end.towards_plus ? end.place > *found : end.place < *found;
  return end;
}

Result<void> LiftedLimit::start(MachineLink& link, Axis axis, double travel) {
  if (auto ok = ready_to_move(link.status(), counted_from_switch); !ok) return ok;
  const auto end = ypsi::far_end(link, axis, travel);
  if (!end) return tl::make_unexpected(end.error());
  farthest_ = end->place;
  begin(link);
  if (end->in_the_way)
    if (auto ok = lend(end->limit, end->place); !ok) fail_with(ok.error());
  return begun();
}

Result<void> FarSwitchSearch::start(MachineLink& link, Axis axis, double travel) {
  const MachineStatus now = link.status();
  if (auto ok = ready_to_move(now, counted_from_switch); !ok) return ok;
  const auto end = ypsi::far_end(link, axis, travel - short_of_stop_mm);
  if (!end) return tl::make_unexpected(end.error());
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
  axis_ = axis;
  travel_ = travel;
  end_ = *end;
  stage_ = Stage::press;
  begin(link);
  return {};
}

/// The limit lifted where it is in the way, and off to the end.
Result<void> FarSwitchSearch::creep(const MachineStatus& now) {
  if (end_.in_the_way)
    if (auto ok = lend(end_.limit, end_.place); !ok) return ok;
  stage_ = Stage::creeping;
  return link().jog(axis_, end_.place - now.position[axis_], creep_mm_min);
}

void FarSwitchSearch::crept(const MachineStatus& now) {
  if (now.state == MachineState::stopped && now.inputs.far_switch[index(axis_)]) {
    far_end_ = now.position[axis_];
    stage_ = Stage::backing_off;
    if (const auto ok = link().jog(axis_, end_.towards_plus ? -back_off_mm : back_off_mm, creep_mm_min); !ok)
      fail_with(ok.error());
  } else if (arrived(link(), now, axis_, end_.place)) {
    fail_with({"no_switch",
               fmt::format("{} went to {:.1f}, as far as the book says it can, and its far switch never came. "
                           "It was stopped before the end; see to the switch's place, or say on the sheet "
                           "Build that the travel is longer.",
                           letter(axis_), end_.place),
               ""});
  } else {
    fail_with(ended_because(now, "The move was ended; nothing was measured."));
  }
}

void FarSwitchSearch::step(const MachineStatus& now) {
  const bool on = now.inputs.far_switch[index(axis_)], moving = now.state == MachineState::moving;
  if (stage_ == Stage::press) {
    if (on) stage_ = Stage::let_go;
  } else if (stage_ == Stage::let_go) {
    if (on) return;
    if (const auto ok = creep(now); !ok) fail_with(ok.error());
  } else if (moving) {
    return;
  } else if (stage_ == Stage::creeping) {
    crept(now);
  } else if (stage_ == Stage::backing_off) {
    if (now.refusal) return fail_with(*now.refusal);
    if (on)
      return fail_with(
          {"stuck", fmt::format("{}'s far switch stayed on after backing off: it is stuck.", letter(axis_)), ""});
    if (const auto ok = put_back(); !ok) return fail_with(ok.error());
    stage_ = Stage::homing;
    if (const auto ok = link().home(); !ok) fail_with(ok.error());
  } else if (!now.all_homed()) {
    fail_with(ended_because(now, "Homing after the measurement was ended; home again."));
  } else {
    finish();
  }
}

Result<void> LimitProof::start(MachineLink& link, Axis axis, double low, double high) {
  if (auto ok = ready_to_move(link.status(), counted_from_switch); !ok) return ok;
  axis_ = axis;
  limits_ = {low, high};
  at_ = 0;
  asked_ = false;
  begin(link);
  for (const bool upper : {false, true})
    if (auto ok = lend(axis_setting(axis, upper ? "soft_max_mm" : "soft_min_mm"), limits_[upper ? 1 : 0]); !ok) {
      fail_with(ok.error());
      break;
    }
  return begun();
}

void LimitProof::step(const MachineStatus& now) {
  if (!asked_) {
    // A controller may call it moving while it takes the settings that were lent.
    if (stands(now.state)) ask(now);
    return;
  }
  if (now.asked) return;
  took(now.refusal ? Result<void>(tl::make_unexpected(*now.refusal)) : Result<void>());
}

void LimitProof::ask(const MachineStatus& now) {
  const double beyond = limits_[at_] + (at_ == 0 ? -beyond_mm : beyond_mm);
  asked_ = true;
  const auto move = link().jog(axis_, beyond - now.position[axis_], creep_mm_min);
  // Who answers at once has refused; what is only taken on trust is looked at with the next status.
  if (!move) took(move);
}

void LimitProof::took(const Result<void>& move) {
  asked_ = false;
  if (move) {
    link().end_jog();
    fail_with({"not_refused",
               fmt::format("The controller did not refuse a move of {} beyond its limit at {:.1f}; the move was ended "
                           "at once. Its soft limits are off: do not rely on them. They were left as they were.",
                           letter(axis_), limits_[at_]),
               ""});
  } else if (move.error().code != "limit") {
    fail_with(move.error());
  } else if (++at_ == limits_.size()) {
    finish();
  }
}

}  // namespace ypsi
