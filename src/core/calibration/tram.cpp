#include "core/calibration/tram.h"

#include <cmath>

#include "core/metrology/common_errors.h"
#include "core/metrology/readings_fit.h"

namespace ypsi {

Result<TramResult> evaluate_tram(const TramInput& in) {
  if (in.sweep.size() < 3)
    return fail("too_few", "A sweep needs readings at three different angles at least.", "sweep");
  if (!(in.stepover < in.cutter_diameter))
    return fail("degenerate", "The stepover must be smaller than the cutter, or the passes do not meet.",
                "stepover_mm");
  const auto n = static_cast<Eigen::Index>(in.sweep.size());
  const double own = in.indicator ? in.indicator->own_part_mm2() : 1;
  ReadingsModel model{
      Eigen::MatrixXd(n, 3), Eigen::VectorXd(n), Eigen::VectorXd::Constant(n, own), {}, Eigen::MatrixXd(n, 0)};
  std::vector<double> angle;
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& s = in.sweep[static_cast<std::size_t>(i)];
    model.design.row(i) << 1, std::cos(s.angle), std::sin(s.angle);
    model.observed(i) = s.reading;
    angle.push_back(s.angle);
  }
  if (in.indicator) model.common = common_errors(*in.indicator, angle, std::vector<double>(angle.size(), 0.0));
  const auto found = fit_readings(model);
  if (!found) return tl::make_unexpected(found.error());
  if (found->fit.rank < 3)
    return fail("degenerate", "The readings are not at three different angles; turn the spindle further between them.",
                "sweep");
  const std::array<double, 2> slope = in.bed_slope.value_or(std::array<double, 2>{});
  TramResult out;
  out.tilt_x = found->fit.parameters(1) / in.radius - slope[0];
  out.tilt_y = found->fit.parameters(2) / in.radius - slope[1];
  if (in.indicator) {
    out.k = found->coverage.k;
    out.U_tilt = {{std::hypot(found->expanded(1) / in.radius, *out.k * in.u_bed_slope[0]),
                   std::hypot(found->expanded(2) / in.radius, *out.k * in.u_bed_slope[1])}};
  }
  out.shim_x = out.tilt_x * in.bolt_spacing_x;
  out.shim_y = out.tilt_y * in.bolt_spacing_y;
  const double tilt = std::hypot(out.tilt_x, out.tilt_y), half = in.cutter_diameter / 2, w = in.stepover / 2;
  out.ridge = in.stepover * tilt;
  // D/2 - sqrt(D^2/4 - w^2/4), written so that a small stepover costs no digits.
  out.hollow = w * w / (half + std::sqrt((half - w) * (half + w))) * tilt;
  return out;
}

}  // namespace ypsi
