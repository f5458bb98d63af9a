#include "core/program/envelope.h"

#include "core/program/tool_shape.h"

#include <algorithm>
#include <cmath>

namespace ypsi {
namespace {

/// Part of a way, both within 0 to 1; empty where low > high.
struct Part {
  double low = 1, high = 0;
  bool empty() const { return low > high; }
  void join(const Part& other) {
    if (other.empty()) return;
    *this = empty() ? other : Part{std::min(low, other.low), std::max(high, other.high)};
  }
};

/// Where `a + t·d` lies within low to high.
Part within(double a, double d, double low, double high) {
  if (std::fabs(d) < 1e-12) return a >= low && a <= high ? Part{0, 1} : Part{};
  const double t0 = (low - a) / d, t1 = (high - a) / d;
  return {std::max(0.0, std::min(t0, t1)), std::min(1.0, std::max(t0, t1))};
}

Part both(const Part& a, const Part& b) {
  if (a.empty() || b.empty()) return {};
  return {std::max(a.low, b.low), std::min(a.high, b.high)};
}

Part within_circle(double x, double y, double dx, double dy, double radius) {
  const double a = dx * dx + dy * dy, b = x * dx + y * dy, c = x * x + y * y - radius * radius;
  if (a < 1e-18) return c <= 0 ? Part{0, 1} : Part{};
  const double root = b * b - a * c;
  if (root < 0) return {};
  const double r = std::sqrt(root);
  return {std::max(0.0, (-b - r) / a), std::min(1.0, (-b + r) / a)};
}

}  // namespace

std::vector<HangingPart> hanging_parts(const Tool* tool, const Spindle& spindle) {
  std::vector<HangingPart> parts;
  if (!tool) return parts;
  if (tool->diameter > 0)
    for (const ToolRing& ring : rings(tool)) parts.push_back({HangingPart::Kind::tool, ring.radius, ring.low});
  if (!(tool->length_out > 0)) return parts;
  if (spindle.nut_diameter > 0) parts.push_back({HangingPart::Kind::nut, spindle.nut_diameter / 2, tool->length_out});
  if (spindle.boot_diameter > 0)
    parts.push_back({HangingPart::Kind::boot, spindle.boot_diameter / 2,
                     tool->length_out + spindle.nut_length - spindle.boot_drop});
  return parts;
}

std::optional<Meeting> meets(const Box& box, double radius, double above_tip, const WorkPosition& from,
                             const WorkPosition& to) {
  // Quick ways out: wholly above or wholly beside.
  if (std::min(from.z, to.z) + above_tip >= box.top) return std::nullopt;
  if (std::max(from.x, to.x) + radius <= box.x0 || std::min(from.x, to.x) - radius >= box.x1 ||
      std::max(from.y, to.y) + radius <= box.y0 || std::min(from.y, to.y) - radius >= box.y1)
    return std::nullopt;
  const double dx = to.x - from.x, dy = to.y - from.y;
  // The box grown by the radius: two bands and four corners, together convex, so that the way is in it in one piece.
  Part in = both(within(from.x, dx, box.x0 - radius, box.x1 + radius), within(from.y, dy, box.y0, box.y1));
  in.join(both(within(from.x, dx, box.x0, box.x1), within(from.y, dy, box.y0 - radius, box.y1 + radius)));
  for (const double x : {box.x0, box.x1})
    for (const double y : {box.y0, box.y1}) in.join(within_circle(from.x - x, from.y - y, dx, dy, radius));
  if (in.empty()) return std::nullopt;
  const double t = to.z < from.z ? in.high : in.low;
  const WorkPosition at{from.x + t * dx, from.y + t * dy, from.z + t * (to.z - from.z)};
  const double depth = box.top - (at.z + above_tip);
  if (!(depth > 0)) return std::nullopt;
  return Meeting{depth, at};
}

namespace {
/// From the rim of a disc round (x, y) to the box, seen from above; below 0 where it reaches in.
double beside(const Box& box, double radius, double x, double y) {
  const double dx = std::max({box.x0 - x, 0.0, x - box.x1}), dy = std::max({box.y0 - y, 0.0, y - box.y1});
  return std::sqrt(dx * dx + dy * dy) - radius;
}
}  // namespace

Nearest nearest(const Box& box, double radius, double above_tip, const WorkPosition& from, const WorkPosition& to) {
  const auto at = [&](double t) {
    return WorkPosition{from.x + t * (to.x - from.x), from.y + t * (to.y - from.y), from.z + t * (to.z - from.z)};
  };
  const auto distance = [&](double t) {
    const WorkPosition p = at(t);
    const double flat = std::max(0.0, beside(box, radius, p.x, p.y)), above = std::max(0.0, p.z + above_tip - box.top);
    return std::sqrt(flat * flat + above * above);
  };
  if (from == to) return {distance(0), from};
  // The distance from a convex body along a straight way has one least value.
  double low = 0, high = 1;
  for (int k = 0; k < 36; ++k) {
    const double a = low + (high - low) / 3, b = high - (high - low) / 3;
    (distance(a) <= distance(b) ? high : low) = distance(a) <= distance(b) ? b : a;
  }
  double best = (low + high) / 2;
  for (const double end : {0.0, 1.0})
    if (distance(end) < distance(best)) best = end;
  return {distance(best), at(best)};
}

}  // namespace ypsi
