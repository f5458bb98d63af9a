#include "core/procedures/measured_move.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ypsi {

Result<void> MeasuredMove::start(MachineLink& link, Bench& bench, Axis axis, double distance, double rate) {
  const MachineStatus now = link.status();
  if (!now.homed[index(axis)])
    return fail("not_homed", "Home the machine first: a long move needs to know where the ends are.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  if (distance == 0 || !std::isfinite(distance))
    return fail("out_of_range", "Say how far the axis is to be told to go.");
  const auto low = link.setting(axis_setting(axis, "soft_min_mm")),
             high = link.setting(axis_setting(axis, "soft_max_mm"));
  if (!low || !high) return tl::make_unexpected(low ? high.error() : low.error());
  const double sign = distance > 0 ? 1 : -1, room = *high - *low;
  if (std::fabs(distance) + take_up_mm > room)
    return fail(
        "limit",
        fmt::format(
            "{} has {:.0f} mm between its soft limits; {:.0f} mm and {:.0f} mm to take up the slack do not fit.",
            letter(axis), room, std::fabs(distance), take_up_mm));
  // Start where the machine stands if there is room ahead, else as near to it as the limits allow.
  const double ahead = sign * (std::fabs(distance) + take_up_mm);
  start_at_ = std::clamp(now.position[axis], sign > 0 ? *low : *low - ahead, sign > 0 ? *high - ahead : *high);
  link_ = &link;
  bench_ = &bench;
  axis_ = axis;
  distance_ = distance;
  rate_ = rate;
  stage_ = Stage::place;
  state_ = MeasuredMoveState::running;
  go(start_at_ - now.position[axis], rate_);
  return {};
}

void MeasuredMove::go(double distance, double rate) {
  if (const auto moved = link_->jog(axis_, distance, rate); !moved) {
    state_ = MeasuredMoveState::failed;
    error_ = moved.error();
  }
}

void MeasuredMove::next() {
  const double sign = distance_ > 0 ? 1 : -1;
  if (stage_ == Stage::place) {
    stage_ = Stage::take_up;
    go(sign * take_up_mm, rate_ / 4);
  } else if (stage_ == Stage::take_up) {
    stage_ = Stage::measure;
    bench_->mark(axis_);
    marked_at_ = link_->status().position[axis_];
    go(distance_, rate_ / 2);
  } else {
    ended_at_ = link_->status().position[axis_];
    state_ = MeasuredMoveState::done;
  }
}

void MeasuredMove::tick() {
  if (state_ != MeasuredMoveState::running) return;
  const MachineStatus now = link_->status();
  if (now.state == MachineState::moving) return;
  // A hold in between leaves the axis short of where the stage ends.
  const double sign = distance_ > 0 ? 1 : -1;
  const double wanted =
      start_at_ + (stage_ == Stage::place ? 0 : sign * take_up_mm) + (stage_ == Stage::measure ? distance_ : 0);
  if (!arrived(now, axis_, wanted)) {
    state_ = MeasuredMoveState::failed;
    error_ = Error{"stopped", "The move was ended before its mark; nothing was measured.", ""};
    return;
  }
  next();
}

}  // namespace ypsi
