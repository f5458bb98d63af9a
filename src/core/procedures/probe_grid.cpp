#include "core/procedures/probe_grid.h"

#include <fmt/format.h>

#include <cmath>

#include "core/procedures/readiness.h"

namespace ypsi {
namespace {
constexpr int most_grid_lines = 50;
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
  if (plan.columns < 2 || plan.rows < 2 || plan.columns > most_grid_lines || plan.rows > most_grid_lines)
    return fail("out_of_range", fmt::format("A grid has between 2 and {} columns and rows.", most_grid_lines));
  if (!(plan.x0 < plan.x1 && plan.y0 < plan.y1) || !(plan.rate > 0))
    return fail("out_of_range", "The grid needs room along X and Y, and a rate above zero.");
  const MachineStatus now = link.status();
  if (auto ok = ready_to_move(now, "what is touched has no place before."); !ok) return ok;
  for (const auto& [axis, place] :
       {std::pair{Axis::x, plan.x0}, {Axis::x, plan.x1}, {Axis::y, plan.y0}, {Axis::y, plan.y1}})
    if (auto ok = inside_travel(link, axis, place, "The grid", "choose a smaller one."); !ok) return ok;
  if (now.inputs.probe) return tl::make_unexpected(already_touching());
  plan_ = plan;
  places_ = grid_places(plan);
  points_.clear();
  height_ = now.position.z;
  touching_ = false;
  if (auto ok = legs_.start(link, next_way()); !ok) return ok;
  begin(link);
  return {};
}

std::vector<Leg> ProbeGrid::next_way() const {
  std::vector<Leg> way{{Axis::z, height_, plan_.rate}};  // it ends where it began, above
  if (points_.size() == places_.size()) return way;
  const BedPoint& place = places_[points_.size()];
  way.push_back({Axis::x, place.x, plan_.rate});
  way.push_back({Axis::y, place.y, plan_.rate});
  return way;
}

void ProbeGrid::step(const MachineStatus& now) {
  if (touching_) {
    touch_.tick();
    if (touch_.running()) return;
    if (touch_.phase() != Phase::done) return fail_with(touch_.error());
    touching_ = false;
    BedPoint point = places_[points_.size()];
    point.z = touch_.mean_trigger();
    points_.push_back(point);
    if (const auto ok = legs_.start(link(), next_way()); !ok) fail_with(ok.error());
    return;
  }
  const auto state = legs_.tick(now);
  if (state == Legs::State::walking) return;
  if (state == Legs::State::ended)
    return fail_with(legs_.why("The way to the next place was ended; what was touched so far stands."));
  if (points_.size() == places_.size()) return finish();
  touching_ = true;
  if (const auto ok = touch_.start(link(), plan_.touch); !ok) fail_with(ok.error());
}

}  // namespace ypsi
