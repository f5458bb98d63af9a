// What the controller knows and says, and the acts it is asked for.
#include "standin/controller.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/procedures/homing_order.h"

namespace ypsi::standin {
namespace {

constexpr const char* powered_up = "Powered up; the machine does not know where it is.";

std::array<double, 3> triple(const MachinePosition& p) {
  return {p.x, p.y, p.z};
}

}  // namespace

Controller::Controller(Plant& plant, const std::array<AxisBelief, axis_count>& beliefs)
    : plant_(plant), ahead_(Kinematics{}) {
  settings_.axes = beliefs;
  ahead_.set_kinematics(kinematics());
  tool_ = plant.tool().number;
  message_ = powered_up;
}

Kinematics Controller::kinematics() const {
  Kinematics k;
  for (const Axis a : all_axes) k[index(a)] = {belief(a).max_rate / 60, belief(a).accel};
  return k;
}

MachinePosition Controller::believed() const {
  MachinePosition p;
  for (const Axis a : all_axes)
    p[a] = belief(a).home_coordinate + static_cast<double>(steps_[index(a)]) / belief(a).steps_per_mm;
  return p;
}

MachineStatus Controller::status() const {
  MachineStatus s;
  s.state = state_;
  s.position = believed();
  s.work_frame = program_ ? work_frame_ : settings_.frame;
  s.work_zero = settings_.frames.zeros[static_cast<std::size_t>(s.work_frame)];
  s.homed = homed_;
  s.block_in_hand = tag_in_hand_;
  s.feed = active_ ? active_->profile.speed_at(active_->t) * ratio_ * 60 : 0;
  s.feed_override = override_;
  s.spindle_rpm = spindle_;
  s.tool = tool_;
  s.wanted_tool = wanted_tool_;
  s.tool_offset = tool_offset_;
  for (const Axis a : all_axes) {
    s.inputs.home_switch[index(a)] = switch_on(a);
    s.inputs.far_switch[index(a)] = plant_.far_switch_line(a);
  }
  s.homing = homing_found_;
  s.inputs.probe = probe_on();
  s.inputs.emergency_stop = plant_.emergency_stop_line();
  s.probe = probe_;
  s.ran_dry = ran_dry_;
  s.refusal = refusal_;
  s.beam_on = plant_.beam_on();
  s.message = message_;
  return s;
}

Result<void> Controller::set_setting(std::string_view name, double value) {
  if (moves()) return fail("busy", "The machine is moving; a setting can be changed when it stands.");
  const auto before = settings_.get(name);
  const auto done = settings_.set(name, value);
  if (!done) return done;
  ahead_.set_kinematics(kinematics());
  const auto axis = Settings::whose_place_is_lost(name);
  if (!axis || before == value || !std::exchange(homed_[index(*axis)], false)) return done;
  if (state_ == MachineState::ready) state_ = MachineState::not_homed;
  message_ =
      fmt::format("{} was set otherwise, so nobody knows where it stands. Home before anything else.", letter(*axis));
  return done;
}

std::map<std::string, double> Controller::settings() const {
  std::map<std::string, double> all;
  for (const std::string& name : settings_.names()) all[name] = settings_.get(name).value();
  return all;
}

Result<void> Controller::may_start() const {
  if (plant_.emergency_stop_line())
    return fail("stopped", "The emergency stop is pressed; make the machine safe, release it, then home.");
  if (auto ok = plant_.armed(); !ok) return ok;
  if (moves()) return fail("busy", "The machine is moving already; wait until it stands.");
  if (state_ == MachineState::held) return fail("busy", "The machine is held; continue or abandon first.");
  return {};
}

Result<void> Controller::home() {
  if (auto ok = may_start(); !ok) return ok;
  homing_ = Homing{};
  std::array<int, axis_count> turns{};
  for (const Axis a : all_axes) turns[index(a)] = static_cast<int>(std::lround(belief(a).home_turn));
  homing_->order = homing_order(turns);
  homing_->knew = homed_;
  homing_->place = believed()[homing_->axis()];
  homing_->start = homing_->place;
  homed_ = {};
  refusal_.reset();
  state_ = MachineState::moving;
  message_ = fmt::format("Homing: {} first, then {}, then {}.", letter(homing_->order[0]), letter(homing_->order[1]),
                         letter(homing_->order[2]));
  return {};
}

Result<void> Controller::jog(Axis axis, double distance, double rate) {
  if (auto ok = may_start(); !ok) return ok;
  if (!std::isfinite(distance) || !(rate > 0))
    return fail("out_of_range", "A jog needs a distance and a rate above zero.");
  const AxisBelief& b = belief(axis);
  if (settings_.hard_limits && switch_on(axis) && (distance > 0) == b.home_at_max)
    return fail("limit", fmt::format("{}'s switch is on, so {} moves only away from it. If nothing presses it, look at "
                                     "the sheet Inputs.",
                                     letter(axis), letter(axis)));
  if (settings_.hard_limits && plant_.far_switch_line(axis) && (distance > 0) != b.home_at_max)
    return fail("limit",
                fmt::format("{}'s far switch is on, so {} moves only away from it.", letter(axis), letter(axis)));
  MachinePosition target = believed();
  target[axis] += distance;
  if (homed_[index(axis)]) {
    // Half a step of grace, so that a move to the limit itself is one that stays within it.
    const double grace = 0.5 / b.steps_per_mm;
    if (target[axis] < b.soft_min - grace || target[axis] > b.soft_max + grace)
      return fail("limit", fmt::format("{} would reach {:.2f}, and the soft limit is {:.2f}. Nothing moved.",
                                       letter(axis), target[axis], distance < 0 ? b.soft_min : b.soft_max));
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
  for (const Axis a : all_axes)
    if (settings_.hard_limits && switch_on(a))
      return fail("limit", fmt::format("{}'s switch is on; move away from it before a program runs.", letter(a)));
  forget_queue();
  plant_.put_beams_out();
  base_zero_ = settings_.frames.zeros[0];
  Frames frames = settings_.frames;
  frames.own_blocks = plant_.own_blocks();
  interpreter_ = Interpreter(to_work(believed(), settings_.frames.zeros[0]), frames, settings_.frame);
  interpreter_.state().tool = tool_;
  program_ = true;
  program_all_sent_ = abandoning_ = hold_ = false;
  ratio_ = override_;
  v_ = dwell_left_ = tool_offset_ = 0;
  tag_in_hand_ = ran_dry_ = 0;
  work_frame_ = settings_.frame;
  dry_ = true;
  refusal_.reset();
  state_ = MachineState::moving;
  message_.clear();
  return {};
}

void Controller::stop() {
  stop_with(MachineState::stopped,
            "Stopped at once. Motors that are stopped at speed can lose their place: home before anything else.");
}

void Controller::hold() {
  if (homing_) return stop_with(MachineState::not_homed, "Homing was held; home again when it is safe.");
  if (program_) {
    hold_ = true;
    plant_.shade_beams(true);
    if (!active_ && state_ != MachineState::tool_change) state_ = MachineState::held;
  } else {
    end_jog();
  }
}

void Controller::go_on() {
  hold_ = false;
  if (!dry_) plant_.shade_beams(false);
  if (state_ == MachineState::held && program_) {
    state_ = active_ && active_->cutting ? MachineState::cutting : MachineState::moving;
    message_.clear();
  }
}

void Controller::abandon() {
  if (homing_) return stop_with(MachineState::not_homed, "Homing was abandoned; home again when it is safe.");
  if (!program_) return end_jog();
  abandoning_ = true;
  plant_.put_beams_out();
  if (!active_ || ratio_ == 0) become_idle();
}

void Controller::link_lost() {
  if (homing_)
    return stop_with(MachineState::not_homed, "The connection was lost while homing; connect and home again.");
  if (!program_) return end_jog();
  link_lost_ = true;
  abandon();
}

void Controller::restart() {
  stop_with(MachineState::not_homed,
            "The supply failed for a moment and the controller started again; it does not know where it is.");
  steps_ = {};
  limit_armed_ = far_armed_ = {};
  probe_ = {};
  homing_found_ = {};
  override_ = 1;
  ++boots_;
}

void Controller::tool_changed(int tool) {
  if (state_ != MachineState::tool_change) {
    if (!moves()) tool_ = tool;  // put in by hand while it stands
    return;
  }
  tool_ = tool;
  wanted_tool_ = 0;
  message_.clear();
  state_ = MachineState::moving;
}

void Controller::set_feed_override(double factor) {
  if (std::isfinite(factor)) override_ = std::clamp(factor, 0.1, 2.0);
}

void Controller::become_idle() {
  const bool abandoned = abandoning_;
  forget_queue();
  active_.reset();
  probing_.reset();
  v_ = dwell_left_ = 0;
  if (program_) plant_.set_spindle(spindle_ = 0);
  plant_.put_beams_out();
  program_ = program_all_sent_ = abandoning_ = hold_ = false;
  ratio_ = wanted_ratio_ = 1;
  wanted_tool_ = 0;
  state_ = homed_[0] && homed_[1] && homed_[2] ? MachineState::ready : MachineState::not_homed;
  if (abandoned) message_ = fmt::format("The program was abandoned at line {}.", tag_in_hand_);
  if (std::exchange(link_lost_, false)) {
    // It braked in order, but nobody watched: the owner is asked to home before the job goes on.
    homed_ = {};
    state_ = MachineState::stopped;
    message_ = fmt::format(
        "The connection was lost at line {}, so the machine slowed down and stopped by itself. Home "
        "it before anything else.",
        tag_in_hand_);
  }
}

void Controller::stop_with(MachineState state, std::string message) {
  homing_.reset();
  link_lost_ = false;
  become_idle();
  plant_.set_spindle(spindle_ = 0);
  homed_ = {};
  state_ = state;
  message_ = std::move(message);
}

}  // namespace ypsi::standin
