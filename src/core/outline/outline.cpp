#include "core/outline/outline.h"

#include <algorithm>
#include <clipper.hpp>
#include <cmath>

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
  ClipperLib::Paths all;
  for (const Outline& each : outlines) {
    if (auto ok = within_reach(each); !ok) return tl::make_unexpected(ok.error());
    all.push_back(as_path(each));
  }
  ClipperLib::Paths simple;
  ClipperLib::SimplifyPolygons(all, simple, ClipperLib::pftEvenOdd);
  return distance > 0 ? moved_aside(simple, -distance) : as_outlines(simple);
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
