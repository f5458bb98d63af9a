#pragma once
// Fences and stops.
#include <string>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/calibration/blanks.h"

namespace ypsi {

/// One test beside a fence: how the offset stood, and what the pieces measured.
struct FenceTry {
  double offset_mm = 0;
  std::vector<double> measured_mm;
  bool operator==(const FenceTry&) const = default;
};

/// Fences and stops.
struct FencesWorksheet {
  std::string fence, instrument = "caliper";
  double expected_mm = 0, tolerance_mm = 0.1;  ///< expected 0: not said yet
  bool adds = true;                            ///< a larger offset makes a larger piece
  std::vector<FenceTry> tests;
  int blanks = 0;  ///< cut on one zero since the count was begun
  int every = 10;  ///< one of so many is measured
  std::vector<BlankSize> sizes;
  bool operator==(const FencesWorksheet&) const = default;
};

template <class V>
void describe(V& v, FenceTry& t) {
  v.number("offset_mm", t.offset_mm);
  v.numbers("measured_mm", t.measured_mm);
}

template <class V>
void describe(V& v, BlankSize& b) {
  v.count("count", b.count);
  v.number("size_mm", b.size_mm);
}

template <class V>
void describe(V& v, FencesWorksheet& s) {
  v.text("fence", s.fence);
  v.text("instrument", s.instrument);
  v.number("expected_mm", s.expected_mm);
  v.number("tolerance_mm", s.tolerance_mm, above_zero);
  v.flag("adds", s.adds);
  v.list("tests", s.tests);
  v.count("blanks", s.blanks);
  v.count("every", s.every);
  v.list("sizes", s.sizes);
}

inline constexpr WorksheetKey<FencesWorksheet> fences_worksheet{"fences"};
/// Of other fences, until they are chosen again.
inline constexpr WorksheetKey<std::vector<FencesWorksheet>> fences_put_by{"fences_put_by"};

}  // namespace ypsi
