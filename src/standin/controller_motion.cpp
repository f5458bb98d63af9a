// Time passes: the motors follow the planned path, the inputs are watched, homing looks for its switches.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "standin/controller.h"

namespace ypsi::standin {
namespace {

constexpr double tick_s = 0.001, fine_tick_s = 0.0002;  // fine: where an input is waited for
constexpr double farthest_back_off_mm = 20;
constexpr double told_as_lost_mm = 0.15;  // beyond what switches scatter

/// As std::llround(), which is a call: this is done at every tick.
std::int64_t nearest_step(double steps) {
  return static_cast<std::int64_t>(steps < 0 ? steps - 0.5 : steps + 0.5);
}

}  // namespace

void Controller::follow(const std::array<double, 3>& place) {
  std::array<std::int64_t, axis_count> turn{};
  bool any = false;
  for (std::size_t i = 0; i < axis_count; ++i) {
    const AxisBelief& b = settings_.axes[i];
    const std::int64_t target = nearest_step((place[i] - b.home_coordinate) * b.steps_per_mm);
    turn[i] = b.reversed ? steps_[i] - target : target - steps_[i];
    any = any || turn[i] != 0;
    steps_[i] = target;
  }
  if (any) plant_.turn(turn);
}

/// Hold, abandon and feed override scale the path's time: slowing down at no more than the path's acceleration.
double Controller::next_ratio(double dt) {
  const double wanted = !program_                        ? wanted_ratio_
                        : hold_ || abandoning_           ? 0
                        : probing_ && probing_->touched  ? 0
                        : probing_ && !probing_->waiting ? 1
                                                         : override_;
  const double v = std::max(active_->profile.speed_at(active_->t), 1.0);
  const double change = active_->segment.accel / v * dt;
  ratio_ = wanted > ratio_ ? std::min(wanted, ratio_ + change) : std::max(wanted, ratio_ - change);
  return ratio_;
}

/// False when something was seen that ends every move.
bool Controller::watch_inputs() {
  if (plant_.emergency_stop_line()) {
    if (state_ != MachineState::emergency_stop)
      stop_with(MachineState::emergency_stop,
                "The emergency stop is pressed: the drives are off and the position is lost. Make the machine safe, "
                "release it, then home.");
    return false;
  }
  if (state_ == MachineState::emergency_stop)
    stop_with(MachineState::stopped, "The emergency stop was released. Home the machine before anything else.");
  if (!settings_.hard_limits || homing_) return true;
  for (const Axis a : all_axes) {
    const bool far = plant_.far_switch_line(a);
    if (far && std::exchange(far_armed_[index(a)], false) && (active_ || program_)) {
      stop_with(MachineState::stopped,
                fmt::format("{}'s far switch came on, so everything stopped at once. Move away from it, then home.",
                            letter(a)));
      return false;
    }
    if (!far) far_armed_[index(a)] = true;
    const bool on = switch_on(a);
    if (on && std::exchange(limit_armed_[index(a)], false) && (active_ || program_)) {
      stop_with(
          MachineState::stopped,
          fmt::format("{}'s switch came on while it was not homing, so everything stopped at once. Move away from "
                      "the switch, then home; if nothing presses it, look at the sheet Inputs.",
                      letter(a)));
      return false;
    }
    if (!on) limit_armed_[index(a)] = true;
  }
  return true;
}

void Controller::end_probing() {
  probe_.contact = probing_->touched;
  ++probe_.count;
  if (!probe_.contact) probe_.at = believed();
  const bool failed = probing_->must_touch && !probing_->touched;
  probing_.reset();
  interpreter_.state().at = to_work(believed(), base_zero_);
  v_ = 0;
  if (!failed) return;
  refusal_ = Error{"no_contact",
                   fmt::format("Line {}: the probe searched to the end of its way and touched nothing. Nothing was "
                               "changed; see that the clip is on and the plate is under the tool.",
                               tag_in_hand_),
                   ""};
  message_ = refusal_->message;
  become_idle();
}

void Controller::step_moves(double left) {
  while (left > 1e-12) {
    if (dwell_left_ > 0 && program_ && !hold_ && !abandoning_) {
      const double waited = std::min(left, dwell_left_);
      dwell_left_ -= waited;
      plant_.stand(waited);
      left -= waited;
      continue;
    }
    if (!active_ && !(program_ && start_next())) {
      // A hold whose move came to its end while it slowed down stands all the same.
      if (hold_ && program_ && (state_ == MachineState::cutting || state_ == MachineState::moving))
        state_ = MachineState::held;
      return;
    }
    const bool searching = probing_ && !probing_->waiting;
    const double dt = std::min(left, searching ? fine_tick_s : tick_s), ratio = next_ratio(dt);
    if (ratio == 0) {
      if (searching && probing_->touched) {
        active_.reset();
        end_probing();
        ratio_ = override_;
        continue;
      }
      if (!program_ || abandoning_) return become_idle();
      state_ = MachineState::held;
      return;
    }
    const double rest = active_->profile.duration() - active_->t;
    if (rest <= dt * ratio) {
      left -= rest / ratio;
      follow(active_->segment.end);
      v_ = ahead_.empty() ? 0 : active_->profile.v_out();
      active_.reset();
      if (searching) end_probing();
      if (!program_) return become_idle();
    } else {
      active_->t += dt * ratio;
      left -= dt;
      follow(active_->segment.at(active_->profile.distance_at(active_->t)));
    }
    if (searching && probing_ && !probing_->touched && probe_on()) {
      probing_->touched = true;
      probe_.at = believed();
    }
    if (!watch_inputs()) return;
  }
}

void Controller::latch() {
  Homing& h = *homing_;
  const Axis axis = h.axis();
  const AxisBelief& b = belief(axis);
  const double off = static_cast<double>(h.latched) / b.steps_per_mm;
  if (h.knew[index(axis)]) h.shift[axis] = off;
  if (h.knew[index(axis)] && std::fabs(off) > told_as_lost_mm)
    h.found += fmt::format(
        "{} met its switch {:.2f} mm from where it was counted: it has lost steps since it was last "
        "homed. ",
        letter(axis), std::fabs(off));
  steps_[index(axis)] -= h.latched;  // the switch is at the home coordinate from now on
  h.place = b.home_coordinate + static_cast<double>(steps_[index(axis)]) / b.steps_per_mm;
  homed_[index(axis)] = true;
  if (axis == Axis::y) plant_.square_beam(b.second_switch_offset);
}

void Controller::next_homing_phase() {
  Homing& h = *homing_;
  h.speed = 0;
  h.slowing = false;
  if (h.phase == HomingPhase::approach) {
    h.phase = HomingPhase::back_off;
  } else if (h.phase == HomingPhase::back_off) {
    h.phase = HomingPhase::latch;
  } else if (h.phase == HomingPhase::latch) {
    latch();
    h.phase = HomingPhase::pull_off;
  } else if (++h.at < axis_count) {
    h.phase = HomingPhase::approach;
    h.place = believed()[h.axis()];
  } else {
    std::string found = std::move(h.found);
    homing_found_ = {homing_found_.count + 1, h.shift};
    homing_.reset();
    become_idle();
    message_ = found.empty() ? "" : found + "What was cut since may be out of place.";
    return;
  }
  h.start = h.place;
}

void Controller::step_homing(double dt) {
  Homing& h = *homing_;
  const Axis axis = h.axis();
  const AxisBelief& b = belief(axis);
  const double towards = b.home_at_max ? 1 : -1;
  const bool on = switch_on(axis);
  const bool away = h.phase == HomingPhase::back_off || h.phase == HomingPhase::pull_off;
  const double rate = h.phase == HomingPhase::latch ? b.home_latch : std::min(b.home_seek, b.max_rate);
  const double cruise = (away ? -towards : towards) * rate / 60;

  if (!h.slowing) {
    if (h.phase == HomingPhase::pull_off) {
      const double pulled = std::fabs(h.place - b.home_coordinate), braking = h.speed * h.speed / (2 * b.accel);
      h.slowing = pulled + braking >= b.pull_off;
    } else if (h.phase == HomingPhase::back_off ? !on : on) {
      if (h.phase == HomingPhase::latch) h.latched = steps_[index(axis)];
      h.slowing = true;
    }
  }
  const double wanted = h.slowing ? 0 : cruise, change = b.accel * dt;
  h.speed = wanted > h.speed ? std::min(wanted, h.speed + change) : std::max(wanted, h.speed - change);
  h.place += h.speed * dt;
  auto place = std::array<double, 3>{believed().x, believed().y, believed().z};
  place[index(axis)] = h.place;
  follow(place);

  const double gone = std::fabs(h.place - h.start), room = 1.5 * (b.soft_max - b.soft_min) + 100;
  if (h.phase == HomingPhase::back_off && !h.slowing && gone > farthest_back_off_mm)
    return stop_with(MachineState::stopped,
                     fmt::format("Homing gave up: {} backed off {:.0f} mm and its switch stayed on. It is stuck, "
                                 "reversed or wired to another axis; look at the sheet Inputs.",
                                 letter(axis), farthest_back_off_mm));
  if (gone > room)
    return stop_with(MachineState::stopped,
                     fmt::format("Homing gave up: {} went {:.0f} mm and its switch never changed. Check the switch on "
                                 "the sheet Inputs.",
                                 letter(axis), room));
  if (h.slowing && h.speed == 0) next_homing_phase();
}

void Controller::advance(double seconds) {
  const double end = now_ + seconds;
  if (watch_inputs()) {
    while (homing_ && now_ < end - 1e-12) {
      const double dt = std::min(end - now_, homing_->phase == HomingPhase::latch ? fine_tick_s : tick_s);
      now_ += dt;
      step_homing(dt);
    }
    if (!homing_) step_moves(end - now_);
  }
  now_ = end;
}

}  // namespace ypsi::standin
