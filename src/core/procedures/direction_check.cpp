#include "core/procedures/direction_check.h"

#include <algorithm>

#include "core/procedures/readiness.h"

namespace ypsi {

Result<void> DirectionCheck::nudge(MachineLink& link, Axis axis, double length) {
  const MachineStatus now = link.status();
  const auto limits = soft_limits(link, axis);
  const bool limit_ahead = now.homed[index(axis)] && limits && now.position[axis] + length > limits->high;
  const double way = limit_ahead ? -1 : 1;
  if (auto moved = link.jog(axis, way * length, nudge_mm_min); !moved) return moved;
  if (asking_ != axis) axes_[index(axis)] = {};
  asking_ = axis;
  way_ = way;
  again_ = false;
  return {};
}

Result<void> DirectionCheck::answer(MachineLink& link, bool alone, bool as_the_arrow) {
  State& axis = axes_[index(*asking_)];
  if (!alone) {
    axis.verdict = DirectionVerdict::wrong_axis;
    asking_.reset();
    return {};
  }
  if (as_the_arrow) {
    axis.verdict = axis.reversed_here ? DirectionVerdict::reversed_now_right : DirectionVerdict::right;
    asking_.reset();
    return {};
  }
  const std::string setting = axis_setting(*asking_, "reversed");
  const auto now = link.setting(setting);
  if (!now) return tl::make_unexpected(now.error());
  if (auto set = link.set_setting(setting, *now != 0 ? 0 : 1); !set) return set;
  axis.reversed_here = !axis.reversed_here;
  again_ = true;
  return {};
}

std::optional<Axis> DirectionCheck::next() const {
  for (const Axis a : {Axis::z, Axis::x, Axis::y})
    if (axes_[index(a)].verdict == DirectionVerdict::not_tried) return a;
  return std::nullopt;
}

bool DirectionCheck::complete() const {
  return !next() && !asking_;
}

bool DirectionCheck::sound() const {
  return std::none_of(axes_.begin(), axes_.end(), [](const State& s) {
    return s.verdict == DirectionVerdict::not_tried || s.verdict == DirectionVerdict::wrong_axis;
  });
}

}  // namespace ypsi
