#include "core/outline/outline.h"

#include <algorithm>
#include <clipper.hpp>
#include <cmath>
#include <map>
#include <numeric>

namespace ypsi {
namespace {

constexpr double units_per_mm = 1e5, farthest_outline_mm = 1e6;
constexpr double round_to_mm = 0.002;

ClipperLib::cInt as_units(double mm) {
  return std::llround(std::clamp(mm, -farthest_outline_mm, farthest_outline_mm) * units_per_mm);
}

ClipperLib::Path as_path(const Outline& outline) {
  ClipperLib::Path path;
  for (std::size_t i = 0; i + 1 < outline.size(); ++i)
    path.emplace_back(as_units(outline[i].real()), as_units(outline[i].imag()));
  return path;
}

ClipperLib::Paths united(const std::vector<Outline>& outlines) {
  ClipperLib::Paths simple;
  for (const Outline& each : outlines) {
    ClipperLib::Paths own;
    ClipperLib::SimplifyPolygon(as_path(each), own, ClipperLib::pftNonZero);
    simple.insert(simple.end(), own.begin(), own.end());
  }
  ClipperLib::Clipper clipper;
  clipper.AddPaths(simple, ClipperLib::ptSubject, true);
  ClipperLib::Paths all;
  clipper.Execute(ClipperLib::ctUnion, all, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
  return all;
}

ClipperLib::Paths combined(ClipperLib::ClipType how, const ClipperLib::Paths& a, const ClipperLib::Paths& b) {
  ClipperLib::Clipper clipper;
  clipper.AddPaths(a, ClipperLib::ptSubject, true);
  clipper.AddPaths(b, ClipperLib::ptClip, true);
  ClipperLib::Paths all;
  clipper.Execute(how, all, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
  return all;
}

/// A hole runs the other way round and counts against what it lies in.
double area_of_paths(const ClipperLib::Paths& paths) {
  double area = 0;
  for (const ClipperLib::Path& path : paths) area += ClipperLib::Area(path);
  return area / (units_per_mm * units_per_mm);
}

ClipperLib::Paths without(const Outline& of, const std::vector<Outline>& holes) {
  return combined(ClipperLib::ctDifference, united({of}), united(holes));
}

Result<void> within_reach(const Outline& outline) {
  for (const PlanPoint& p : outline)
    if (!(std::abs(p) < farthest_outline_mm)) return fail("out_of_range", "The outline lies too far away.", "outline");
  return {};
}

std::vector<Outline> as_outlines(const ClipperLib::Paths& paths) {
  std::vector<Outline> all;
  for (const ClipperLib::Path& path : paths) {
    Outline points;
    for (const auto& p : path)
      points.emplace_back(static_cast<double>(p.X) / units_per_mm, static_cast<double>(p.Y) / units_per_mm);
    if (points.size() < 3) continue;
    points.push_back(points.front());
    all.push_back(std::move(points));
  }
  return all;
}

struct Bounds {
  ClipperLib::cInt left, right, low, high;
};
Bounds box_of(const ClipperLib::Path& path) {
  Bounds box{path.front().X, path.front().X, path.front().Y, path.front().Y};
  for (const auto& p : path) {
    box.left = std::min(box.left, p.X);
    box.right = std::max(box.right, p.X);
    box.low = std::min(box.low, p.Y);
    box.high = std::max(box.high, p.Y);
  }
  return box;
}

/// Whether two areas share something, and neither lies in the other.
bool cross(const ClipperLib::Paths& a, const ClipperLib::Paths& b) {
  constexpr double no_area = 1e-6;  // mm^2
  const double common = area_of_paths(combined(ClipperLib::ctIntersection, a, b));
  return common > no_area && common < std::min(area_of_paths(a), area_of_paths(b)) - no_area;
}

/// What closed outlines enclose: those that cross are one, as strokes of a letter are; one within another is a hole.
Result<ClipperLib::Paths> enclosed(const std::vector<Outline>& outlines) {
  std::vector<ClipperLib::Paths> areas;
  std::vector<Bounds> boxes;
  for (const Outline& each : outlines) {
    if (auto ok = within_reach(each); !ok) return tl::make_unexpected(ok.error());
    const ClipperLib::Path path = as_path(each);
    ClipperLib::Paths own;
    ClipperLib::SimplifyPolygon(path, own, ClipperLib::pftEvenOdd);
    if (own.empty()) continue;
    boxes.push_back(box_of(path));
    areas.push_back(std::move(own));
  }
  std::vector<std::size_t> order(areas.size()), group(areas.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::iota(group.begin(), group.end(), std::size_t{0});
  std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return boxes[a].left < boxes[b].left; });
  const auto head_of = [&](std::size_t i) {
    while (group[i] != i) i = group[i] = group[group[i]];
    return i;
  };
  for (std::size_t i = 0; i < order.size(); ++i)
    for (std::size_t j = i + 1; j < order.size(); ++j) {
      const std::size_t a = order[i], b = order[j];
      if (boxes[b].left > boxes[a].right) break;
      if (boxes[b].low > boxes[a].high || boxes[b].high < boxes[a].low || head_of(a) == head_of(b)) continue;
      if (cross(areas[a], areas[b])) group[head_of(b)] = head_of(a);
    }
  std::map<std::size_t, ClipperLib::Paths> as_one;
  for (std::size_t i = 0; i < areas.size(); ++i) {
    ClipperLib::Paths& all = as_one[head_of(i)];
    all = all.empty() ? areas[i] : combined(ClipperLib::ctUnion, all, areas[i]);
  }
  ClipperLib::Paths all, simple;
  for (const auto& [head, paths] : as_one) all.insert(all.end(), paths.begin(), paths.end());
  ClipperLib::SimplifyPolygons(all, simple, ClipperLib::pftEvenOdd);
  return simple;
}

/// Rounded where it goes round a corner.
std::vector<Outline> moved_aside(const ClipperLib::Paths& paths, double distance) {
  ClipperLib::ClipperOffset offset(2, round_to_mm * units_per_mm);
  offset.AddPaths(paths, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
  ClipperLib::Paths aside;
  offset.Execute(aside, distance * units_per_mm);
  return as_outlines(aside);
}

}  // namespace

Result<std::vector<Outline>> beside_outline(const Outline& outline, double distance) {
  if (auto ok = within_reach(outline); !ok) return tl::make_unexpected(ok.error());
  // An outline that crosses itself is what it encloses.
  ClipperLib::Paths simple;
  ClipperLib::SimplifyPolygon(as_path(outline), simple, ClipperLib::pftNonZero);
  return moved_aside(simple, distance);
}

Result<std::vector<Outline>> shrunk(const std::vector<Outline>& outlines, double distance) {
  const auto area = enclosed(outlines);
  if (!area) return tl::make_unexpected(area.error());
  return distance > 0 ? moved_aside(*area, -distance) : as_outlines(*area);
}

Result<NotReached> not_reached(const std::vector<Outline>& area, const std::vector<Outline>& lines, double width,
                               double least) {
  if (!(width > 0) || !(least >= 0)) return fail("out_of_range", "A tool is wider than nothing.", "width");
  const auto whole = enclosed(area);
  if (!whole) return tl::make_unexpected(whole.error());
  ClipperLib::Paths swept;
  ClipperLib::ClipperOffset tool(2, round_to_mm * units_per_mm);
  for (const Outline& line : lines) {
    if (auto ok = within_reach(line); !ok) return tl::make_unexpected(ok.error());
    ClipperLib::Path path = as_path(line);
    if (!line.empty()) path.emplace_back(as_units(line.back().real()), as_units(line.back().imag()));
    tool.AddPath(path, ClipperLib::jtRound, ClipperLib::etOpenRound);
  }
  tool.Execute(swept, width / 2 * units_per_mm);
  ClipperLib::Paths left = combined(ClipperLib::ctDifference, *whole, swept);
  for (const double by : {-least / 2, least / 2}) {
    ClipperLib::ClipperOffset offset(2, round_to_mm * units_per_mm);
    offset.AddPaths(left, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
    if (by != 0) offset.Execute(left, by * units_per_mm);
  }
  return NotReached{as_outlines(left), area_of_paths(left)};
}

double common_area(const Outline& of, const std::vector<Outline>& holes, const std::vector<Outline>& others) {
  return area_of_paths(combined(ClipperLib::ctIntersection, without(of, holes), united(others)));
}

double area_without(const Outline& of, const std::vector<Outline>& holes) {
  return area_of_paths(without(of, holes));
}

bool turns_by_more(PlanPoint before, PlanPoint at, PlanPoint after, double rad) {
  const PlanPoint in = at - before, out = after - at;
  return std::abs(in) > 0 && std::abs(out) > 0 && std::fabs(std::arg(out / in)) > rad;
}

double length_along(const Outline& line) {
  double length = 0;
  for (std::size_t i = 1; i < line.size(); ++i) length += std::abs(line[i] - line[i - 1]);
  return length;
}

double area_of(const Outline& outline) {
  double twice = 0;
  for (std::size_t i = 1; i < outline.size(); ++i) twice += (std::conj(outline[i - 1]) * outline[i]).imag();
  return std::fabs(twice) / 2;
}

bool lies_within(PlanPoint p, const Outline& outline) {
  bool within = false;
  for (std::size_t i = 1; i < outline.size(); ++i) {
    const PlanPoint a = outline[i - 1], b = outline[i];
    if ((a.imag() > p.imag()) != (b.imag() > p.imag()) &&
        p.real() < a.real() + (p.imag() - a.imag()) / (b.imag() - a.imag()) * (b.real() - a.real()))
      within = !within;
  }
  return within;
}

Outline rectangle(PlanPoint corner, PlanPoint size, double turn, PlanPoint about) {
  Outline all{corner, corner + size.real(), corner + size, corner + PlanPoint(0, size.imag()), corner};
  const PlanPoint by = std::polar(1.0, turn);
  for (PlanPoint& p : all) p = about + (p - about) * by;
  return all;
}

}  // namespace ypsi
