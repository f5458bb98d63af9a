#include "core/procedures/mark_points.h"

#include <fmt/format.h>

#include <cmath>

namespace ypsi {
namespace {
constexpr double from_below_mm = 5;  // more than any slack
}  // namespace

Result<void> MarkPoints::start(MachineLink& link, std::vector<MarkedPoint> points, const MarkingWay& way) {
  if (points.empty()) return fail("too_few", "There is no mark to put down; choose where they go.");
  const MachineStatus now = link.status();
  if (!now.all_homed()) return fail("not_homed", "Home the machine first: places on the travel mean nothing before.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  const auto inside = [&](Axis axis, double place, const std::string& name) -> Result<void> {
    const auto low = link.setting(axis_setting(axis, "soft_min_mm")),
               high = link.setting(axis_setting(axis, "soft_max_mm"));
    if (!low || !high) return tl::make_unexpected(low ? high.error() : low.error());
    if (place >= *low && place <= *high) return {};
    return fail("limit", fmt::format("Mark {} needs {} at {:.1f}, but the soft limits are {:.1f} and {:.1f}; choose a "
                                     "smaller figure or another place.",
                                     name, letter(axis), place, *low, *high));
  };
  for (const auto& p : points)
    for (const auto& [axis, place] : {std::pair{Axis::x, p.commanded.x}, {Axis::y, p.commanded.y}})
      for (const double run_up : {0.0, from_below_mm})
        if (auto ok = inside(axis, place - run_up, p.name); !ok) return ok;
  for (const double z : {way.lift_z, way.mark_z})
    if (auto ok = inside(Axis::z, z, points.front().name); !ok) return ok;
  if (!(way.mark_z < way.lift_z))
    return fail("limit", "The safe height is not above the mark; set Z zero on the board, or a higher safe height.");
  link_ = &link;
  points_ = std::move(points);
  way_ = way;
  at_ = 0;
  plan_way_to(points_.front());
  next_leg();
  if (stage_ == Stage::failed) return tl::make_unexpected(error_);
  return {};
}

void MarkPoints::plan_way_to(const MarkedPoint& p) {
  legs_ = {{Axis::z, way_.mark_z, true},
           {Axis::y, p.commanded.y, true},
           {Axis::x, p.commanded.x, true},
           {Axis::y, p.commanded.y - from_below_mm, false},
           {Axis::x, p.commanded.x - from_below_mm, false},
           {Axis::z, way_.lift_z, false}};
}

void MarkPoints::next_leg() {
  while (!legs_.empty()) {
    const Leg leg = legs_.back();
    legs_.pop_back();
    axis_ = leg.axis;
    wanted_ = leg.place;
    stage_ = Stage::moving;
    const double distance = leg.place - link_->status().position[leg.axis];
    if (distance == 0) continue;
    if (const auto moved = link_->jog(leg.axis, distance, leg.slow ? way_.plunge_rate : way_.rate); !moved) {
      stage_ = Stage::failed;
      error_ = moved.error();
    }
    return;
  }
  stage_ = at_ < points_.size() ? Stage::on_mark : Stage::done;
}

void MarkPoints::tick() {
  if (stage_ != Stage::moving) return;
  const MachineStatus now = link_->status();
  if (now.state == MachineState::moving) return;
  if (!arrived(now, axis_, wanted_)) {
    stage_ = Stage::failed;
    error_ = Error{"stopped", "The way to the marks was ended before its end; the marks put down so far stand.", ""};
    return;
  }
  next_leg();
}

void MarkPoints::go_on() {
  if (stage_ != Stage::on_mark) return;
  if (++at_ < points_.size())
    plan_way_to(points_[at_]);
  else
    legs_ = {{Axis::z, way_.lift_z, false}};
  next_leg();
}

std::string marking_program(const std::vector<MarkedPoint>& points, double depth, double lift, double feed) {
  std::string text;
  for (const auto& p : points) text += (text.empty() ? "(marks " : " ") + p.name;
  text += ")\n(work zero: the first mark, on the surface; a pointed tool or a pen, the spindle stands)\n";
  text += fmt::format("G90 G21 G17\nG0 Z{:.3f}\n", lift);
  for (const auto& p : points) {
    const double x = p.commanded.x - points.front().commanded.x, y = p.commanded.y - points.front().commanded.y;
    text += fmt::format("(mark {})\nG0 X{:.3f} Y{:.3f}\nG1 X{:.3f} Y{:.3f} F{:.0f}\n", p.name, x - from_below_mm,
                        y - from_below_mm, x, y, feed);
    text += fmt::format("G1 Z{:.3f}\nG0 Z{:.3f}\n", -depth, lift);
  }
  return text + "M2\n";
}

}  // namespace ypsi
