#include "core/drawing_in/curves.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ypsi {
namespace {

double cross_product(PlanPoint a, PlanPoint b) {
  return a.real() * b.imag() - a.imag() * b.real();
}

/// How many equal steps keep a chord within `tolerance`, where the second derivative over the whole is at most `bend`:
/// a chord leaves its curve by at most bend/8 of the step squared.
std::size_t steps_for(double bend, double tolerance) {
  const double steps = std::ceil(std::sqrt(bend / (8 * tolerance)));
  if (!(steps >= 1)) return 1;
  return static_cast<std::size_t>(std::min(steps, static_cast<double>(most_points_of_a_curve)));
}

/// Longer half axis of the ellipse of two conjugate radii.
double longer_half(PlanPoint a, PlanPoint b) {
  const double aa = std::norm(a), bb = std::norm(b);
  return std::sqrt((aa + bb) / 2 + std::hypot((aa - bb) / 2, dot(a, b)));
}

/// How far a point is from a chord.
double off_chord(PlanPoint p, PlanPoint from, PlanPoint to) {
  const PlanPoint way = to - from;
  const double length = std::abs(way);
  return length > 0 ? std::fabs(cross_product(way, p - from)) / length : std::abs(p - from);
}

void split_span(std::vector<PlanPoint>& points, const Spline& s, double t0, PlanPoint p0, double t1, PlanPoint p1,
                double tolerance, int deeper) {
  const double middle = (t0 + t1) / 2;
  const PlanPoint pm = spline_at(s, middle);
  const double off = std::max({off_chord(pm, p0, p1), off_chord(spline_at(s, (t0 + middle) / 2), p0, p1),
                               off_chord(spline_at(s, (middle + t1) / 2), p0, p1)});
  if (deeper > 0 && off > tolerance / 2 && points.size() < most_points_of_a_curve) {
    split_span(points, s, t0, p0, middle, pm, tolerance, deeper - 1);
    split_span(points, s, middle, pm, t1, p1, tolerance, deeper - 1);
    return;
  }
  points.push_back(p1);
}

}  // namespace

EllipseArc mapped(const EllipseArc& arc, const Affine& map) {
  return {map(arc.centre), map.way(arc.a), map.way(arc.b), arc.t0, arc.t1};
}

EllipseArc bulged(PlanPoint from, PlanPoint to, double bulge) {
  const PlanPoint chord = to - from,
                  centre = (from + to) / 2.0 + PlanPoint(0, 1) * chord * ((1 - bulge * bulge) / (4 * bulge));
  const PlanPoint a = from - centre;
  return {centre, a, PlanPoint(0, 1) * a, 0, 4 * std::atan(bulge)};
}

EllipseArc svg_arc(PlanPoint from, PlanPoint to, double rx, double ry, double turn, bool large, bool sweep) {
  const PlanPoint along = std::polar(1.0, turn);
  const PlanPoint half = std::conj(along) * (from - to) / 2.0;
  const double needed = std::hypot(half.real() / rx, half.imag() / ry);
  if (needed > 1) {  // too small to reach: as large as they must be
    rx *= needed;
    ry *= needed;
  }
  // On the unit circle that the ellipse is an image of.
  const PlanPoint unit(half.real() / rx, half.imag() / ry);
  const double off = std::sqrt(std::max(0.0, 1 / std::max(std::norm(unit), 1e-300) - 1));
  const PlanPoint centre = unit * PlanPoint(0, 1) * off * (large != sweep ? -1.0 : 1.0);
  double t0 = std::arg(unit - centre), t1 = std::arg(-unit - centre);
  if (sweep && t1 < t0) t1 += 2 * std::numbers::pi;
  if (!sweep && t1 > t0) t1 -= 2 * std::numbers::pi;
  const PlanPoint c = along * PlanPoint(centre.real() * rx, centre.imag() * ry) + (from + to) / 2.0;
  return {c, along * rx, along * PlanPoint(0, ry), t0, t1};
}

bool is_sound(const Spline& s) {
  const std::size_t n = s.controls.size();
  constexpr int highest_degree = 20;
  if (s.degree < 1 || s.degree > highest_degree || n < static_cast<std::size_t>(s.degree) + 1) return false;
  if (s.knots.size() != n + static_cast<std::size_t>(s.degree) + 1) return false;
  if (!s.weights.empty() && s.weights.size() != n) return false;
  if (std::any_of(s.weights.begin(), s.weights.end(), [](double w) { return !(w > 0); })) return false;
  return std::is_sorted(s.knots.begin(), s.knots.end()) && s.knots[static_cast<std::size_t>(s.degree)] < s.knots[n];
}

PlanPoint spline_at(const Spline& s, double t) {
  const auto p = static_cast<std::size_t>(s.degree);
  const std::size_t n = s.controls.size();
  std::size_t k = p;
  while (k + 1 < n && t >= s.knots[k + 1]) ++k;
  struct Weighted {
    PlanPoint point;
    double weight = 1;
  };
  std::vector<Weighted> d(p + 1);
  for (std::size_t j = 0; j <= p; ++j) {
    const double w = s.weights.empty() ? 1 : s.weights[j + k - p];
    d[j] = {s.controls[j + k - p] * w, w};
  }
  for (std::size_t r = 1; r <= p; ++r)
    for (std::size_t j = p; j >= r; --j) {
      const double low = s.knots[j + k - p], high = s.knots[j + 1 + k - r];
      const double part = high > low ? (t - low) / (high - low) : 0;
      d[j] = {(1 - part) * d[j - 1].point + part * d[j].point, (1 - part) * d[j - 1].weight + part * d[j].weight};
    }
  return d[p].point / d[p].weight;
}

void add_arc(std::vector<PlanPoint>& points, const EllipseArc& arc, double tolerance) {
  const double sweep = arc.t1 - arc.t0;
  // In fours, so that a whole circle's points are those farthest out along X and Y, too.
  const std::size_t needed = steps_for(longer_half(arc.a, arc.b) * sweep * sweep, tolerance),
                    steps = std::fabs(sweep) > 1 ? (needed + 3) / 4 * 4 : needed;
  for (std::size_t i = 1; i <= steps; ++i)
    points.push_back(arc.at(arc.t0 + sweep * static_cast<double>(i) / static_cast<double>(steps)));
}

void add_bezier(std::vector<PlanPoint>& points, PlanPoint p0, PlanPoint p1, PlanPoint p2, PlanPoint p3,
                double tolerance) {
  const double bend = 6 * std::max(std::abs(p0 - 2.0 * p1 + p2), std::abs(p1 - 2.0 * p2 + p3));
  const std::size_t steps = steps_for(bend, tolerance);
  for (std::size_t i = 1; i < steps; ++i) {
    const double t = static_cast<double>(i) / static_cast<double>(steps), u = 1 - t;
    points.push_back(u * u * u * p0 + 3 * u * u * t * p1 + 3 * u * t * t * p2 + t * t * t * p3);
  }
  points.push_back(p3);
}

void add_spline(std::vector<PlanPoint>& points, const Spline& s, double tolerance) {
  constexpr int pieces_of_a_span = 4, deepest = 14;
  const auto p = static_cast<std::size_t>(s.degree);
  PlanPoint at = spline_at(s, s.knots[p]);
  points.push_back(at);
  if (p == 1) {  // straight from one control point to the next
    for (std::size_t i = 1; i < s.controls.size(); ++i) points.push_back(s.controls[i]);
    return;
  }
  for (std::size_t k = p; k < s.controls.size(); ++k) {
    const double low = s.knots[k], high = s.knots[k + 1];
    if (!(low < high)) continue;
    for (int i = 0; i < pieces_of_a_span; ++i) {
      const double t0 = low + (high - low) * i / pieces_of_a_span, t1 = low + (high - low) * (i + 1) / pieces_of_a_span;
      const PlanPoint to = spline_at(s, t1);
      split_span(points, s, t0, at, t1, to, tolerance, deepest);
      at = to;
    }
  }
}

}  // namespace ypsi
