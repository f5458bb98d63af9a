#pragma once
// Travel and limits of each axis.
#include <array>
#include <optional>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/geometry.h"

namespace ypsi {

/// Travel and limits of one axis.
struct LimitsWorksheet {
  std::optional<Coordinate> far_end_mm;                       ///< machine coordinate at the far end, taken or measured
  std::optional<double> overtravel_mm;                        ///< room behind the home switch, >= 0
  std::optional<double> clearance_home_mm, clearance_far_mm;  ///< >= 0
  bool operator==(const LimitsWorksheet&) const = default;
};

template <class V>
void describe(V& v, LimitsWorksheet& s, Axis axis) {
  v.place("far_end_mm", s.far_end_mm, axis);
  v.number("overtravel_mm", s.overtravel_mm);
  v.number("clearance_home_mm", s.clearance_home_mm);
  v.number("clearance_far_mm", s.clearance_far_mm);
}

inline constexpr WorksheetKey<std::array<LimitsWorksheet, axis_count>> limits_worksheets{"limits"};

}  // namespace ypsi
