#include "standin/faces/block_runner.h"

#include <algorithm>

namespace ypsi::standin {
namespace {

constexpr const char* wait_for_it = "What was taken before is not done yet.";

bool is_under_way(MachineState state) {
  return state == MachineState::moving || state == MachineState::cutting || state == MachineState::held ||
         state == MachineState::tool_change;
}

}  // namespace

bool BlockRunner::idle() const {
  const MachineState state = controller_.status().state;
  if (state == MachineState::held || state == MachineState::tool_change) return false;
  return open_ && is_under_way(state) ? controller_.has_nothing_to_do() : !is_under_way(state);
}

/// What is open is closed first, since a controller that runs a program takes nothing else.
Result<void> BlockRunner::closed() {
  const MachineState state = controller_.status().state;
  if (!is_under_way(state)) {
    open_ = false;
    return {};
  }
  if (open_ && controller_.has_nothing_to_do()) controller_.end_program();
  return fail("full", wait_for_it);
}

Result<void> BlockRunner::take(std::string_view block) {
  const MachineStatus now = controller_.status();
  if (open_ && !is_under_way(now.state)) open_ = false;  // it has ended, or was ended
  if (now.state == MachineState::emergency_stop) return fail("stopped", "the emergency stop is pressed");
  if (!open_) {
    if (is_under_way(now.state)) return fail("full", wait_for_it);
    if (!now.all_homed()) return move_unhomed(block);
    if (auto ok = controller_.begin_program(); !ok) return ok;
    open_ = true;
  }
  return controller_.send(block, ++tag_);
}

Result<void> BlockRunner::move_unhomed(std::string_view block) {
  Program read;
  const WorkPosition from = unhomed_.state().at;
  if (auto ok = unhomed_.line(block, 1, read); !ok) return ok;
  if (read.motions.empty()) return {};
  const WorkPosition to = read.motions.back().end;
  for (const Axis axis : all_axes)
    if (const double distance = to[axis] - from[axis]; distance != 0)
      return controller_.jog(axis, distance, read.feed_of(read.motions.back()));
  return {};
}

Result<void> BlockRunner::home() {
  if (auto ok = closed(); !ok) return ok;
  return controller_.home();
}

Result<void> BlockRunner::jog(Axis axis, double distance, double rate) {
  if (auto ok = closed(); !ok) return ok;
  return controller_.jog(axis, distance, rate);
}

Result<void> BlockRunner::set(std::string_view setting, double value) {
  if (auto ok = closed(); !ok) return ok;
  return controller_.set_setting(setting, value);
}

void BlockRunner::abandon() {
  if (open_)
    controller_.abandon();
  else
    controller_.end_jog();
  open_ = false;
}

void BlockRunner::stop() {
  controller_.stop();
  open_ = false;
}

void BlockRunner::go_on() {
  if (const MachineStatus now = controller_.status(); now.state == MachineState::tool_change)
    controller_.tool_changed(now.wanted_tool);
  else
    controller_.go_on();
}

void BlockRunner::started_again() {
  open_ = false;
  unhomed_ = Interpreter();
}

std::optional<Error> BlockRunner::take_refusal() {
  auto refusal = controller_.status().refusal;
  if (refusal) controller_.forget_refusal();
  return refusal;
}

}  // namespace ypsi::standin
