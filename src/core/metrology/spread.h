#pragma once
#include <optional>
#include <vector>

namespace ypsi {

/// Arithmetic mean; values not empty.
double mean(const std::vector<double>& values);
/// Sum of squares about the mean.
double squares_about_mean(const std::vector<double>& values);
/// Sample standard deviation with n - 1 (JCGM 100:2008, 4.2.2); none of fewer than two.
std::optional<double> sample_deviation(const std::vector<double>& values);

}  // namespace ypsi
