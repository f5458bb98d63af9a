#pragma once
// The stock's top touched on a grid.
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/geometry.h"

namespace ypsi {

struct MapPoint {
  Coordinate x_mm, y_mm, z_mm;
  bool operator==(const MapPoint&) const = default;
};

/// The stock's top touched on a grid, from which a program's depths are counted.
struct SurfaceWorksheet {
  int columns = 4, rows = 3;     ///< 2 to 50 each
  double plate_mm = 0;           ///< what lay between tool and top at each touch
  std::vector<MapPoint> points;  ///< Z as it was touched
  bool operator==(const SurfaceWorksheet&) const = default;
};

template <class V>
void describe(V& v, MapPoint& p) {
  v.place("x_mm", p.x_mm, Axis::x);
  v.place("y_mm", p.y_mm, Axis::y);
  v.place("z_mm", p.z_mm, Axis::z);
}

template <class V>
void describe(V& v, SurfaceWorksheet& s) {
  v.count("columns", s.columns, 2, 50);
  v.count("rows", s.rows, 2, 50);
  v.number("plate_mm", s.plate_mm);
  v.list("points", s.points);
}

inline constexpr WorksheetKey<SurfaceWorksheet> surface_worksheet{"surface"};

}  // namespace ypsi
