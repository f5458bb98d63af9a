#include "core/calibration/depth_plane.h"

#include <cmath>

#include "core/metrology/readings_fit.h"

namespace ypsi {
namespace {

constexpr std::size_t places_of_a_plane = 4;  // one more than it has parameters

/// The repeated rounding of alike readings is not alike here: lines are nowhere as wide as elsewhere.
ReadingsModel model_of(const std::vector<DepthTold>& told, const Instrument& instrument, bool sloped, bool tip,
                       double x, double y) {
  const auto n = static_cast<Eigen::Index>(told.size());
  const Eigen::Index columns = 1 + (sloped ? 2 : 0) + (tip ? 1 : 0);
  ReadingsModel m{
      Eigen::MatrixXd::Zero(n, columns), Eigen::VectorXd(n), Eigen::VectorXd(n), {}, Eigen::MatrixXd::Zero(n, 2)};
  for (Eigen::Index i = 0; i < n; ++i) {
    const DepthTold& t = told[static_cast<std::size_t>(i)];
    const double per = t.per_width.value_or(1);
    m.design(i, 0) = 1;
    if (sloped) {
      m.design(i, 1) = t.x - x;
      m.design(i, 2) = t.y - y;
    }
    if (tip) m.design(i, columns - 1) = t.per_width.value_or(0);
    m.observed(i) = t.too_deep;
    m.own(i) = instrument.variance_mm2() * per * per;
    m.common(i, t.per_width ? 0 : 1) = instrument.u_cal_mm * per;
  }
  return m;
}

}  // namespace

Result<DepthPlane> fit_depth_plane(const std::vector<DepthTold>& told, const Instrument& instrument) {
  if (told.empty()) return fail("too_few", "No line's width or depth is measured yet.", "widths");
  double x = 0, y = 0;
  std::size_t by_width = 0;
  for (const DepthTold& t : told) {
    if (!std::isfinite(t.x + t.y + t.too_deep) || !(t.per_width.value_or(1) > 0))
      return fail("out_of_range", "A place and its depth must be numbers, and a point must widen.", "widths");
    x += t.x / static_cast<double>(told.size());
    y += t.y / static_cast<double>(told.size());
    by_width += t.per_width ? 1 : 0;
  }
  const bool tip = by_width > 0 && by_width < told.size();
  const std::size_t spread = told.size() - (tip ? 1 : 0);
  bool sloped = spread >= places_of_a_plane;
  auto fit = fit_readings(model_of(told, instrument, sloped, tip, x, y));
  if (sloped && fit && (fit->fit.undetermined(1) || fit->fit.undetermined(2))) {
    sloped = false;
    fit = fit_readings(model_of(told, instrument, sloped, tip, x, y));
  }
  if (!fit) return tl::make_unexpected(fit.error());
  const auto parameter = [&](int i) { return Known{fit->fit.parameters(i), fit->u(i)}; };
  DepthPlane plane;
  plane.coverage = fit->coverage;
  plane.middle = parameter(0);
  if (sloped) {
    plane.along_x = parameter(1);
    plane.along_y = parameter(2);
  }
  if (tip) plane.wider_tip = parameter(sloped ? 3 : 1);
  const Eigen::VectorXd& left = fit->fit.residuals;
  plane.residuals.assign(left.data(), left.data() + left.size());
  return plane;
}

}  // namespace ypsi
