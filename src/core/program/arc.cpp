#include "core/program/arc.h"

#include <algorithm>
#include <numbers>

namespace ypsi {

ArcWay arc_way(const WorkPosition& from, const Motion& motion, const Arc& arc) {
  constexpr double full_turn = 2 * std::numbers::pi;
  ArcWay way;
  way.axes = axes_of(arc.plane);
  way.from = from;
  way.to = motion.end;
  way.centre_first = arc.centre_first;
  way.centre_second = arc.centre_second;
  const double u = from[way.axes.first] - arc.centre_first, v = from[way.axes.second] - arc.centre_second;
  way.radius = std::hypot(u, v);
  way.start = std::atan2(v, u);
  const double end =
      std::atan2(motion.end[way.axes.second] - arc.centre_second, motion.end[way.axes.first] - arc.centre_first);
  const bool clockwise = motion.kind == MotionKind::arc_clockwise;
  double sweep = end - way.start;
  if (clockwise && sweep >= -1e-12) sweep -= full_turn;
  if (!clockwise && sweep <= 1e-12) sweep += full_turn;
  if (clockwise && sweep < -full_turn - 1e-12) sweep += full_turn;
  way.sweep = sweep;
  return way;
}

int ArcWay::chords(double tolerance) const {
  constexpr double widest = 0.5;  // rad: a small arc still looks round
  const double step = 2 * std::acos(std::max(0.0, 1 - tolerance / radius));
  return static_cast<int>(std::max(1.0, std::ceil(std::fabs(sweep) / std::min(step, widest))));
}

double arc_sweep(const WorkPosition& from, const Motion& motion, const Arc& arc) {
  return arc_way(from, motion, arc).sweep;
}

}  // namespace ypsi
