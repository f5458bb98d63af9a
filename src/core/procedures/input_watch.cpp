#include "core/procedures/input_watch.h"

#include <algorithm>

namespace ypsi {

bool is_on(const MachineInputs& inputs, InputId input) {
  switch (input) {
    case InputId::probe:
      return inputs.probe;
    case InputId::emergency_stop:
      return inputs.emergency_stop;
    default:
      return inputs.home_switch[static_cast<std::size_t>(input)];
  }
}

const char* input_key(InputId input) {
  static constexpr const char* keys[] = {"switch_x", "switch_y", "switch_z", "probe", "emergency_stop"};
  return keys[static_cast<std::size_t>(input)];
}

std::string inverting_setting(InputId input) {
  if (input == InputId::emergency_stop) return {};
  if (input == InputId::probe) return "probe.inverted";
  return axis_setting(all_axes[static_cast<std::size_t>(input)], "switch_inverted");
}

const char* name(InputVerdict verdict) {
  static constexpr const char* names[] = {"not_tried", "works", "reversed", "stuck_off", "stuck_on", "swapped"};
  return names[static_cast<std::size_t>(verdict)];
}

void InputWatch::settle(InputVerdict verdict, std::optional<InputId> by) {
  at(*asked_).verdict = verdict;
  at(*asked_).answered_by = by;
  asked_.reset();
}

void InputWatch::see(const MachineInputs& now) {
  bool another_came_back = false;
  InputId another{};
  for (const InputId i : there_) {
    const std::size_t n = static_cast<std::size_t>(i);
    Seen& s = seen_[n];
    const bool on = is_on(now, i), was = s.now;
    s.now = on;
    (on ? s.on : s.off) = true;
    if (!asked_) continue;
    if (on != when_asked_[n]) changed_[n] = true;
    const bool came_back = changed_[n] && was != on && on == when_asked_[n];
    if (came_back && i == *asked_) return settle(on ? InputVerdict::reversed : InputVerdict::works);
    if (came_back) {
      another_came_back = true;
      another = i;
    }
  }
  // Only when the one that was asked for did not answer at all.
  if (asked_ && another_came_back && !changed_[static_cast<std::size_t>(*asked_)])
    settle(InputVerdict::swapped, another);
}

void InputWatch::ask(InputId input) {
  at(input).verdict = InputVerdict::not_tried;
  at(input).answered_by.reset();
  asked_ = input;
  changed_ = {};
  for (const InputId i : all_inputs) when_asked_[static_cast<std::size_t>(i)] = at(i).now;
}

void InputWatch::pressed() {
  const bool on = at(*asked_).now;
  if (changed_[static_cast<std::size_t>(*asked_)])  // it changed and stayed: it jams where it is
    return settle(on ? InputVerdict::stuck_on : InputVerdict::stuck_off);
  for (const InputId i : there_)
    if (changed_[static_cast<std::size_t>(i)]) return settle(InputVerdict::swapped, i);
  settle(on ? InputVerdict::stuck_on : InputVerdict::stuck_off);
}

std::optional<InputId> InputWatch::next() const {
  for (const InputId i : there_)
    if ((*this)[i].verdict == InputVerdict::not_tried) return i;
  return std::nullopt;
}

bool InputWatch::sound() const {
  return std::all_of(there_.begin(), there_.end(),
                     [this](InputId i) { return (*this)[i].verdict == InputVerdict::works; });
}

}  // namespace ypsi
