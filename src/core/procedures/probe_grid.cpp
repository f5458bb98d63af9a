#include "core/procedures/probe_grid.h"

#include <fmt/format.h>

#include <cmath>

namespace ypsi {
namespace {
constexpr int most_lines = 50;
}

std::vector<BedPoint> grid_places(const GridPlan& plan) {
  std::vector<BedPoint> places;
  for (int row = 0; row < plan.rows; ++row)
    for (int i = 0; i < plan.columns; ++i) {
      const int column = row % 2 == 0 ? i : plan.columns - 1 - i;
      places.push_back({plan.x0 + (plan.x1 - plan.x0) * column / (plan.columns - 1),
                        plan.y0 + (plan.y1 - plan.y0) * row / (plan.rows - 1), 0});
    }
  return places;
}

Result<void> ProbeGrid::start(MachineLink& link, const GridPlan& plan) {
  if (plan.columns < 2 || plan.rows < 2 || plan.columns > most_lines || plan.rows > most_lines)
    return fail("out_of_range", fmt::format("A grid has between 2 and {} columns and rows.", most_lines));
  if (!(plan.x0 < plan.x1 && plan.y0 < plan.y1) || !(plan.rate > 0))
    return fail("out_of_range", "The grid needs room along X and Y, and a rate above zero.");
  for (const auto& [axis, low, high] : {std::tuple{Axis::x, plan.x0, plan.x1}, std::tuple{Axis::y, plan.y0, plan.y1}}) {
    const auto least = link.setting(axis_setting(axis, "soft_min_mm")),
               most = link.setting(axis_setting(axis, "soft_max_mm"));
    if (!least || !most) return tl::make_unexpected(least ? most.error() : least.error());
    if (low < *least || high > *most)
      return fail("limit", fmt::format("The grid needs {} from {:.1f} to {:.1f}, and the soft limits are {:.1f} and "
                                       "{:.1f}.",
                                       letter(axis), low, high, *least, *most));
  }
  const MachineStatus now = link.status();
  if (!now.all_homed()) return fail("not_homed", "Home the machine first: what is touched has no place before.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  if (now.inputs.probe) return tl::make_unexpected(already_touching());
  link_ = &link;
  plan_ = plan;
  places_ = grid_places(plan);
  points_.clear();
  height_ = now.position.z;
  leg_ = 0;
  stage_ = Stage::crossing;
  go();
  if (stage_ == Stage::failed) return tl::make_unexpected(error_);
  return {};
}

void ProbeGrid::fail_with(Error error) {
  stage_ = Stage::failed;
  error_ = std::move(error);
}

/// The next leg of the way to the next place: up, X, Y, then the touch.
void ProbeGrid::go() {
  const BedPoint& place = places_[points_.size()];
  const std::array<std::pair<Axis, double>, 3> legs{{{Axis::z, height_}, {Axis::x, place.x}, {Axis::y, place.y}}};
  while (leg_ < 3) {
    std::tie(axis_, wanted_) = legs[static_cast<std::size_t>(leg_++)];
    const double distance = wanted_ - link_->status().position[axis_];
    if (distance == 0) continue;
    if (const auto moved = link_->jog(axis_, distance, plan_.rate); !moved) fail_with(moved.error());
    return;
  }
  stage_ = Stage::touching;
  if (const auto started = touch_.start(*link_, plan_.touch); !started) fail_with(started.error());
}

void ProbeGrid::tick() {
  if (stage_ == Stage::crossing) {
    const MachineStatus now = link_->status();
    if (now.state == MachineState::moving) return;
    if (!arrived(now, axis_, wanted_))
      return fail_with({"stopped", "The way to the next place was ended; what was touched so far stands.", ""});
    if (points_.size() < places_.size()) return go();
    stage_ = Stage::done;
  } else if (stage_ == Stage::touching) {
    touch_.tick();
    if (touch_.running()) return;
    if (touch_.stage() != Touch::Stage::done) return fail_with(touch_.error());
    BedPoint point = places_[points_.size()];
    point.z = touch_.mean_trigger();
    points_.push_back(point);
    stage_ = Stage::crossing;
    leg_ = 0;
    if (points_.size() < places_.size()) return go();
    axis_ = Axis::z;  // it ends where it began, above
    wanted_ = height_;
    if (const auto up = link_->jog(Axis::z, height_ - link_->status().position.z, plan_.rate); !up)
      fail_with(up.error());
  }
}

void ProbeGrid::cancel() {
  if (stage_ == Stage::touching) touch_.cancel();
  if (stage_ == Stage::crossing) link_->end_jog();
  if (running()) fail_with({"cancelled", "The grid was ended; what was touched so far stands.", ""});
}

}  // namespace ypsi
