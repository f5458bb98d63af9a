#pragma once
// Work zero by marks.
#include <optional>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/geometry.h"

namespace ypsi {

/// Where the machine stood with a head over a mark.
struct OverMark {
  Coordinate x_mm, y_mm;
  bool operator==(const OverMark&) const = default;
};

/// A mark that is printed or cut on what lies there, and where it was found.
struct PrintedMark {
  double x_mm = 0, y_mm = 0;  ///< as drawn
  std::optional<OverMark> found;
  bool operator==(const PrintedMark&) const = default;
};

/// Work zero by marks.
struct MarksWorksheet {
  std::vector<PrintedMark> marks;
  bool operator==(const MarksWorksheet&) const = default;
};

template <class V>
void describe(V& v, OverMark& m) {
  v.place("x_mm", m.x_mm, Axis::x);
  v.place("y_mm", m.y_mm, Axis::y);
}

template <class V>
void describe(V& v, PrintedMark& m) {
  v.number("x_mm", m.x_mm);
  v.number("y_mm", m.y_mm);
  v.maybe("found", m.found);
}

template <class V>
void describe(V& v, MarksWorksheet& s) {
  v.list("marks", s.marks);
}

inline constexpr WorksheetKey<MarksWorksheet> marks_worksheet{"marks"};

}  // namespace ypsi
