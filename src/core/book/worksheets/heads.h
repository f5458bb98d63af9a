#pragma once
// Heads: where another head stands against the first, and its figures.
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/book/worksheets/marks.h"
#include "core/geometry.h"

namespace ypsi {

/// A mark that both heads are brought over.
struct HeadMark {
  std::optional<OverMark> first, other;
  bool operator==(const HeadMark&) const = default;
};

/// A cross cut by both heads: how far the other's lies from the first's.
struct HeadCross {
  double x_mm = 0, y_mm = 0;  ///< where it was meant, work frame
  std::optional<double> dx_mm, dy_mm;
  bool operator==(const HeadCross&) const = default;
};

/// A line burnt at a height of the head.
struct FocusLine {
  Coordinate z_mm;
  double width_mm = 0;  ///< > 0
  bool operator==(const FocusLine&) const = default;
};

/// Heads.
struct HeadsWorksheet {
  std::string head;  ///< by name; empty: the second
  std::vector<HeadMark> marks;
  std::vector<HeadCross> crosses;
  std::string instrument = "caliper";   ///< of the gap, the strips and the widths
  std::optional<double> gap_mm;         ///< between the two lines of a drag knife
  std::array<double, 4> blade_mm{};     ///< of a turned knife: y of the line +X and -X, x of their ends
  std::array<double, 4> angle_width{};  ///< two angles, deg, each with its kerf, mm
  double chord_mm = 0;
  std::vector<FocusLine> focus;
  double u_width_mm = 0.02;
  int strips = 10;
  double pitch_mm = 10;
  std::optional<double> total_mm;  ///< of the strips pushed together
  bool operator==(const HeadsWorksheet&) const = default;
};

template <class V>
void describe(V& v, HeadMark& m) {
  v.maybe("first", m.first);
  v.maybe("other", m.other);
}

template <class V>
void describe(V& v, HeadCross& c) {
  v.number("x_mm", c.x_mm);
  v.number("y_mm", c.y_mm);
  v.number("dx_mm", c.dx_mm);
  v.number("dy_mm", c.dy_mm);
}

template <class V>
void describe(V& v, FocusLine& l) {
  v.place("z_mm", l.z_mm, Axis::z);
  v.number("width_mm", l.width_mm, not_below_zero);
}

template <class V>
void describe(V& v, HeadsWorksheet& s) {
  v.text("head", s.head);
  v.list("marks", s.marks);
  v.list("crosses", s.crosses);
  v.text("instrument", s.instrument);
  v.number("gap_mm", s.gap_mm);
  v.numbers("blade_mm", s.blade_mm);
  v.numbers("angle_width", s.angle_width);
  v.number("chord_mm", s.chord_mm);
  v.list("focus", s.focus);
  v.number("u_width_mm", s.u_width_mm);
  v.count("strips", s.strips);
  v.number("pitch_mm", s.pitch_mm);
  v.number("total_mm", s.total_mm);
}

inline constexpr WorksheetKey<HeadsWorksheet> heads_worksheet{"heads"};
/// Of other heads, until they are chosen again.
inline constexpr WorksheetKey<std::vector<HeadsWorksheet>> heads_put_by{"heads_put_by"};

}  // namespace ypsi
