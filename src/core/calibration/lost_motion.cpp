#include "core/calibration/lost_motion.h"

#include <cmath>

#include "core/metrology/least_squares.h"
#include "core/metrology/merge.h"
#include "core/metrology/spread.h"

namespace ypsi {

Result<LostMotionResult> evaluate_lost_motion(const std::vector<TurnRound>& places, Instrument indicator) {
  if (places.empty())
    return fail("too_few", "There is no place yet; arrive at one from both sides and read the indicator.", "places");
  indicator.ends = 2;
  if (indicator.s_mm) *indicator.s_mm *= std::sqrt(2);  // of one reading; a difference has two
  LostMotionResult out;
  for (const auto& p : places) out.each.push_back(p.arriving_minus - p.arriving_plus);
  for (const double d : out.each)
    if (std::fabs(d) > std::fabs(out.largest)) out.largest = d;
  out.mean = mean(out.each);
  out.s = sample_deviation(out.each).value_or(0);

  // The plain mean is wanted; its uncertainty is that of a constant fitted to the readings.
  const auto groups = merge_identical(out.each);
  const auto n = static_cast<Eigen::Index>(groups.size());
  Observations o{Eigen::MatrixXd::Ones(n, 1), Eigen::VectorXd(n), Eigen::VectorXd(n), Eigen::MatrixXd(n, 0)};
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& g = groups[static_cast<std::size_t>(i)];
    o.observed(i) = out.each[g.first];
    o.own_variance(i) = indicator.own_variance_mm2(g.count);
  }
  const auto fit = generalised_least_squares(o);
  if (!fit) return tl::make_unexpected(fit.error());
  out.coverage = coverage(fit->chi2, static_cast<int>(n), 1);
  out.u = out.coverage.u(fit->u(0));
  out.U = out.coverage.expanded(fit->u(0));
  return out;
}

}  // namespace ypsi
