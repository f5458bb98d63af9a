#pragma once
// Numbers as straight strokes, for a head that draws on a line: seven strokes a digit, as seven-segment displays have
// them. Lengths mm.
#include <string_view>
#include <vector>

#include "core/heads/plan_point.h"

namespace ypsi {

struct StrokeLine {
  PlanPoint from, to;
};

/// Width of a digit beside its height, and how far the next one begins behind it.
inline constexpr double digit_width_ratio = 0.5, digit_pitch_ratio = 0.8;

/// Digits, "." and "-" of `text`, the lower left corner at `at`, `height` > 0; what else stands in it is left blank.
///   stroke_digits("1", {0, 0}, 2) -> two strokes, up the right side
std::vector<StrokeLine> stroke_digits(std::string_view text, PlanPoint at, double height);

}  // namespace ypsi
