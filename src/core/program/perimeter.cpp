#include "core/program/perimeter.h"

#include <fmt/format.h>

#include <algorithm>
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/point_xy.hpp>
#include <boost/geometry/geometries/polygon.hpp>
#include <cmath>

#include "core/program/arc.h"

namespace ypsi {
namespace {

constexpr double round_within_mm = 0.1;

using Stretch = std::vector<Point2>;

/// Cutting moves that follow on each other without a lift, each with its tool.
std::vector<std::pair<int, Stretch>> stretches(const Program& program) {
  std::vector<std::pair<int, Stretch>> all;
  bool open = false;
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const Motion& m = program.motions[i];
    if (!is_cut(m)) {
      open = false;
      continue;
    }
    const WorkPosition from = program.begin_of(i);
    const int tool = program.tool_of(i);
    if (!open || all.back().first != tool) all.push_back({tool, {{from.x, from.y}}});
    open = true;
    Stretch& points = all.back().second;
    if (is_arc(m)) {
      const ArcWay way = arc_way(from, m, program.arc_of(m));
      const int n = way.chords(round_within_mm);
      for (int k = 1; k < n; ++k) {
        const WorkPosition p = way.at(static_cast<double>(k) / n);
        points.push_back({p.x, p.y});
      }
    }
    points.push_back({m.end.x, m.end.y});
  }
  return all;
}

double extent(const Stretch& points) {
  double x0 = 1e9, x1 = -1e9, y0 = 1e9, y1 = -1e9;
  for (const Point2& p : points) {
    x0 = std::min(x0, p.x);
    x1 = std::max(x1, p.x);
    y0 = std::min(y0, p.y);
    y1 = std::max(y1, p.y);
  }
  return (x1 - x0) * (y1 - y0);
}

}  // namespace

std::vector<Point2> perimeter(const Program& program, PerimeterKind kind) {
  if (program.cut.empty()) return {};
  if (kind == PerimeterKind::box) {
    const auto &low = program.cut.low, &high = program.cut.high;
    return {{low.x, low.y}, {high.x, low.y}, {high.x, high.y}, {low.x, high.y}};
  }
  const auto all = stretches(program);
  if (kind == PerimeterKind::last_tool) {
    const int last = all.back().first;
    const Stretch* widest = nullptr;
    for (const auto& [tool, points] : all)
      if (tool == last && (!widest || extent(points) > extent(*widest))) widest = &points;
    Stretch outline;
    for (const Point2& p : *widest)
      if (outline.empty() || std::hypot(p.x - outline.back().x, p.y - outline.back().y) > 1e-6) outline.push_back(p);
    if (outline.size() > 2 &&
        std::hypot(outline.front().x - outline.back().x, outline.front().y - outline.back().y) < 1e-6)
      outline.pop_back();
    return outline;
  }
  namespace bg = boost::geometry;
  using Point = bg::model::d2::point_xy<double>;
  bg::model::multi_point<Point> points;
  for (const auto& [tool, stretch] : all)
    for (const Point2& p : stretch) points.push_back(Point(p.x, p.y));
  bg::model::polygon<Point, false> hull;
  bg::convex_hull(points, hull);
  std::vector<Point2> corners;
  for (const auto& p : hull.outer()) corners.push_back({p.x(), p.y()});
  if (corners.size() > 1) corners.pop_back();  // closed by the library
  return corners;
}

std::vector<std::string> trace(const std::vector<Point2>& corners, double safe_z, double feed) {
  if (corners.empty()) return {};
  std::vector<std::string> blocks{fmt::format("G90 G21 G94 G0 Z{:.4f}", safe_z),
                                  fmt::format("G0 X{:.4f} Y{:.4f}", corners.front().x, corners.front().y)};
  for (std::size_t i = 1; i <= corners.size(); ++i) {
    const Point2& p = corners[i % corners.size()];
    blocks.push_back(fmt::format("G1 X{:.4f} Y{:.4f} F{:.0f}", p.x, p.y, feed));
  }
  return blocks;
}

}  // namespace ypsi
