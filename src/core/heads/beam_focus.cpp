#include "core/heads/beam_focus.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/readings_fit.h"

namespace ypsi {

Result<BeamFocus> beam_focus(const std::vector<BurntLine>& lines, double u_width) {
  constexpr std::size_t fewest = 4;
  if (lines.size() < fewest) return fail("too_few", "Four lines at least tell where a beam is narrowest.", "points");
  const auto n = static_cast<Eigen::Index>(lines.size());
  const auto [lowest, highest] =
      std::minmax_element(lines.begin(), lines.end(), [](const auto& a, const auto& b) { return a.z < b.z; });
  const double middle = (lowest->z + highest->z) / 2;
  ReadingsModel model{Eigen::MatrixXd(n, 3), Eigen::VectorXd(n), Eigen::VectorXd(n), {}, Eigen::MatrixXd(n, 0)};
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& [z, width] = lines[static_cast<std::size_t>(i)];
    const double x = z - middle, u = 2 * width * u_width;
    model.design.row(i) << 1, x, x * x;
    model.observed(i) = width * width;
    model.own(i) = u * u;
  }
  const auto fit = fit_readings(model);
  if (!fit) return tl::make_unexpected(fit.error());
  if (fit->fit.rank < 3)
    return fail("degenerate", "The lines are at fewer than three heights; burn some at others.", "points");
  BeamFocus out;
  out.k = fit->coverage.k;
  out.birge = fit->coverage.birge.value_or(0);
  const double b = fit->fit.parameters(1), c = fit->fit.parameters(2);
  if (!(c > fit->expanded(2))) {
    out.verdict = FocusVerdict::no_minimum;
    return out;
  }
  const double beside = -b / (2 * c);
  const Eigen::Vector3d gradient(0, -1 / (2 * c), b / (2 * c * c));
  out.z = middle + beside;
  out.U = fit->coverage.k * std::sqrt(std::max(0.0, gradient.dot(fit->fit.covariance * gradient)));
  if (std::fabs(beside) >= *out.U) out.verdict = FocusVerdict::recentre;
  return out;
}

}  // namespace ypsi
