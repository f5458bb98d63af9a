#include "core/procedures/procedure.h"

#include <utility>

namespace ypsi {

bool stands(MachineState state) {
  return state != MachineState::moving && state != MachineState::cutting && state != MachineState::held;
}

void Procedure::begin(MachineLink& link) {
  link_ = &link;
  phase_ = Phase::running;
  error_ = {};
  lent_.clear();
}

Result<void> Procedure::begun() const {
  if (phase_ == Phase::failed || phase_ == Phase::ending) return tl::make_unexpected(error_);
  return {};
}

void Procedure::tick() {
  if (!running()) return;
  const MachineStatus now = link_->status();
  if (now.state == MachineState::offline)
    return part_from_link({"offline", now.message.empty() ? "The line to the machine was lost." : now.message, ""});
  if (phase_ == Phase::ending) return settle();
  // Whoever waits for a person notices here that the machine was stopped meanwhile.
  if (now.state == MachineState::emergency_stop || (now.state == MachineState::stopped && needs() != WaitsFor::machine))
    return fail_with({"stopped", now.message.empty() ? "The machine was stopped." : now.message, ""});
  step(now);
}

void Procedure::cancel(Error why) {
  if (phase_ != Phase::running) return;
  link_->abandon();
  fail_with(std::move(why));
}

void Procedure::part_from_link(Error why) {
  if (!running()) return;
  if (phase_ == Phase::running) error_ = std::move(why);
  // Where it still answers, as when another machine is chosen, nothing stays lent.
  if (link_->status().state != MachineState::offline) {
    link_->abandon();
    (void)put_back();
  }
  phase_ = Phase::failed;
  link_ = nullptr;
}

void Procedure::end(Phase phase, Error error) {
  if (!running()) return;
  ends_as_ = phase;
  error_ = std::move(error);
  phase_ = Phase::ending;
  settle();
}

/// The last of it, once the machine stands: what was lent goes back.
void Procedure::settle() {
  if (!stands(link_->status().state)) return;
  if (const auto back = put_back(); !back) {
    if (back.error().code == "busy") return;
    error_.message += (error_.message.empty() ? "" : " ") +
                      ("A setting that was changed for it could not be put back: " + back.error().message);
    ends_as_ = Phase::failed;
  }
  phase_ = ends_as_;
  link_ = nullptr;
}

Result<void> Procedure::lend(const std::string& name, double value) {
  const auto found = link_->setting(name);
  if (!found) return tl::make_unexpected(found.error());
  if (auto set = link_->set_setting(name, value); !set) return set;
  lent_.push_back({name, *found});
  return {};
}

Result<void> Procedure::put_back() {
  while (!lent_.empty()) {
    if (auto set = link_->set_setting(lent_.back().name, lent_.back().found); !set) return set;
    lent_.pop_back();
  }
  return {};
}

}  // namespace ypsi
