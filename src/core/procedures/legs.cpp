#include "core/procedures/legs.h"

#include <utility>

namespace ypsi {

Result<void> Legs::start(MachineLink& link, std::vector<Leg> legs) {
  link_ = &link;
  legs_ = std::move(legs);
  at_ = 0;
  why_ = {};
  on_the_way_ = false;
  return next();
}

Result<void> Legs::next() {
  for (; at_ < legs_.size(); ++at_) {
    const Leg& leg = legs_[at_];
    const double distance = leg.place - link_->status().position[leg.axis];
    if (distance == 0) continue;
    auto moved = link_->jog(leg.axis, distance, leg.rate);
    on_the_way_ = moved.has_value();
    return moved;
  }
  return {};
}

Legs::State Legs::tick(const MachineStatus& now) {
  if (std::exchange(on_the_way_, false)) {
    if (now.state == MachineState::moving) {
      on_the_way_ = true;
      return State::walking;
    }
    if (!arrived(*link_, now, legs_[at_].axis, legs_[at_].place)) {
      if (now.refusal) why_ = *now.refusal;
      return State::ended;
    }
    ++at_;
    if (const auto ok = next(); !ok) {
      why_ = ok.error();
      return State::ended;
    }
    if (on_the_way_) return State::walking;
  }
  return at_ >= legs_.size() ? State::arrived : State::ended;
}

}  // namespace ypsi
