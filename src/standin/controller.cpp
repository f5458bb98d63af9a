#include "standin/controller.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ypsi::standin {
namespace {

constexpr std::size_t queue_capacity = 256;
constexpr double tick_s = 0.001, latch_tick_s = 0.0002;
constexpr double unhomed_distance_mm = 10, unhomed_rate_mm_min = 300;
constexpr double approach_mm_s = 30, latch_mm_s = 2, homing_accel_mm_s2 = 300;
constexpr double start_steps_from_home_mm = 120;  // where the carriages happen to stand at power-up

struct SettingName {
  Axis axis;
  std::string_view what;
};

std::optional<SettingName> split(std::string_view name) {
  if (!name.starts_with("axis.") || name.size() < 8 || name[6] != '.') return std::nullopt;
  for (const Axis a : all_axes)
    if (name[5] == *axis_key(a)) return SettingName{a, name.substr(7)};
  return std::nullopt;
}

tl::unexpected<Error> unknown_setting(std::string_view name) {
  return fail("unknown_setting", fmt::format("The controller has no setting “{}”.", name));
}

std::array<double, 3> triple(const MachinePosition& p) {
  return {p.x, p.y, p.z};
}

}  // namespace

Controller::Controller(const Scenario& scenario)
    : truths_(scenario.axes),
      beliefs_(scenario.controller),
      mechanics_{AxisMechanics(truths_[0], truths_[0].switch_at + start_steps_from_home_mm),
                 AxisMechanics(truths_[1], truths_[1].switch_at + start_steps_from_home_mm),
                 AxisMechanics(truths_[2], truths_[2].switch_at - 20)},
      random_(scenario.seed),
      ahead_(kinematics()) {
  if (!scenario.tools.empty()) tool_ = scenario.tools.front().number;
  message_ = "Powered up; the machine does not know where it is.";
  for (const Axis a : all_axes) draw_switch_place(a);
}

// ---------------------------------------------------------------------------------------------- what it knows and says

Kinematics Controller::kinematics() const {
  Kinematics k;
  for (std::size_t i = 0; i < axis_count; ++i) k[i] = {beliefs_[i].max_rate / 60, beliefs_[i].accel};
  return k;
}

MachinePosition Controller::believed() const {
  MachinePosition p;
  for (const Axis a : all_axes)
    p[a] = beliefs_[index(a)].home_coordinate + static_cast<double>(steps_[index(a)]) / beliefs_[index(a)].steps_per_mm;
  return p;
}

MachineStatus Controller::status() const {
  MachineStatus s;
  s.state = state_;
  s.position = believed();
  s.work_zero = zero_;
  s.homed = homed_;
  s.blocks_done = blocks_done_;
  s.block_in_hand = tag_in_hand_;
  s.feed = active_ ? active_->profile.speed_at(active_->t) * ratio_ * 60 : 0;
  s.feed_override = override_;
  s.spindle_rpm = spindle_;
  s.tool = tool_;
  s.wanted_tool = wanted_tool_;
  s.message = message_;
  return s;
}

Result<double> Controller::setting(std::string_view name) const {
  const auto wanted = split(name);
  if (!wanted) return unknown_setting(name);
  const AxisBelief& b = beliefs_[index(wanted->axis)];
  if (wanted->what == "steps_per_mm") return b.steps_per_mm;
  if (wanted->what == "soft_min_mm") return b.soft_min;
  if (wanted->what == "soft_max_mm") return b.soft_max;
  if (wanted->what == "max_rate_mm_min") return b.max_rate;
  if (wanted->what == "accel_mm_s2") return b.accel;
  if (wanted->what == "home_coordinate_mm") return b.home_coordinate;
  if (wanted->what == "reversed") return b.reversed ? 1.0 : 0.0;
  return unknown_setting(name);
}

Result<void> Controller::set_setting(std::string_view name, double value) {
  const auto wanted = split(name);
  if (!wanted) return unknown_setting(name);
  if (active_ || program_ || homing_)
    return fail("busy", "The machine is moving; a setting can be changed when it stands.");
  if (!std::isfinite(value)) return fail("out_of_range", "A setting must be a finite number.");
  AxisBelief& b = beliefs_[index(wanted->axis)];
  const auto positive = [&](double& into) -> Result<void> {
    if (!(value > 0)) return fail("out_of_range", fmt::format("The setting “{}” must be above zero.", name));
    into = value;
    return {};
  };
  Result<void> done;
  if (wanted->what == "steps_per_mm")
    done = positive(b.steps_per_mm);
  else if (wanted->what == "max_rate_mm_min")
    done = positive(b.max_rate);
  else if (wanted->what == "accel_mm_s2")
    done = positive(b.accel);
  else if (wanted->what == "soft_min_mm")
    b.soft_min = value;
  else if (wanted->what == "soft_max_mm")
    b.soft_max = value;
  else if (wanted->what == "home_coordinate_mm")
    b.home_coordinate = value;
  else if (wanted->what == "reversed")
    b.reversed = value != 0;
  else
    return unknown_setting(name);
  if (done) ahead_.set_kinematics(kinematics());
  return done;
}

Result<void> Controller::set_work_zero(Axis axis, double machine_coordinate) {
  if (active_ || program_ || homing_) return fail("busy", "The machine is moving; set work zero when it stands.");
  if (!std::isfinite(machine_coordinate)) return fail("out_of_range", "Work zero must be a finite number.");
  zero_[axis] = machine_coordinate;
  return {};
}

// ---------------------------------------------------------------------------------------------------------------- acts

Result<void> Controller::may_start() const {
  if (active_ || program_ || homing_) return fail("busy", "The machine is moving already; wait until it stands.");
  if (state_ == MachineState::held) return fail("busy", "The machine is held; continue or abandon first.");
  return {};
}

Result<void> Controller::home() {
  if (auto ok = may_start(); !ok) return ok;
  homing_ = Homing{};
  homing_->place = believed()[homing_->axis()];
  homing_->start = homing_->place;
  homed_ = {};
  for (const Axis a : all_axes) draw_switch_place(a);
  state_ = MachineState::moving;
  message_ = "Homing: Z goes up first, then X, then Y.";
  return {};
}

Result<void> Controller::jog(Axis axis, double distance, double rate) {
  if (auto ok = may_start(); !ok) return ok;
  if (!std::isfinite(distance) || !(rate > 0))
    return fail("out_of_range", "A jog needs a distance and a rate above zero.");
  MachinePosition target = believed();
  target[axis] += distance;
  if (homed_[index(axis)]) {
    // Half a step of grace, so that a move to the limit itself is one that stays within it.
    const double grace = 0.5 / beliefs_[index(axis)].steps_per_mm;
    if (target[axis] < limit_low(axis) - grace || target[axis] > limit_high(axis) + grace)
      return fail("limit", fmt::format("{} would reach {:.2f}, and the soft limit is {:.2f}. Nothing moved.",
                                       letter(axis), target[axis], distance < 0 ? limit_low(axis) : limit_high(axis)));
  } else {
    if (std::fabs(distance) > unhomed_distance_mm)
      return fail("not_homed", fmt::format("Before homing a move is {:g} mm at most, since the machine does not know "
                                           "where its ends are. Home it first.",
                                           unhomed_distance_mm));
    rate = std::min(rate, unhomed_rate_mm_min);
  }
  const Segment s = make_line(triple(believed()), triple(target), rate / 60, kinematics());
  if (s.length == 0) return {};
  active_ = ActiveMove{s, Trapezoid(s.length, 0, s.v_max, 0, s.accel), 0, tag_in_hand_, false};
  ratio_ = wanted_ratio_ = 1;
  state_ = MachineState::moving;
  message_.clear();
  return {};
}

void Controller::end_jog() {
  if (active_ && !program_ && !homing_) wanted_ratio_ = 0;
}

Result<void> Controller::begin_program() {
  if (auto ok = may_start(); !ok) return ok;
  if (!homed_[0] || !homed_[1] || !homed_[2])
    return fail("not_homed", "The machine does not know where it is; home it before a program runs.");
  forget_queue();
  interpreter_ = Interpreter(to_work(believed(), zero_));
  interpreter_.state().tool = tool_;
  program_ = true;
  program_all_sent_ = abandoning_ = hold_ = false;
  ratio_ = override_;
  v_ = 0;
  blocks_done_ = tag_in_hand_ = 0;
  state_ = MachineState::moving;
  message_.clear();
  return {};
}

Result<void> Controller::check_limits(const Extents& reach, std::uint32_t tag) const {
  for (const Axis a : all_axes) {
    const double low = reach.low[a] + zero_[a], high = reach.high[a] + zero_[a];
    const double grace = 0.5 / beliefs_[index(a)].steps_per_mm;
    if (low < limit_low(a) - grace || high > limit_high(a) + grace)
      return fail("limit", fmt::format("Line {}: {} would reach {:.2f} of the machine, and the soft limit is {:.2f}. "
                                       "The machine stops before it.",
                                       tag, letter(a), low < limit_low(a) - grace ? low : high,
                                       low < limit_low(a) - grace ? limit_low(a) : limit_high(a)));
  }
  return {};
}

Result<void> Controller::send(std::string_view block, std::uint32_t tag) {
  if (!program_ || abandoning_) return fail("not_running", "No program is running; start it first.");
  if (queue_.size() >= queue_capacity) return fail("full", "The look-ahead is full; send the block again in a moment.");
  const ModalState before = interpreter_.state();
  scratch_.motions.clear();
  scratch_.arcs.clear();
  scratch_.events.clear();
  scratch_.centre = {};
  scratch_.cut = {};
  if (auto ok = interpreter_.line(block, tag, scratch_); !ok) return ok;
  if (!scratch_.motions.empty())
    if (auto ok = check_limits(scratch_.centre, tag); !ok) {
      interpreter_.state() = before;
      return ok;
    }
  const auto queue_event = [&](const Event& e) { queue_.push_back({tag, e.kind, e.value, {}, false}); };
  std::size_t event = 0;
  for (; event < scratch_.events.size() && scratch_.events[event].before == 0; ++event)
    queue_event(scratch_.events[event]);
  for (const Motion& m : scratch_.motions) {
    const Arc* arc = is_arc(m) ? &scratch_.arcs[m.arc] : nullptr;
    Segment s = make_segment(before.at, m, arc, kinematics());
    for (const Axis a : all_axes) {
      s.start[index(a)] += zero_[a];
      s.end[index(a)] += zero_[a];
    }
    s.centre_x += zero_.x;
    s.centre_y += zero_.y;
    queue_.push_back({tag, std::nullopt, 0, s, is_cut(m)});
  }
  for (; event < scratch_.events.size(); ++event) queue_event(scratch_.events[event]);
  return {};
}

void Controller::end_program() {
  program_all_sent_ = true;
}

void Controller::hold() {
  if (homing_) return stop_with("Homing was held; home again when it is safe.");
  if (program_) {
    hold_ = true;
    if (!active_ && state_ != MachineState::tool_change) state_ = MachineState::held;
  } else {
    end_jog();
  }
}

void Controller::go_on() {
  hold_ = false;
  if (state_ == MachineState::held && program_) {
    state_ = active_ && active_->cutting ? MachineState::cutting : MachineState::moving;
    message_.clear();
  }
}

void Controller::abandon() {
  if (homing_) return stop_with("Homing was abandoned; home again when it is safe.");
  if (!program_) return end_jog();
  abandoning_ = true;
  if (!active_ || ratio_ == 0) become_idle();
}

void Controller::tool_changed(int tool) {
  if (state_ != MachineState::tool_change) return;
  tool_ = tool;
  wanted_tool_ = 0;
  message_.clear();
  state_ = MachineState::moving;
}

void Controller::set_feed_override(double factor) {
  if (std::isfinite(factor)) override_ = std::clamp(factor, 0.1, 2.0);
}

// -------------------------------------------------------------------------------------------------------------- moving

void Controller::forget_queue() {
  queue_.clear();
  ahead_.clear();
  planned_ = 0;
}

void Controller::become_idle() {
  const bool abandoned = abandoning_;
  forget_queue();
  active_.reset();
  v_ = 0;
  if (program_) spindle_ = 0;
  program_ = program_all_sent_ = abandoning_ = hold_ = false;
  ratio_ = wanted_ratio_ = 1;
  wanted_tool_ = 0;
  state_ = homed_[0] && homed_[1] && homed_[2] ? MachineState::ready : MachineState::not_homed;
  if (abandoned) message_ = fmt::format("The program was abandoned at line {}.", tag_in_hand_);
}

void Controller::stop_with(std::string message) {
  homing_.reset();
  become_idle();
  homed_ = {};
  state_ = MachineState::not_homed;
  message_ = std::move(message);
}

void Controller::follow(const std::array<double, 3>& place) {
  for (std::size_t i = 0; i < axis_count; ++i) {
    const auto target =
        static_cast<std::int64_t>(std::llround((place[i] - beliefs_[i].home_coordinate) * beliefs_[i].steps_per_mm));
    const std::int64_t turn = target - steps_[i];
    if (turn != 0) mechanics_[i].turn(beliefs_[i].reversed ? -turn : turn);
    steps_[i] = target;
  }
}

void Controller::fill_look_ahead() {
  while (planned_ < queue_.size() && !queue_[planned_].event) ahead_.add(queue_[planned_++].segment);
}

void Controller::do_event(const Queued& e) {
  tag_in_hand_ = e.tag;
  switch (*e.event) {
    case EventKind::spindle_on:
      spindle_ = e.value;
      break;
    case EventKind::spindle_off:
      spindle_ = 0;
      break;
    case EventKind::tool_change:
      spindle_ = 0;
      if (static_cast<int>(e.value) == tool_) break;
      wanted_tool_ = static_cast<int>(e.value);
      state_ = MachineState::tool_change;
      message_ = fmt::format("Put tool {} in, then continue.", wanted_tool_);
      break;
    case EventKind::stop:
    case EventKind::optional_stop:
      hold_ = true;
      state_ = MachineState::held;
      message_ = fmt::format("The program asks to stop here (line {}); continue when you are ready.", e.tag);
      break;
    case EventKind::end:
      program_all_sent_ = true;
      break;
  }
}

/// Takes what comes next from the queue; false where there is nothing to do now.
bool Controller::start_next() {
  if (state_ == MachineState::tool_change || hold_) return false;
  while (!queue_.empty() && queue_.front().event) {
    const Queued e = queue_.front();
    queue_.pop_front();
    ++blocks_done_;
    do_event(e);
    if (state_ == MachineState::tool_change || hold_) return false;
  }
  if (queue_.empty()) {
    if (program_all_sent_) become_idle();
    return false;
  }
  fill_look_ahead();
  const auto planned = ahead_.take(v_);
  active_ = ActiveMove{planned.segment, planned.profile, 0, queue_.front().tag, queue_.front().cutting};
  tag_in_hand_ = active_->tag;
  state_ = active_->cutting || spindle_ > 0 ? MachineState::cutting : MachineState::moving;
  queue_.pop_front();
  --planned_;
  return true;
}

/// Hold, abandon and feed override scale the path's time: slowing down at no more than the path's acceleration.
double Controller::next_ratio(double dt) {
  const double wanted = !program_ ? wanted_ratio_ : hold_ || abandoning_ ? 0 : override_;
  const double v = std::max(active_->profile.speed_at(active_->t), 1.0);
  const double change = active_->segment.accel / v * dt;
  ratio_ = wanted > ratio_ ? std::min(wanted, ratio_ + change) : std::max(wanted, ratio_ - change);
  return ratio_;
}

void Controller::step_moves(double left) {
  while (left > 1e-12) {
    if (!active_ && !(program_ && start_next())) return;
    const double dt = std::min(left, tick_s), ratio = next_ratio(dt);
    if (ratio == 0) {
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
      ++blocks_done_;
      if (!program_) return become_idle();
    } else {
      active_->t += dt * ratio;
      left -= dt;
      follow(active_->segment.at(active_->profile.distance_at(active_->t)));
    }
  }
}

// -------------------------------------------------------------------------------------------------------------- homing

void Controller::draw_switch_place(Axis axis) {
  const AxisTruth& t = truths_[index(axis)];
  std::normal_distribution<double> scatter(0, 1);
  switch_trips_at_[index(axis)] = t.switch_at + t.switch_s * scatter(random_);
}

bool Controller::read_switch(Axis axis) {
  const AxisTruth& t = truths_[index(axis)];
  const double trip = switch_trips_at_[index(axis)], place = mechanics_[index(axis)].place();
  const double inside = t.switch_at_max ? place - trip : trip - place;  // > 0: pressed
  bool& on = switch_on_[index(axis)];
  if (inside >= 0)
    on = true;
  else if (inside < -t.switch_release)
    on = false;
  return on;
}

void Controller::next_homing_phase() {
  Homing& h = *homing_;
  const Axis axis = h.axis();
  AxisBelief& belief = beliefs_[index(axis)];
  h.speed = 0;
  h.slowing = false;
  if (h.phase == HomingPhase::approach) {
    h.phase = HomingPhase::back_off;
  } else if (h.phase == HomingPhase::back_off) {
    h.phase = HomingPhase::latch;
    draw_switch_place(axis);
  } else if (h.phase == HomingPhase::latch) {
    steps_[index(axis)] -= h.latched;  // the switch is at the home coordinate from now on
    h.place = belief.home_coordinate + static_cast<double>(steps_[index(axis)]) / belief.steps_per_mm;
    homed_[index(axis)] = true;
    h.phase = HomingPhase::pull_off;
  } else if (++h.at < axis_count) {
    h.phase = HomingPhase::approach;
    h.place = believed()[h.axis()];
  } else {
    homing_.reset();
    become_idle();
    message_.clear();
    return;
  }
  h.start = h.place;
}

void Controller::step_homing(double dt) {
  Homing& h = *homing_;
  const Axis axis = h.axis();
  const AxisTruth& truth = truths_[index(axis)];
  const AxisBelief& belief = beliefs_[index(axis)];
  const double towards = truth.switch_at_max ? 1 : -1;
  const bool on = read_switch(axis);
  const bool away = h.phase == HomingPhase::back_off || h.phase == HomingPhase::pull_off;
  const double cruise = (away ? -towards : towards) * (h.phase == HomingPhase::latch ? latch_mm_s : approach_mm_s);

  if (!h.slowing) {
    if (h.phase == HomingPhase::pull_off) {
      const double pulled = std::fabs(h.place - belief.home_coordinate),
                   braking = h.speed * h.speed / (2 * homing_accel_mm_s2);
      h.slowing = pulled + braking >= belief.pull_off;
    } else if (h.phase == HomingPhase::back_off ? !on : on) {
      if (h.phase == HomingPhase::latch) h.latched = steps_[index(axis)];
      h.slowing = true;
    }
  }
  const double wanted = h.slowing ? 0 : cruise, change = homing_accel_mm_s2 * dt;
  h.speed = wanted > h.speed ? std::min(wanted, h.speed + change) : std::max(wanted, h.speed - change);
  h.place += h.speed * dt;
  auto place = triple(believed());
  place[index(axis)] = h.place;
  follow(place);

  const double room = 1.5 * (limit_high(axis) - limit_low(axis)) + 100;
  if (std::fabs(h.place - h.start) > room)
    return stop_with(fmt::format(
        "Homing gave up: {} went {:.0f} mm and its switch never changed. Check the switch on the sheet Inputs.",
        letter(axis), room));
  if (h.slowing && h.speed == 0) next_homing_phase();
}

void Controller::advance(double seconds) {
  const double end = now_ + seconds;
  while (homing_ && now_ < end - 1e-12) {
    const double dt = std::min(end - now_, homing_->phase == HomingPhase::latch ? latch_tick_s : tick_s);
    now_ += dt;
    step_homing(dt);
  }
  if (!homing_) step_moves(end - now_);
  now_ = end;
}

}  // namespace ypsi::standin
