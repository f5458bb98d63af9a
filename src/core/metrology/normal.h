#pragma once
#include <boost/math/distributions/normal.hpp>

namespace ypsi {

/// p-quantile of the standard normal distribution, 0 < p < 1: 1.96 for 0.975.
inline double normal_quantile(double p) {
  return boost::math::quantile(boost::math::normal(), p);
}

}  // namespace ypsi
