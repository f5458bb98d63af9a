#pragma once
// An arc's way in its plane. The planes are numbered as their words are: 17 XY, 18 ZX, 19 YZ (RS274/NGC 3.5.2); in each
// the way runs from the first axis towards the second, seen from the third's plus side.
#include <cmath>

#include "core/program/program.h"

namespace ypsi {

struct PlaneAxes {
  Axis first, second, across;
};
constexpr PlaneAxes axes_of(Plane plane) {
  switch (plane) {
    case Plane::zx:
      return {Axis::z, Axis::x, Axis::y};
    case Plane::yz:
      return {Axis::y, Axis::z, Axis::x};
    default:
      return {Axis::x, Axis::y, Axis::z};
  }
}

/// Sweep of an arc from `from` to `motion.end` about its centre, radians, > 0 counter-clockwise, never 0: equal ends
/// make a full circle.
double arc_sweep(const WorkPosition& from, const Motion& motion, const Arc& arc);

/// The same with all that is needed to go along it.
struct ArcWay {
  PlaneAxes axes{};
  WorkPosition from, to;
  double centre_first = 0, centre_second = 0, radius = 0, start = 0, sweep = 0;
  /// Place after `part` of it, 0 to 1; the radius is the start's.
  WorkPosition at(double part) const {
    WorkPosition p;
    const double angle = start + sweep * part;
    p[axes.first] = centre_first + radius * std::cos(angle);
    p[axes.second] = centre_second + radius * std::sin(angle);
    p[axes.across] = from[axes.across] + (to[axes.across] - from[axes.across]) * part;
    return p;
  }
  /// How many chords of the same sweep stay within `tolerance` mm (> 0) of it; at least 1.
  int chords(double tolerance) const;
  double length() const { return std::hypot(radius * sweep, to[axes.across] - from[axes.across]); }
};
ArcWay arc_way(const WorkPosition& from, const Motion& motion, const Arc& arc);

/// A box that an arc does not leave: its whole circle's. Quick.
Extents around_arc(const WorkPosition& from, const Motion& motion, const Arc& arc);

/// Takes in how far an arc bulges, exactly; its ends are the caller's.
void include_arc(Extents& extents, const ArcWay& way);

}  // namespace ypsi
