#include "core/metrology/coverage.h"

#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/students_t.hpp>

namespace ypsi {

double student_t_quantile(double p, int dof) {
  return boost::math::quantile(boost::math::students_t(dof), p);
}

double student_t_below(double t, int dof) {
  return boost::math::cdf(boost::math::students_t(dof), t);
}

double t95(int dof) {
  return student_t_quantile(0.975, dof);
}

double chi_square_quantile(double p, int dof) {
  return boost::math::quantile(boost::math::chi_squared(dof), p);
}

}  // namespace ypsi
