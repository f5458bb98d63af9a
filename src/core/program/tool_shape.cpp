#include "core/program/tool_shape.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ypsi {
namespace {

constexpr int ring_count = 12;

double widest(const Tool& t) {
  return (t.diameter > 0 ? t.diameter : usual_cutter_mm) / 2;
}
/// Full angle of its point; 0: it has none.
double point_degrees(const Tool& t) {
  if (t.angle > 0 && t.angle < 180) return t.angle;
  return t.kind == "drill" ? drill_point_degrees : 0;
}
/// Radius at the tip itself.
double tip_radius(const Tool& t) {
  return t.kind == "ball" ? 0 : std::clamp(t.tip / 2, 0.0, widest(t));
}
bool is_round(const Tool& t) {
  return t.kind == "ball" || (point_degrees(t) == 0 && t.tip > 0 && t.tip / 2 < widest(t));
}

}  // namespace

bool is_flat(const Tool& t) {
  return point_degrees(t) == 0 && !is_round(t);
}

double radius_at(const Tool& t, double above) {
  const double wide = widest(t), tip = tip_radius(t);
  if (is_round(t)) {
    const double corner = wide - tip, down = corner - std::min(above, corner);
    return tip + std::sqrt(std::max(0.0, corner * corner - down * down));
  }
  if (const double angle = point_degrees(t); angle > 0)
    return std::min(wide, tip + std::max(0.0, above) * std::tan(angle / 2 * std::numbers::pi / 180));
  return wide;
}

double height_at(const Tool& t, double radius) {
  const double tip = tip_radius(t), out = std::min(radius, widest(t)) - tip;
  if (is_flat(t) || out <= 0) return 0;
  if (is_round(t)) {
    const double corner = widest(t) - tip;
    return corner - std::sqrt(std::max(0.0, corner * corner - out * out));
  }
  return out / std::tan(point_degrees(t) / 2 * std::numbers::pi / 180);
}

std::vector<ToolRing> rings(const Tool* tool) {
  if (!tool) return {{usual_cutter_mm / 2, 0, 0}};
  const double wide = widest(*tool), tip = tip_radius(*tool);
  if (is_flat(*tool)) return {{wide, 0, 0}};
  std::vector<ToolRing> all;
  if (tip > 0) all.push_back({tip, 0, 0});
  for (int k = 1; k <= ring_count; ++k) {
    const double inner = tip + (wide - tip) * (k - 1) / ring_count, outer = tip + (wide - tip) * k / ring_count;
    all.push_back({outer, height_at(*tool, inner), height_at(*tool, outer)});
  }
  return all;
}

}  // namespace ypsi
