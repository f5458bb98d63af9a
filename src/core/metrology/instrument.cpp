#include "core/metrology/instrument.h"

#include <cmath>

namespace ypsi {

double Instrument::u_mm(double told_mm) const {
  return std::sqrt(own_variance_mm2() + u_cal_mm * u_cal_mm + u_rel * u_rel * told_mm * told_mm);
}

}  // namespace ypsi
