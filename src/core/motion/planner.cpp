#include "core/motion/planner.h"

#include <algorithm>
#include <cmath>

#include "core/program/arc.h"

namespace ypsi {
namespace {

constexpr double speed_floor = 1e-6;

/// Along `direction`, how far the slowest axis lets a path quantity go.
template <class Limit>
double along(const std::array<double, 3>& direction, const Kinematics& kinematics, Limit limit) {
  double best = 1e9;
  for (std::size_t i = 0; i < axis_count; ++i)
    if (const double part = std::fabs(direction[i]); part > 1e-9) best = std::min(best, limit(kinematics[i]) / part);
  return best;
}

constexpr auto rate_of = [](const AxisMotionLimits& l) { return l.max_rate; };
constexpr auto acceleration = [](const AxisMotionLimits& l) { return l.acceleration; };

double wanted_speed(const Program& program, const Motion& motion) {
  return motion.kind == MotionKind::rapid ? 1e9 : program.feed_of(motion) / 60;
}

/// Of a straight move by (x, y, z).
inline Pace straight(double x, double y, double z, double speed, const Kinematics& kinematics) {
  Pace p;
  p.length = std::sqrt(x * x + y * y + z * z);
  if (p.length > 0) p.direction_in = p.direction_out = {x / p.length, y / p.length, z / p.length};
  p.v_max = std::max(speed_floor, std::min(speed, along(p.direction_in, kinematics, rate_of)));
  p.accel = along(p.direction_in, kinematics, acceleration);
  return p;
}

/// As make_segment() has it, without what only a path needs.
inline Pace pace(const Program& program, std::size_t i, const Kinematics& kinematics) {
  const Motion& motion = program.motions[i];
  const WorkPosition from = program.begin_of(i);
  if (is_arc(motion)) {
    const Segment arc = make_segment(program, from, motion, kinematics);
    return {arc.length, arc.direction_in, arc.direction_out, arc.v_max, arc.accel};
  }
  return straight(motion.end.x - from.x, motion.end.y - from.y, motion.end.z - from.z, wanted_speed(program, motion),
                  kinematics);
}

}  // namespace

std::array<double, 3> Segment::at(double distance) const {
  if (length <= 0 || distance >= length) return end;
  if (distance <= 0) return start;
  const double part = distance / length;
  std::array<double, 3> place;
  for (std::size_t i = 0; i < 3; ++i) place[i] = start[i] + (end[i] - start[i]) * part;
  if (sweep != 0) {
    const double angle = start_angle + sweep * part;
    place[first] = centre_first + radius * std::cos(angle);
    place[second] = centre_second + radius * std::sin(angle);
  }
  return place;
}

Segment make_line(const std::array<double, 3>& from, const std::array<double, 3>& to, double speed,
                  const Kinematics& kinematics) {
  Segment s{straight(to[0] - from[0], to[1] - from[1], to[2] - from[2], speed, kinematics)};
  s.start = from;
  s.end = to;
  return s;
}

Segment make_segment(const Program& program, const WorkPosition& from, const Motion& motion,
                     const Kinematics& kinematics) {
  const std::array<double, 3> a{from.x, from.y, from.z}, b{motion.end.x, motion.end.y, motion.end.z};
  const double speed = wanted_speed(program, motion);
  if (!is_arc(motion)) return make_line(a, b, speed, kinematics);

  Segment s;
  s.start = a;
  s.end = b;
  const ArcWay way = arc_way(from, motion, program.arc_of(motion));
  const std::size_t u = index(way.axes.first), v = index(way.axes.second), w = index(way.axes.across);
  s.first = static_cast<std::uint8_t>(u);
  s.second = static_cast<std::uint8_t>(v);
  s.centre_first = way.centre_first;
  s.centre_second = way.centre_second;
  s.radius = way.radius;
  s.start_angle = way.start;
  s.sweep = way.sweep;
  const double round = std::fabs(s.sweep) * s.radius, rise = b[w] - a[w];
  s.length = std::hypot(round, rise);
  if (s.length <= 0) return s;
  const double flat = round / s.length, side = s.sweep > 0 ? 1 : -1, end_angle = s.start_angle + s.sweep;
  const auto direction = [&](double angle) {
    std::array<double, 3> d{};
    d[u] = -std::sin(angle) * side * flat;
    d[v] = std::cos(angle) * side * flat;
    d[w] = rise / s.length;
    return d;
  };
  s.direction_in = direction(s.start_angle);
  s.direction_out = direction(end_angle);
  // Anywhere on the way each axis of the plane may have to carry the whole of it.
  const double accel_round = std::min(kinematics[u].acceleration, kinematics[v].acceleration);
  const double rate_round = std::min(kinematics[u].max_rate, kinematics[v].max_rate);
  std::array<double, 3> worst{flat, flat, flat};
  worst[w] = rise / s.length;
  s.accel = along(worst, kinematics, acceleration);
  s.v_max = std::max(speed_floor, std::min({speed, along(worst, kinematics, rate_of), rate_round / std::max(flat, 1e-9),
                                            std::sqrt(accel_round * s.radius) / std::max(flat, 1e-9)}));
  return s;
}

double corner_speed(const Pace& before, const Pace& after, const Kinematics& kinematics) {
  double v = std::min(before.v_max, after.v_max);
  for (std::size_t i = 0; i < axis_count; ++i) {
    const double jump = std::fabs(after.direction_in[i] - before.direction_out[i]);
    if (jump > 1e-9) v = std::min(v, kinematics[i].acceleration * corner_time_s / jump);
  }
  return v;
}

LookAhead::Planned LookAhead::take(double v_in) {
  const std::size_t n = std::min(queue_.size(), window_);
  double v_out = 0;  // after the last segment seen, standing still is always right
  for (std::size_t i = n; i-- > 1;) {
    const Segment& s = queue_[i];
    v_out = std::min(corner_speed(queue_[i - 1], s, kinematics_), std::sqrt(v_out * v_out + 2 * s.accel * s.length));
  }
  const Segment first = queue_.front();
  queue_.pop_front();
  return {first, Trapezoid(first.length, std::min(v_in, first.v_max), first.v_max, v_out, first.accel)};
}

TimeEstimate estimate_time(const Program& program, const Kinematics& kinematics) {
  TimeEstimate estimate;
  const std::size_t n = program.motions.size();
  // Until a motion's end is known, its place holds the fastest speed, mm/s, at which it may end.
  estimate.end_s.resize(n);
  // One stretch after the other: the machine stands still at every event and at the end.
  std::size_t next_event = 0;
  for (std::size_t from = 0, to = 0; from < n; from = to) {
    for (; next_event < program.events.size() && program.events[next_event].before <= from; ++next_event)
      if (program.events[next_event].kind == EventKind::dwell) estimate.total_s += program.events[next_event].value;
    to = next_event < program.events.size() ? program.events[next_event].before : n;
    Pace after = pace(program, to - 1, kinematics);
    for (std::size_t i = to - 1; i > from; --i) {
      const auto out = static_cast<double>(estimate.end_s[i]);
      const Pace before = pace(program, i - 1, kinematics);
      estimate.end_s[i - 1] = static_cast<float>(
          std::min(corner_speed(before, after, kinematics), std::sqrt(out * out + 2 * after.accel * after.length)));
      after = before;
    }
    double v = 0;
    for (std::size_t i = from; i < to; ++i) {
      const Pace s = pace(program, i, kinematics);
      const Trapezoid profile(s.length, std::min(v, s.v_max), s.v_max, static_cast<double>(estimate.end_s[i]), s.accel);
      v = profile.v_out();
      estimate.total_s += profile.duration();
      if (is_cut(program.motions[i])) estimate.cutting_s += profile.duration();
      estimate.end_s[i] = static_cast<float>(estimate.total_s);
    }
  }
  return estimate;
}

}  // namespace ypsi
