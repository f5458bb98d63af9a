#pragma once
// How far and how fast axes are taken in a rehearsal.
#include <algorithm>

#include "core/rehearsal/workshop.h"

namespace ypsi::rehearsal {

constexpr double rate_mm_min = 3000, z_rate_mm_min = 900, above_mm = 6;

inline double rate(Axis axis) {
  return axis == Axis::z ? z_rate_mm_min : rate_mm_min;
}

/// Where an axis may be taken for measuring: within its limits, Z not down to what lies below.
struct Span {
  double low = 0, high = 0;
  double size() const { return high - low; }
};
inline Span span_of(Workshop& w, Axis axis) {
  Span s{w.low(axis) + 0.5, w.high(axis) - 0.5};
  if (axis == Axis::z)
    s.low = std::max(s.low, w.link.status().position.z - std::max(0.0, w.bench.gap_seen() - above_mm));
  return s;
}

}  // namespace ypsi::rehearsal
