#pragma once
// Steps per unit: readings of each axis.
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/calibration/scale.h"
#include "core/geometry.h"

namespace ypsi {

/// Readings typed and not yet settled, so that a crash loses at most the field being typed.
struct ScaleWorksheet {
  std::string instrument;  ///< name of one of the book's instruments
  std::optional<double> tolerance_per_m;
  std::vector<ScaleReading> readings;
};

template <class V>
void describe(V& v, ScaleReading& r, Axis axis) {
  constexpr std::array<std::pair<bool, const char*>, 2> approaches{{{false, "same"}, {true, "reversed"}}};
  v.way("commanded_mm", r.commanded, axis);  // the same steps were sent
  v.number("measured_mm", r.measured);
  v.choice("approach", r.reversed, approaches);
}

template <class V>
void describe(V& v, ScaleWorksheet& s, Axis axis) {
  v.text("instrument", s.instrument);
  v.list("readings", s.readings, axis);
  v.number("tolerance_mm_per_m", s.tolerance_per_m, above_zero);
}

inline constexpr WorksheetKey<std::array<ScaleWorksheet, axis_count>> scale_worksheets{"steps_per_unit"};

}  // namespace ypsi
