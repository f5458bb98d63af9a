#include "core/heads/knives.h"

#include <cmath>
#include <utility>

#include "core/metrology/coverage.h"

namespace ypsi {
namespace {

double claimed_k() {
  return t95(claim_degrees_of_freedom);
}

/// Variance of half a difference of two readings, mm^2: what is common to both goes out.
double half_difference(const Instrument& instrument) {
  return instrument.variance_mm2() / 2;
}

}  // namespace

MeasuredLength trailing_offset(double gap, const Known& lost_motion, const Instrument& instrument) {
  const double k = claimed_k();
  return {(gap - lost_motion.value) / 2, k * std::hypot(instrument.u_mm(gap), lost_motion.u) / 2, k};
}

MeasuredLength kerf_of_strips(int strips, double pitch, double total, double scale_error, double u_scale_error,
                              const Instrument& instrument) {
  const double k = claimed_k();
  return {pitch * (1 + scale_error) - total / strips,
          k * std::hypot(instrument.u_mm(total) / strips, pitch * u_scale_error), k};
}

Result<TurnedKnife> turned_knife(const TurnedKnifeLines& lines, const Instrument& instrument) {
  TurnedKnife out;
  const Known lost = lines.lost_motion.value_or(Known{});
  out.k = claimed_k();
  out.left = (lines.y_plus - lines.y_minus) / 2;
  out.forward = (lines.end_plus - lines.end_minus + lost.value) / 2;
  out.U = out.k * std::sqrt(half_difference(instrument) + lost.u * lost.u / 4);
  if (!lines.angle) return out;
  auto [a, b] = lines.angle->kerf;
  if (a.angle == b.angle)
    return fail("degenerate", "Both cuts were made at one angle; turn the blade to the other side for one.", "kerf");
  if (a.angle > b.angle) std::swap(a, b);
  out.angle_zero = (a.angle + b.angle) / 2 + (a.width - b.width) / (2 * lines.angle->chord);
  out.U_angle = out.k * std::sqrt(half_difference(instrument)) / lines.angle->chord;
  return out;
}

}  // namespace ypsi
