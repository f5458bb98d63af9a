#pragma once
// Affine maps of the plan.
#include "core/heads/plan_point.h"

namespace ypsi {

/// z to turn*z + mirror*conj(z) + shift: every affine map of the plan is one.
struct Affine {
  PlanPoint turn = 1, mirror = 0, shift = 0;

  PlanPoint operator()(PlanPoint z) const { return way(z) + shift; }
  /// Of a difference of two places.
  PlanPoint way(PlanPoint z) const { return turn * z + mirror * std::conj(z); }
  /// This after `first`.
  Affine after(const Affine& first) const {
    return {turn * first.turn + mirror * std::conj(first.mirror), turn * first.mirror + mirror * std::conj(first.turn),
            (*this)(first.shift)};
  }
  /// The most that it stretches any way.
  double most() const { return std::abs(turn) + std::abs(mirror); }
};

/// x to a x + c y + e, y to b x + d y + f, as SVG's matrix() has it (SVG 1.1, 7.4).
inline Affine from_matrix(double a, double b, double c, double d, double e, double f) {
  return {PlanPoint(a + d, b - c) / 2.0, PlanPoint(a - d, b + c) / 2.0, {e, f}};
}

}  // namespace ypsi
