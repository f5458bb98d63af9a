#include "core/procedures/mark_points.h"

#include <fmt/format.h>

#include <cmath>

#include "core/calibration/squareness.h"
#include "core/procedures/readiness.h"
#include "core/program/program_head.h"

namespace ypsi {
namespace {
constexpr double from_below_mm = 5;  // more than any slack
}  // namespace

Result<void> MarkPoints::start(MachineLink& link, std::vector<MarkedPoint> points, const MarkingWay& way) {
  if (points.empty()) return fail("too_few", "There is no mark to put down; choose where they go.");
  if (auto ok = ready_to_move(link.status(), "places on the travel mean nothing before."); !ok) return ok;
  const auto inside = [&](Axis axis, double place, const std::string& name) {
    return inside_travel(link, axis, place, "Mark " + name, "choose a smaller figure or another place.");
  };
  for (const auto& p : points)
    for (const auto& [axis, place] : {std::pair{Axis::x, p.commanded.x}, {Axis::y, p.commanded.y}})
      for (const double run_up : {0.0, from_below_mm})
        if (auto ok = inside(axis, place - run_up, p.name); !ok) return ok;
  for (const double z : {way.lift_z, way.mark_z})
    if (auto ok = inside(Axis::z, z, points.front().name); !ok) return ok;
  if (!(way.mark_z < way.lift_z))
    return fail("limit", "The safe height is not above the mark; set Z zero on the board, or a higher safe height.");
  points_ = std::move(points);
  way_ = way;
  at_ = 0;
  on_mark_ = false;
  if (auto ok = legs_.start(link, way_to(points_.front())); !ok) return ok;
  begin(link);
  return {};
}

std::vector<Leg> MarkPoints::way_to(const MarkedPoint& p) const {
  return {{Axis::z, way_.lift_z, way_.rate},
          {Axis::x, p.commanded.x - from_below_mm, way_.rate},
          {Axis::y, p.commanded.y - from_below_mm, way_.rate},
          {Axis::x, p.commanded.x, way_.plunge_rate},
          {Axis::y, p.commanded.y, way_.plunge_rate},
          {Axis::z, way_.mark_z, way_.plunge_rate}};
}

void MarkPoints::step(const MachineStatus& now) {
  if (on_mark_) return;
  switch (legs_.tick(now)) {
    case Legs::State::walking:
      return;
    case Legs::State::ended:
      return fail_with(legs_.why("The way to the marks was ended before its end; the marks put down so far stand."));
    case Legs::State::arrived:
      break;
  }
  if (at_ < points_.size())
    on_mark_ = true;
  else
    finish();
}

void MarkPoints::go_on() {
  if (!on_mark()) return;
  on_mark_ = false;
  ++at_;
  const std::vector<Leg> up{{Axis::z, way_.lift_z, way_.rate}};
  if (const auto ok = legs_.start(link(), at_ < points_.size() ? way_to(points_[at_]) : up); !ok) fail_with(ok.error());
}

std::string marking_program(const std::vector<MarkedPoint>& points, double depth, double lift, double feed, int frame) {
  ProgramHead head;
  head.remarks = {"marks"};
  for (const auto& p : points) head.remarks.front() += " " + p.name;
  head.zero = "the first mark, on the surface; a pointed tool or a pen, the spindle stands";
  head.frame = frame;
  head.lift = lift;
  std::string text = program_head(head);
  for (const auto& p : points) {
    const double x = p.commanded.x - points.front().commanded.x, y = p.commanded.y - points.front().commanded.y;
    text += fmt::format("(mark {})\nG0 X{:.3f} Y{:.3f}\nG1 X{:.3f} Y{:.3f} F{:.0f}\n", p.name, x - from_below_mm,
                        y - from_below_mm, x, y, feed);
    text += fmt::format("G1 Z{:.3f}\nG0 Z{:.3f}\n", -depth, lift);
  }
  return text + "M2\n";
}

}  // namespace ypsi
