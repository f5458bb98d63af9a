#include "core/calibration/tram.h"

#include <cmath>

#include "core/metrology/least_squares.h"

namespace ypsi {

Result<TramResult> evaluate_tram(const TramInput& in) {
  if (in.sweep.size() < 3)
    return fail("too_few", "A sweep needs readings at three different angles at least.", "sweep");
  if (!(in.stepover < in.cutter_diameter))
    return fail("degenerate", "The stepover must be smaller than the cutter, or the passes do not meet.",
                "stepover_mm");
  Observations o;
  const auto n = static_cast<Eigen::Index>(in.sweep.size());
  o.design.resize(n, 3);
  o.observed.resize(n);
  o.own_variance = Eigen::VectorXd::Ones(n);
  o.common.resize(n, 0);
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& s = in.sweep[static_cast<std::size_t>(i)];
    o.design.row(i) << 1, std::cos(s.angle), std::sin(s.angle);
    o.observed(i) = s.reading;
  }
  const auto fit = generalised_least_squares(o);
  if (!fit) return tl::make_unexpected(fit.error());
  if (fit->rank < 3)
    return fail("degenerate", "The readings are not at three different angles; turn the spindle further between them.",
                "sweep");
  TramResult out;
  out.tilt_x = fit->parameters(1) / in.radius;
  out.tilt_y = fit->parameters(2) / in.radius;
  out.shim_x = out.tilt_x * in.bolt_spacing_x;
  out.shim_y = out.tilt_y * in.bolt_spacing_y;
  const double tilt = std::hypot(out.tilt_x, out.tilt_y), half = in.cutter_diameter / 2, w = in.stepover / 2;
  out.ridge = in.stepover * tilt;
  // D/2 - sqrt(D^2/4 - w^2/4), written so that a small stepover costs no digits.
  out.hollow = w * w / (half + std::sqrt((half - w) * (half + w))) * tilt;
  return out;
}

}  // namespace ypsi
