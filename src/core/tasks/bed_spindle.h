#pragma once
// The spindle square to the bed, edges, the bed mapped and surfaced.
#include <array>
#include <optional>
#include <string>

#include "core/calibration/tram.h"
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* bed_spindle_id = "bed_spindle";

/// Subject "tram".
struct TramEntry {
  std::optional<double> tilt_x{};
  std::optional<double> tilt_y{};
  std::optional<double> shim_x{};
  std::optional<double> shim_y{};
  std::optional<double> ridge{};
  std::optional<double> hollow{};
  std::optional<double> U_tilt_x{};
  std::optional<double> U_tilt_y{};
  std::optional<double> k{};
};
template <class V>
void describe(V& v, TramEntry& f) {
  v.number("tilt_x_mrad", f.tilt_x);
  v.number("tilt_y_mrad", f.tilt_y);
  v.number("shim_x_mm", f.shim_x);
  v.number("shim_y_mm", f.shim_y);
  v.number("ridge_mm", f.ridge);
  v.number("hollow_mm", f.hollow);
  v.number("U_tilt_x_mrad", f.U_tilt_x);
  v.number("U_tilt_y_mrad", f.U_tilt_y);
  v.number("k", f.k);
}

TramEntry tram_entry(const TramResult& result);
/// Of the lean as a whole, whichever way it goes, mrad; U is the larger of the two. None where either is not told.
std::optional<double> lean_of(const TramEntry& entry);
std::optional<double> U_lean_of(const TramEntry& entry);

/// Subject "edge".
struct EdgeEntry {
  std::optional<double> mm_per_m{};
  std::optional<double> tap_far_end{};
};
template <class V>
void describe(V& v, EdgeEntry& f) {
  v.number("edge_mm_per_m", f.mm_per_m);
  v.number("tap_far_end_mm", f.tap_far_end);
}

/// Subject "map".
struct MapEntry {
  std::optional<double> peak_to_valley{};
  std::optional<double> slope_x{};
  std::optional<double> slope_y{};
  std::optional<double> depth_to_flat{};
  std::optional<double> u_slope_x{};
  std::optional<double> u_slope_y{};
};
template <class V>
void describe(V& v, MapEntry& f) {
  v.number("peak_to_valley_mm", f.peak_to_valley);
  v.number("slope_x_mm_per_m", f.slope_x);
  v.number("slope_y_mm_per_m", f.slope_y);
  v.number("depth_to_flat_mm", f.depth_to_flat);
  v.number("u_slope_x_mm_per_m", f.u_slope_x);
  v.number("u_slope_y_mm_per_m", f.u_slope_y);
}

/// Subject "surface": what was taken off.
struct SurfaceEntry {
  std::string words{};
  std::optional<double> depth{};
};
template <class V>
void describe(V& v, SurfaceEntry& f) {
  v.text("words", f.words);
  v.number("depth_mm", f.depth);
}

/// Subject of blade_subject(): how Z's travel leans against the bed, towards +.
struct ZTravelEntry {
  std::optional<double> lean{};
  std::optional<double> U_lean{};
  std::optional<double> square{};
  std::optional<double> U_square{};
  std::optional<double> bed_slope{};  ///< that was taken off; none: the bed was taken for level
  std::optional<double> k{};
};
template <class V>
void describe(V& v, ZTravelEntry& f) {
  v.number("lean_mrad", f.lean);
  v.number("U_lean_mrad", f.U_lean);
  v.number("square_mrad", f.square);
  v.number("U_square_mrad", f.U_square);
  v.number("bed_slope_mrad", f.bed_slope);
  v.number("k", f.k);
}

/// "Z along X"; of X or Y.
std::string blade_subject(Axis along);

/// How the bed lies to the travel along X and Y, mm/mm, > 0 where it rises towards +.
struct BedSlope {
  std::array<double, 2> slope{}, u{};
};
/// By the newest map; level where the machine surfaced it since. None where neither was done, or the map does not say
/// how well it knows: then the bed can but be taken for level.
std::optional<BedSlope> bed_slope_of(const Book& book);

inline constexpr const char *tram_subject = "tram", *map_subject = "map", *edge_subject = "edge",
                            *surface_subject = "surface";

const Task& bed_spindle_task();

}  // namespace ypsi
