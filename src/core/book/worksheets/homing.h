#pragma once
// Homing repeated.
#include <array>
#include <string>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/geometry.h"

namespace ypsi {

/// Homing repeated: places by trial for each axis, against the first.
struct HomingWorksheet {
  int trials = 10;
  double tolerance_mm = 0.05;
  std::string instrument;  ///< empty: the switches' own places
  std::array<std::vector<double>, axis_count> readings_mm;
  bool operator==(const HomingWorksheet&) const = default;
};

template <class V>
void describe(V& v, HomingWorksheet& s) {
  v.count("trials", s.trials);
  v.number("tolerance_mm", s.tolerance_mm);
  v.text("instrument", s.instrument);
  v.number_lists("readings_mm", s.readings_mm);
}

inline constexpr WorksheetKey<HomingWorksheet> homing_worksheet{"homing"};

}  // namespace ypsi
