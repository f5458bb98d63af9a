#pragma once
// In which order a machine's axes are homed, where its owner may say.
#include <algorithm>
#include <array>

#include "core/geometry.h"

namespace ypsi {

/// By the turn that each axis has: 1 is first, 0 is not said. Unsaid turns are those of Z, X, Y, so that what hangs
/// down is lifted before anything goes across; of equal turns Z goes before X before Y.
/// Example: turns of 1 (X), 2 (Y), 3 (Z) home X, then Y, then Z.
inline std::array<Axis, axis_count> homing_order(const std::array<int, axis_count>& turns) {
  std::array order{Axis::z, Axis::x, Axis::y};
  const auto turn = [&](Axis a) {
    const int said = turns[index(a)];
    return said > 0 ? said : a == Axis::z ? 1 : a == Axis::x ? 2 : 3;
  };
  std::stable_sort(order.begin(), order.end(), [&](Axis a, Axis b) { return turn(a) < turn(b); });
  return order;
}

}  // namespace ypsi
