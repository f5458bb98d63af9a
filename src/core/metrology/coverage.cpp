#include "core/metrology/coverage.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>

namespace ypsi {

double student_t_quantile(double p, int dof) {
  return boost::math::quantile(boost::math::students_t(dof), p);
}

double t95(int dof) {
  return student_t_quantile(0.975, dof);
}

double chi_square_quantile(double p, int dof) {
  return boost::math::quantile(boost::math::chi_squared(dof), p);
}

Coverage coverage(double chi2, int readings, int rank) {
  Coverage c;
  c.dof = std::max(0, readings - rank);
  if (c.dof > 0) c.birge = std::sqrt(chi2 / c.dof);
  c.scatter_exceeds_claim = c.dof > 0 && chi2 > chi_square_quantile(0.95, c.dof);
  if (c.scatter_exceeds_claim) {
    c.u_factor = *c.birge;
    c.k = t95(c.dof + 2);
  } else {
    c.u_factor = std::sqrt(std::max(1.0, (claim_degrees_of_freedom + chi2) / (claim_degrees_of_freedom + c.dof)));
    c.k = t95(claim_degrees_of_freedom + c.dof);
  }
  return c;
}

}  // namespace ypsi
