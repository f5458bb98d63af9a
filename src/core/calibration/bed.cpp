#include "core/calibration/bed.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/coverage.h"
#include "core/metrology/least_squares.h"

namespace ypsi {
namespace {

Result<Fit> fit_unweighted(const Eigen::MatrixXd& design, const Eigen::VectorXd& observed) {
  return generalised_least_squares(
      {design, observed, Eigen::VectorXd::Ones(observed.size()), Eigen::MatrixXd(observed.size(), 0)});
}

}  // namespace

Result<BedMap> map_bed(const std::vector<BedPoint>& points) {
  if (points.size() < 3) return fail("too_few", "A plane needs at least three points.", "points");
  const auto n = static_cast<Eigen::Index>(points.size());
  Eigen::MatrixXd design(n, 3);
  Eigen::VectorXd z(n);
  double mx = 0, my = 0;
  for (const auto& p : points) mx += p.x / static_cast<double>(n), my += p.y / static_cast<double>(n);
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& p = points[static_cast<std::size_t>(i)];
    design.row(i) << 1, p.x - mx, p.y - my;
    z(i) = p.z;
  }
  const auto fit = fit_unweighted(design, z);
  if (!fit) return tl::make_unexpected(fit.error());
  if (fit->rank < 3) return fail("degenerate", "The points lie on one line; probe across the whole bed.", "points");
  BedMap out;
  out.height = fit->parameters(0);
  out.slope_x = fit->parameters(1);
  out.slope_y = fit->parameters(2);
  if (n > 3) {
    const double scatter = std::sqrt(fit->residuals.squaredNorm() / static_cast<double>(n - 3));
    out.u_slope_x = scatter * fit->u(1);
    out.u_slope_y = scatter * fit->u(2);
  }
  out.residuals.assign(fit->residuals.begin(), fit->residuals.end());
  out.peak_to_valley = fit->residuals.maxCoeff() - fit->residuals.minCoeff();
  out.depth_to_flat = z.maxCoeff() - z.minCoeff();
  return out;
}

Result<EdgeRun> run_edge(const std::vector<EdgeReading>& readings) {
  if (readings.size() < 2) return fail("too_few", "A line needs readings at two positions at least.", "readings");
  const auto n = static_cast<Eigen::Index>(readings.size());
  const auto [near, far] = std::minmax_element(readings.begin(), readings.end(),
                                               [](const auto& a, const auto& b) { return a.position < b.position; });
  Eigen::MatrixXd design(n, 2);
  Eigen::VectorXd observed(n);
  for (Eigen::Index i = 0; i < n; ++i) {
    design.row(i) << 1, readings[static_cast<std::size_t>(i)].position - near->position;
    observed(i) = readings[static_cast<std::size_t>(i)].reading;
  }
  const auto fit = fit_unweighted(design, observed);
  if (!fit) return tl::make_unexpected(fit.error());
  if (fit->rank < 2)
    return fail("degenerate", "All readings were taken at one position; travel along the edge between them.",
                "readings");
  const double slope = fit->parameters(1);
  return EdgeRun{slope, slope * 1000, slope * (far->position - near->position)};
}

Reversal turn_over(double first, double turned) {
  return {(first + turned) / 2, (first - turned) / 2};
}

Result<SquareByReversal> square_by_reversal(double length, double first, double turned, const Instrument& i) {
  if (!(length > 0) || !std::isfinite(length))
    return fail("out_of_range", "The length along the square's blade must be above zero.", "length");
  if (!std::isfinite(first) || !std::isfinite(turned) || std::fabs(first) >= length || std::fabs(turned) >= length)
    return fail("out_of_range", "A reading must be smaller than the blade is long.", "first");
  const Reversal r = turn_over(std::atan(first / length), std::atan(turned / length));
  const double common = i.u_cal_mm * i.u_cal_mm + std::pow(i.u_rel * (first + turned) / 2, 2);
  const double u = std::sqrt(i.variance_mm2() / 2 + common) / length;
  return SquareByReversal{r.machine, r.square, t95(claim_degrees_of_freedom) * u};
}

}  // namespace ypsi
