#pragma once
// The small languages inside SVG's attributes: lengths, transforms, path data. Numbers are read whatever the locale.
// Source: SVG 1.1 (second edition), 4.2, 7.6 and 8.3.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/drawing_in/affine.h"
#include "core/result.h"

namespace ypsi {

/// A length in user units (px, 96 to an inch). Error `damaged`.
struct SvgLength {
  double px = 0;
  bool absolute = false;  ///< it has a real unit: mm, cm, in, pt, pc
  bool percent = false;   ///< px is a part of 100 of something
};
std::optional<SvgLength> svg_length(std::string_view text);

/// "translate(10) rotate(45, 5, 5)". None where it is damaged.
std::optional<Affine> svg_transform(std::string_view text);

/// Numbers with blanks or commas between, as `points` and `viewBox` have them. None where it is damaged.
std::optional<std::vector<double>> svg_numbers(std::string_view text);

/// One line without a lift of path data, mapped.
struct SvgSubpath {
  std::vector<PlanPoint> points;
  bool closed = false;
};
/// `tolerance` > 0 of the mapped curve. None where the data is damaged.
std::optional<std::vector<SvgSubpath>> svg_path(std::string_view data, const Affine& map, double tolerance);

}  // namespace ypsi
