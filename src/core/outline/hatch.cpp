#include "core/outline/hatch.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ypsi {
namespace {

constexpr double most_hatch_lines = 1e6, aside_mm = 1e-6;

struct Edge {
  PlanPoint a, b;
};

/// Ends of what lies inside along a line at height `y`, rising in pairs.
std::vector<double> crossings(const std::vector<Edge>& edges, double y) {
  std::vector<double> all;
  for (const Edge& e : edges)
    // Half open: a corner at that height counts once.
    if ((e.a.imag() <= y) != (e.b.imag() <= y))
      all.push_back(e.a.real() + (y - e.a.imag()) / (e.b.imag() - e.a.imag()) * (e.b.real() - e.a.real()));
  std::sort(all.begin(), all.end());
  return all;
}

double cross(PlanPoint a, PlanPoint b) {
  return a.real() * b.imag() - a.imag() * b.real();
}

/// Whether the straight way between two places inside meets an edge.
bool meets_edge(const std::vector<Edge>& edges, PlanPoint from, PlanPoint to) {
  const double low = std::min(from.imag(), to.imag()), high = std::max(from.imag(), to.imag());
  return std::any_of(edges.begin(), edges.end(), [&](const Edge& e) {
    if (std::max(e.a.imag(), e.b.imag()) < low || std::min(e.a.imag(), e.b.imag()) > high) return false;
    const double d1 = cross(to - from, e.a - from), d2 = cross(to - from, e.b - from),
                 d3 = cross(e.b - e.a, from - e.a), d4 = cross(e.b - e.a, to - e.a);
    return (d1 > 0) != (d2 > 0) && (d3 > 0) != (d4 > 0);
  });
}

/// A line of the hatch in hand, and at which row it ends.
struct Run {
  Outline points;
  int row = 0;
};

}  // namespace

Result<std::vector<Outline>> hatch(const std::vector<Outline>& outlines, const HatchSetting& s) {
  if (!(s.spacing > 0) || !(s.inset >= 0) || !std::isfinite(s.spacing) || !std::isfinite(s.inset) ||
      !std::isfinite(s.angle))
    return fail("out_of_range", "Lines of a hatch must lie apart by more than nothing.", "spacing");
  auto area = shrunk(outlines, s.inset);
  if (!area) return tl::make_unexpected(area.error());
  const PlanPoint turn = std::polar(1.0, -s.angle), back = std::conj(turn);
  std::vector<Edge> edges;
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (const Outline& o : *area)
    for (std::size_t i = 1; i < o.size(); ++i) {
      edges.push_back({o[i - 1] * turn, o[i] * turn});
      low = std::min(low, edges.back().a.imag());
      high = std::max(high, edges.back().a.imag());
    }
  if (edges.empty()) return std::vector<Outline>{};
  const double rows = std::ceil((high - low) / s.spacing);
  if (!(rows < most_hatch_lines)) return fail("too_large", "The hatch is too fine for what it fills.", "spacing");
  std::sort(edges.begin(), edges.end(), [](const Edge& a, const Edge& b) {
    return std::min(a.a.imag(), a.b.imag()) < std::min(b.a.imag(), b.b.imag());
  });
  std::vector<Run> runs;
  std::vector<Edge> near;  // those that reach the row in hand or the one before
  auto next = edges.begin();
  const int count = std::max(1, static_cast<int>(rows));
  const double step = (high - low) / count;
  std::size_t open_from = 0;  // runs before this one are ended
  for (int row = 0; row < count; ++row) {
    const double y = low + (row + 0.5) * step;
    while (next != edges.end() && std::min(next->a.imag(), next->b.imag()) <= y) near.push_back(*next++);
    std::erase_if(near, [&](const Edge& e) { return std::max(e.a.imag(), e.b.imag()) < y - step; });
    const auto ends = crossings(near, y);
    for (std::size_t i = 0; i + 1 < ends.size(); i += 2) {
      if (!(ends[i + 1] - ends[i] > 2 * aside_mm)) continue;
      const PlanPoint left(ends[i] + aside_mm, y), right(ends[i + 1] - aside_mm, y);
      Run* goes_on = nullptr;
      for (std::size_t r = open_from; !s.one_way && !goes_on && r < runs.size(); ++r)
        if (runs[r].row == row - 1) {
          const PlanPoint end = runs[r].points.back();
          const PlanPoint begin = std::abs(left - end) < std::abs(right - end) ? left : right;
          if (!meets_edge(near, end, begin)) goes_on = &runs[r];
        }
      if (!goes_on) {
        runs.push_back({{left, right}, row});
        continue;
      }
      const PlanPoint end = goes_on->points.back();
      const bool from_left = std::abs(left - end) < std::abs(right - end);
      goes_on->points.push_back(from_left ? left : right);
      goes_on->points.push_back(from_left ? right : left);
      goes_on->row = row;
    }
    while (open_from < runs.size() && runs[open_from].row < row) ++open_from;
    if (static_cast<double>(runs.size()) > most_hatch_lines)
      return fail("too_large", "The hatch is too fine for what it fills.", "spacing");
  }
  std::vector<Outline> all;
  all.reserve(runs.size() + area->size());
  for (Run& run : runs) {
    for (PlanPoint& p : run.points) p *= back;
    all.push_back(std::move(run.points));
  }
  if (s.with_outline) all.insert(all.end(), area->begin(), area->end());
  return all;
}

}  // namespace ypsi
