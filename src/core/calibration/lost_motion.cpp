#include "core/calibration/lost_motion.h"

#include <cmath>

#include "core/metrology/readings_fit.h"
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
  const auto n = static_cast<Eigen::Index>(out.each.size());
  const auto fit = fit_readings({Eigen::MatrixXd::Ones(n, 1),
                                 Eigen::Map<const Eigen::VectorXd>(out.each.data(), n),
                                 Eigen::VectorXd::Constant(n, indicator.own_part_mm2()),
                                 {},
                                 Eigen::MatrixXd(n, 0)});
  if (!fit) return tl::make_unexpected(fit.error());
  out.coverage = fit->coverage;
  out.u = fit->u(0);
  out.U = fit->expanded(0);
  return out;
}

}  // namespace ypsi
