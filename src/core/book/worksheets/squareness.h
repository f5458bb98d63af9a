#pragma once
// Squareness: marks and the distances between them.
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/calibration/squareness.h"
#include "core/geometry.h"

namespace ypsi {

/// Marks put down by the machine and the distances between them, not settled yet.
struct SquareWorksheet {
  std::vector<MarkedPoint> points;      ///< machine coordinates
  std::vector<MarkDistance> distances;  ///< measured 0: not typed yet
  std::string instrument;
  std::optional<double> tolerance_per_m;  ///< lean that must be told, mm per m, > 0
};

template <class V>
void describe(V& v, MarkedPoint& p) {
  v.text("name", p.name);
  v.place("x_mm", p.commanded.x, Axis::x);
  v.place("y_mm", p.commanded.y, Axis::y);
}

template <class V>
void describe(V& v, MarkDistance& d) {
  constexpr std::array<std::pair<HoleEdge, const char*>, 3> edges{
      {{HoleEdge::center, "center"}, {HoleEdge::outer, "outer"}, {HoleEdge::inner, "inner"}}};
  v.count("from", d.from);
  v.count("to", d.to);
  v.number("measured_mm", d.measured);
  v.choice("edge", d.edge, edges);
  v.number("hole_diameter_mm", d.hole_diameter);
}

/// Along an axis: it tells a scale and nothing of the lean.
inline bool is_side(const SquareWorksheet& sheet, const MarkDistance& d) {
  const Point2 a = sheet.points[d.from].commanded, b = sheet.points[d.to].commanded;
  return a.x == b.x || a.y == b.y;
}

template <class V>
void describe(V& v, SquareWorksheet& s) {
  v.text("instrument", s.instrument);
  v.list("points", s.points);
  v.list("distances", s.distances);
  v.number("tolerance_mm_per_m", s.tolerance_per_m, above_zero);
  for (std::size_t i = 0; i < s.distances.size(); ++i)
    if (s.distances[i].from >= s.points.size() || s.distances[i].to >= s.points.size())
      v.refuse_item("distances", i, "to", "names a mark that is not there.");
}

inline constexpr WorksheetKey<std::optional<SquareWorksheet>> square_worksheet{"squareness"};

}  // namespace ypsi
