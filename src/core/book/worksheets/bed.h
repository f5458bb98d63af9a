#pragma once
// Bed and spindle.
#include <array>
#include <utility>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/book/worksheets/reversal.h"
#include "core/book/worksheets/surface.h"

namespace ypsi {

struct SweepPoint {
  double angle_deg = 0, reading_mm = 0;
  bool operator==(const SweepPoint&) const = default;
};

struct EdgePoint {
  double position_mm = 0, reading_mm = 0;
  bool operator==(const EdgePoint&) const = default;
};

/// An ordinary square's blade, as far as Z carries an indicator up it.
inline const ReversalWorksheet usual_blade{100, "indicator", {}, {}};

/// Bed and spindle.
struct BedWorksheet {
  double sweep_radius_mm = 100, bolt_spacing_x_mm = 80, bolt_spacing_y_mm = 100;
  std::vector<SweepPoint> sweep;
  bool edge_along_y = false;
  std::vector<EdgePoint> edge;
  int map_columns = 5, map_rows = 4;
  std::vector<MapPoint> map;
  bool blade_along_y = false;
  std::array<ReversalWorksheet, 2> blade = {usual_blade, usual_blade};  ///< along X and Y
  double cutter_mm = 25, stepover_mm = 18, depth_mm = 0.5, layer_mm = 0.5, feed_mm_min = 2000, rpm = 16000;
  double area_x_mm = 0, area_y_mm = 0, area_width_mm = 0, area_height_mm = 0;  ///< work frame; 0 wide: not chosen yet
  bool along_y = false, one_way = false;
  bool operator==(const BedWorksheet&) const = default;
};

template <class V>
void describe(V& v, SweepPoint& p) {
  v.number("angle_deg", p.angle_deg);
  v.number("reading_mm", p.reading_mm);
}

template <class V>
void describe(V& v, EdgePoint& p) {
  v.number("position_mm", p.position_mm);
  v.number("reading_mm", p.reading_mm);
}

template <class V>
void describe(V& v, BedWorksheet& s) {
  v.number("sweep_radius_mm", s.sweep_radius_mm);
  v.number("bolt_spacing_x_mm", s.bolt_spacing_x_mm);
  v.number("bolt_spacing_y_mm", s.bolt_spacing_y_mm);
  v.list("sweep", s.sweep);
  v.flag("edge_along_y", s.edge_along_y);
  v.list("edge", s.edge);
  v.count("map_columns", s.map_columns);
  v.count("map_rows", s.map_rows);
  v.list("map", s.map);
  v.flag("blade_along_y", s.blade_along_y);
  v.object("blade_x", s.blade[0], sparse);
  v.object("blade_y", s.blade[1], sparse);
  for (const auto& [key, value] : {std::pair{"cutter_mm", &s.cutter_mm},
                                   {"stepover_mm", &s.stepover_mm},
                                   {"depth_mm", &s.depth_mm},
                                   {"layer_mm", &s.layer_mm},
                                   {"feed_mm_min", &s.feed_mm_min},
                                   {"rpm", &s.rpm},
                                   {"area_x_mm", &s.area_x_mm},
                                   {"area_y_mm", &s.area_y_mm},
                                   {"area_width_mm", &s.area_width_mm},
                                   {"area_height_mm", &s.area_height_mm}})
    v.number(key, *value);
  v.flag("along_y", s.along_y);
  v.flag("one_way", s.one_way);
}

inline constexpr WorksheetKey<BedWorksheet> bed_worksheet{"bed_spindle"};

}  // namespace ypsi
