#include "core/metrology/normal.h"

#include <boost/math/distributions/normal.hpp>

namespace ypsi {

double normal_quantile(double p) {
  return boost::math::quantile(boost::math::normal(), p);
}

}  // namespace ypsi
