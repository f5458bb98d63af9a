#include "core/procedures/two_approaches.h"

#include <fmt/format.h>

#include <cmath>

namespace ypsi {
namespace {
constexpr double arrival_rate_part = 0.1;  // arrivals are slow, so that nothing swings
}  // namespace

Result<void> TwoApproaches::start(MachineLink& link, Axis axis, double place, double rate) {
  const MachineStatus now = link.status();
  if (!now.homed[index(axis)])
    return fail("not_homed", "Home the machine first: places on the travel mean nothing before.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  const auto low = link.setting(axis_setting(axis, "soft_min_mm")),
             high = link.setting(axis_setting(axis, "soft_max_mm"));
  if (!low || !high) return tl::make_unexpected(low ? high.error() : low.error());
  if (!(place - run_up_mm >= *low && place + run_up_mm <= *high))
    return fail("limit", fmt::format("{} needs {:g} mm on both sides of the place to arrive from; between the soft "
                                     "limits that leaves {:.1f} to {:.1f}.",
                                     letter(axis), run_up_mm, *low + run_up_mm, *high - run_up_mm));
  link_ = &link;
  axis_ = axis;
  place_ = place;
  rate_ = rate;
  go(place - run_up_mm - now.position[axis], Stage::placing);
  if (stage_ == Stage::failed) return tl::make_unexpected(error_);
  return {};
}

void TwoApproaches::go(double distance, Stage next) {
  stage_ = next;
  const bool arrives = next == Stage::arriving_plus || next == Stage::arriving_minus;
  if (const auto moved = link_->jog(axis_, distance, arrives ? rate_ * arrival_rate_part : rate_); !moved) {
    stage_ = Stage::failed;
    error_ = moved.error();
  }
}

bool TwoApproaches::moving() const {
  return stage_ == Stage::placing || stage_ == Stage::arriving_plus || stage_ == Stage::overrunning ||
         stage_ == Stage::arriving_minus;
}

double TwoApproaches::expected() const {
  return stage_ == Stage::placing ? place_ - run_up_mm : stage_ == Stage::overrunning ? place_ + run_up_mm : place_;
}

void TwoApproaches::tick() {
  if (!moving()) return;
  const MachineStatus now = link_->status();
  if (now.state == MachineState::moving) return;
  if (!arrived(now, axis_, expected())) {
    stage_ = Stage::failed;
    error_ = Error{"stopped", "The move was ended before its place; nothing was measured there.", ""};
    return;
  }
  if (stage_ == Stage::placing)
    go(run_up_mm, Stage::arriving_plus);
  else if (stage_ == Stage::overrunning)
    go(-run_up_mm, Stage::arriving_minus);
  else
    stage_ = stage_ == Stage::arriving_plus ? Stage::read_plus : Stage::read_minus;
}

void TwoApproaches::go_on() {
  if (stage_ == Stage::read_plus) go(run_up_mm, Stage::overrunning);
}

}  // namespace ypsi
