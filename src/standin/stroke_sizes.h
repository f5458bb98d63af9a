#pragma once
// What is measured between lines that heads have left, as on what was swept by a cutter: the lines that lie nearest to
// where the drawing has them. Physical frame, mm.
#include <array>
#include <optional>
#include <vector>

#include "core/procedures/bench.h"
#include "standin/head_marks.h"

namespace ypsi::standin {

/// The nearest line is taken for the one that is meant, up to this far from its place.
inline constexpr double line_found_within_mm = 12;

/// Where a line crosses the one through `at` along `along`, the nearest there, with its Z; nothing without one.
std::optional<Point3> line_at(const std::vector<const Stroke*>& strokes, Axis along, std::array<double, 2> at);

/// Exact size of a feature whose places are `at` and `other`; nothing where no such lines are near. `strokes`: of all
/// heads. A depth and a width have none.
std::optional<double> size_between(const std::vector<const Stroke*>& strokes, CutFeature::Kind kind, Axis along,
                                   std::array<double, 2> at, std::array<double, 2> other, double nominal);

}  // namespace ypsi::standin
