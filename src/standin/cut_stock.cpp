#include "standin/cut_stock.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace ypsi::standin {
namespace {

constexpr std::size_t longest_stretch = 32;  // points looked back at; a longer straight becomes several sweeps

/// The square of how far a point lies from the stretch from `a` to `b`, mm².
double off_the_stretch2(const Point3& p, const Point3& a, const Point3& b) {
  const Point3 d{b[0] - a[0], b[1] - a[1], b[2] - a[2]}, r{p[0] - a[0], p[1] - a[1], p[2] - a[2]};
  const double length2 = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
  const double t = length2 > 0 ? std::clamp((r[0] * d[0] + r[1] * d[1] + r[2] * d[2]) / length2, 0.0, 1.0) : 0;
  const Point3 off{r[0] - t * d[0], r[1] - t * d[1], r[2] - t * d[2]};
  return off[0] * off[0] + off[1] * off[1] + off[2] * off[2];
}

/// The part of a sweep's way, 0 to 1, on which the tip is below `level`.
std::optional<Interval> below(const Sweep& s, double level) {
  const double rise = s.to[2] - s.from[2];
  if (rise == 0) return s.from[2] < level ? std::optional(Interval{0, 1}) : std::nullopt;
  const double t = (level - s.from[2]) / rise;
  const Interval part = rise > 0 ? Interval{0, std::min(t, 1.0)} : Interval{std::max(t, 0.0), 1};
  return part.low <= part.high && part.high >= 0 && part.low <= 1 ? std::optional(part) : std::nullopt;
}

void widen(std::optional<Interval>& into, double low, double high) {
  if (into)
    *into = {std::min(into->low, low), std::max(into->high, high)};
  else
    into = Interval{low, high};
}

}  // namespace

std::vector<Interval> gaps_along(std::span<const Sweep> sweeps, std::array<double, 2> origin,
                                 std::array<double, 2> direction, double level) {
  std::vector<Interval> found;
  // In the line's own frame: u along it, v across.
  const auto along = [&](double x, double y) {
    const double dx = x - origin[0], dy = y - origin[1];
    return std::array<double, 2>{dx * direction[0] + dy * direction[1], dy * direction[0] - dx * direction[1]};
  };
  for (const Sweep& s : sweeps) {
    const auto part = below(s, level);
    if (!part) continue;
    const auto place = [&](double t) {
      return along(s.from[0] + t * (s.to[0] - s.from[0]), s.from[1] + t * (s.to[1] - s.from[1]));
    };
    const auto a = place(part->low), b = place(part->high);
    const double r = s.radius;
    if (std::min(a[1], b[1]) > r || std::max(a[1], b[1]) < -r) continue;
    // The swept outline is convex: its two round ends and the straight sides between meet the line in one interval.
    std::optional<Interval> met;
    for (const auto& c : {a, b})
      if (std::fabs(c[1]) <= r) {
        const double half = std::sqrt(r * r - c[1] * c[1]);
        widen(met, c[0] - half, c[0] + half);
      }
    const double du = b[0] - a[0], dv = b[1] - a[1], length = std::hypot(du, dv);
    if (length > 0 && dv != 0)
      for (const double side : {-1.0, 1.0}) {
        const double u0 = a[0] - side * r * dv / length, v0 = a[1] + side * r * du / length, t = -v0 / dv;
        if (t >= 0 && t <= 1) widen(met, u0 + t * du, u0 + t * du);
      }
    if (met) found.push_back(*met);
  }
  std::sort(found.begin(), found.end(), [](const Interval& l, const Interval& r) { return l.low < r.low; });
  std::vector<Interval> apart;
  for (const Interval& i : found) {
    if (!apart.empty() && i.low <= apart.back().high)
      apart.back().high = std::max(apart.back().high, i.high);
    else
      apart.push_back(i);
  }
  return apart;
}

double floor_at(std::span<const Sweep> sweeps, double x, double y, double untouched) {
  double lowest = untouched;
  for (const Sweep& s : sweeps) {
    const double dx = s.to[0] - s.from[0], dy = s.to[1] - s.from[1], rx = x - s.from[0], ry = y - s.from[1];
    const double length2 = dx * dx + dy * dy;
    Interval part{0, 1};  // of its way on which the tool covers the point
    if (length2 > 0) {
      const double middle = (rx * dx + ry * dy) / length2, across2 = rx * rx + ry * ry - middle * middle * length2;
      const double half2 = (s.radius * s.radius - across2) / length2;
      if (half2 < 0) continue;
      part = {std::max(0.0, middle - std::sqrt(half2)), std::min(1.0, middle + std::sqrt(half2))};
      if (part.low > part.high) continue;
    } else if (rx * rx + ry * ry > s.radius * s.radius) {
      continue;
    }
    const double rise = s.to[2] - s.from[2];
    lowest = std::min(lowest, s.from[2] + rise * (rise < 0 ? part.high : part.low));
  }
  return lowest;
}

void CutStock::cut_to(const Point3& tip, double radius) {
  if (!path_.empty() && radius != radius_) lift();
  radius_ = radius;
  if (path_.empty()) {
    path_.push_back(tip);
    return;
  }
  if (tip == path_.back()) return;
  if (path_.size() >= longest_stretch || !stretches_to(tip)) close_stretch(path_.back());
  path_.push_back(tip);
}

/// Asked at every step of a cut. What lay near the stretch so far lies no further from the new one than by what its end
/// lies off that, so most steps are told without another look at all that came before.
bool CutStock::stretches_to(const Point3& tip) {
  off_ += std::sqrt(off_the_stretch2(path_.back(), path_.front(), tip));
  if (off_ < tolerance_) return true;
  double off2 = 0;
  for (const Point3& p : path_) off2 = std::max(off2, off_the_stretch2(p, path_.front(), tip));
  off_ = std::sqrt(off2);
  return off_ <= tolerance_;
}

void CutStock::close_stretch(const Point3& to) {
  const Point3 end = to;
  sweeps_.push_back({path_.front(), end, radius_});
  path_.assign(1, end);
  off_ = 0;
}

void CutStock::lift() {
  if (!path_.empty()) close_stretch(path_.back());
  path_.clear();
}

void CutStock::clear() {
  path_.clear();
  off_ = 0;
  sweeps_.clear();
}

std::span<const Sweep> CutStock::sweeps() {
  if (path_.size() > 1) close_stretch(path_.back());
  return sweeps_;
}

}  // namespace ypsi::standin
