#include "core/drawing_in/beside_line.h"

#include <clipper.hpp>
#include <cmath>

namespace ypsi {
namespace {

constexpr double units_per_mm = 1e5, farthest_outline_mm = 1e6;
constexpr double round_to_mm = 0.002;

ClipperLib::Path as_path(const std::vector<PlanPoint>& outline) {
  ClipperLib::Path path;
  for (std::size_t i = 0; i + 1 < outline.size(); ++i)
    path.emplace_back(std::llround(outline[i].real() * units_per_mm), std::llround(outline[i].imag() * units_per_mm));
  return path;
}

}  // namespace

Result<std::vector<std::vector<PlanPoint>>> beside_outline(const std::vector<PlanPoint>& outline, double distance) {
  for (const PlanPoint& p : outline)
    if (!(std::abs(p) < farthest_outline_mm)) return fail("out_of_range", "The outline lies too far away.", "outline");
  // An outline that crosses itself is what it encloses.
  ClipperLib::Paths simple, beside;
  ClipperLib::SimplifyPolygon(as_path(outline), simple, ClipperLib::pftNonZero);
  ClipperLib::ClipperOffset offset(2, round_to_mm * units_per_mm);
  offset.AddPaths(simple, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
  offset.Execute(beside, distance * units_per_mm);
  std::vector<std::vector<PlanPoint>> all;
  for (const ClipperLib::Path& path : beside) {
    std::vector<PlanPoint> points;
    for (const auto& p : path)
      points.emplace_back(static_cast<double>(p.X) / units_per_mm, static_cast<double>(p.Y) / units_per_mm);
    if (points.size() < 3) continue;
    points.push_back(points.front());
    all.push_back(std::move(points));
  }
  return all;
}

double area_of(const std::vector<PlanPoint>& outline) {
  double twice = 0;
  for (std::size_t i = 1; i < outline.size(); ++i) twice += (std::conj(outline[i - 1]) * outline[i]).imag();
  return std::fabs(twice) / 2;
}

bool lies_within(PlanPoint p, const std::vector<PlanPoint>& outline) {
  bool within = false;
  for (std::size_t i = 1; i < outline.size(); ++i) {
    const PlanPoint a = outline[i - 1], b = outline[i];
    if ((a.imag() > p.imag()) != (b.imag() > p.imag()) &&
        p.real() < a.real() + (p.imag() - a.imag()) / (b.imag() - a.imag()) * (b.real() - a.real()))
      within = !within;
  }
  return within;
}

}  // namespace ypsi
