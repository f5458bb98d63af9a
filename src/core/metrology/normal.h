#pragma once

namespace ypsi {

/// p-quantile of the standard normal distribution, 0 < p < 1: 1.96 for 0.975.
double normal_quantile(double p);

}  // namespace ypsi
