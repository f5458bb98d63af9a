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

void include_arc(Extents& extents, const ArcWay& way) {
  constexpr double pi = std::numbers::pi;
  const double low = std::min(way.start, way.start + way.sweep), high = std::max(way.start, way.start + way.sweep);
  for (int quarter = static_cast<int>(std::ceil(low / (pi / 2))); quarter * pi / 2 < high; ++quarter) {
    static constexpr double cosine[] = {1, 0, -1, 0};
    const int q = ((quarter % 4) + 4) % 4;
    const double part = (quarter * pi / 2 - way.start) / way.sweep;
    WorkPosition p;
    p[way.axes.across] = way.from[way.axes.across] + part * (way.to[way.axes.across] - way.from[way.axes.across]);
    p[way.axes.first] = way.centre_first + way.radius * cosine[q];
    p[way.axes.second] = way.centre_second + way.radius * cosine[(q + 3) % 4];
    extents.include(p.x, p.y, p.z);
  }
}

Extents around_arc(const WorkPosition& from, const Motion& motion, const Arc& arc) {
  const PlaneAxes axes = axes_of(arc.plane);
  const double u = from[axes.first] - arc.centre_first, v = from[axes.second] - arc.centre_second,
               radius = std::sqrt(u * u + v * v);
  Extents all;
  all.include(from.x, from.y, from.z);
  all.include(motion.end.x, motion.end.y, motion.end.z);
  all.low[axes.first] = std::min(all.low[axes.first], arc.centre_first - radius);
  all.high[axes.first] = std::max(all.high[axes.first], arc.centre_first + radius);
  all.low[axes.second] = std::min(all.low[axes.second], arc.centre_second - radius);
  all.high[axes.second] = std::max(all.high[axes.second], arc.centre_second + radius);
  return all;
}

double arc_sweep(const WorkPosition& from, const Motion& motion, const Arc& arc) {
  return arc_way(from, motion, arc).sweep;
}

}  // namespace ypsi
