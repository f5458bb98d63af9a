#include "core/procedures/measured_move.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/procedures/readiness.h"

namespace ypsi {

Result<void> MeasuredMove::start(MachineLink& link, Bench* bench, Axis axis, double distance, double rate) {
  const MachineStatus now = link.status();
  if (auto ok = ready_to_move(now, "a long move needs to know where the ends are.", axis); !ok) return ok;
  if (distance == 0 || !std::isfinite(distance))
    return fail("out_of_range", "Say how far the axis is to be told to go.");
  const auto limits = soft_limits(link, axis);
  if (!limits) return tl::make_unexpected(limits.error());
  const double sign = distance > 0 ? 1 : -1;
  if (std::fabs(distance) + take_up_mm > limits->room())
    return fail(
        "limit",
        fmt::format(
            "{} has {:.0f} mm between its soft limits; {:.0f} mm and {:.0f} mm to take up the slack do not fit.",
            letter(axis), limits->room(), std::fabs(distance), take_up_mm));
  // Start where the machine stands if there is room ahead, else as near to it as the limits allow.
  const double ahead = sign * (std::fabs(distance) + take_up_mm);
  const double place = std::clamp(now.position[axis], sign > 0 ? limits->low : limits->low - ahead,
                                  sign > 0 ? limits->high - ahead : limits->high);
  if (auto ok = legs_.start(link, {{axis, place, rate}, {axis, place + sign * take_up_mm, rate / 4}}); !ok) return ok;
  bench_ = bench;
  axis_ = axis;
  distance_ = distance;
  rate_ = rate;
  at_mark_ = measuring_ = false;
  begin(link);
  return {};
}

void MeasuredMove::step(const MachineStatus& now) {
  if (at_mark_) return;
  switch (legs_.tick(now)) {
    case Legs::State::walking:
      return;
    case Legs::State::ended:
      return fail_with(legs_.why("The move was ended before its mark; nothing was measured."));
    case Legs::State::arrived:
      break;
  }
  if (measuring_) {
    ended_at_ = now.position[axis_];
    return finish();
  }
  at_mark_ = true;
  if (!bench_) return;
  bench_->mark(axis_);
  go_on();
}

void MeasuredMove::go_on() {
  if (waits_for() != WaitsFor::act) return;
  at_mark_ = false;
  measuring_ = true;
  marked_at_ = link().status().position[axis_];
  if (const auto ok = legs_.start(link(), {{axis_, marked_at_ + distance_, rate_ / 2}}); !ok) fail_with(ok.error());
}

}  // namespace ypsi
