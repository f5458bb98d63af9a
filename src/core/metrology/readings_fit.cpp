#include "core/metrology/readings_fit.h"

#include <algorithm>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include <cstdint>
#include <utility>

namespace ypsi {
namespace {

constexpr double rounding_chi2 = 1e-12, widest_b = 1e6;

Result<Fit> fit_at(const ReadingsModel& in, double b) {
  Observations observations{in.design, in.observed, b * b * in.own, in.common};
  if (in.kept.size() > 0) observations.own_variance += in.kept;
  return generalised_least_squares(observations);
}

/// The b > 1 at which chi^2 is what it should be; falls as b rises.
double widening(const ReadingsModel& in, int dof) {
  const auto excess = [&](double b) {
    const auto fit = fit_at(in, b);
    return fit ? fit->chi2 - dof : -1.0;
  };
  double low = 1, high = 2;
  while (excess(high) > 0 && high < widest_b) low = std::exchange(high, 2 * high);
  if (high >= widest_b) return widest_b;
  std::uintmax_t steps = 200;
  const auto [a, c] =
      boost::math::tools::toms748_solve(excess, low, high, boost::math::tools::eps_tolerance<double>(48), steps);
  return (a + c) / 2;
}

}  // namespace

Result<Fit> fit_as_claimed(const ReadingsModel& in) {
  return fit_at(in, 1);
}

Result<ReadingsFit> fit_readings(const ReadingsModel& in) {
  auto first = fit_as_claimed(in);
  if (!first) return tl::make_unexpected(first.error());
  ReadingsFit out;
  Coverage& c = out.coverage;
  out.chi2 = first->chi2 < rounding_chi2 ? 0 : first->chi2;
  c.dof = std::max(0, static_cast<int>(in.observed.size()) - first->rank);
  if (c.dof > 0) c.birge = std::sqrt(out.chi2 / c.dof);
  c.scatter_exceeds_claim = c.dof > 0 && out.chi2 > chi_square_quantile(0.95, c.dof);
  if (c.scatter_exceeds_claim) {
    c.b = widening(in, c.dof);
    c.k = t95(c.dof + 2);
  } else {
    constexpr double claim = claim_degrees_of_freedom;
    c.b = std::sqrt(std::max(1.0, (claim + out.chi2) / (claim + c.dof)));
    c.k = t95(claim_degrees_of_freedom + c.dof);
  }
  auto widened = c.b == 1 ? std::move(first) : fit_at(in, c.b);
  if (!widened) return tl::make_unexpected(widened.error());
  out.fit = std::move(*widened);
  return out;
}

}  // namespace ypsi
