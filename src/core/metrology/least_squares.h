#pragma once
// Generalised least squares for readings that share errors.
//
// What can go wrong with the question comes first: readings may not be able to tell some parameters apart (two columns
// of the design alike, or a column of zeros). The fit then has rank < columns; `null_space` spans the directions along
// which the parameters can change without any reading noticing, and only combinations orthogonal to it mean anything.
// Look at `rank` before `parameters`. Rank is found on column-normalised whitened design: singular values below 1e-6 of
// the largest count as zero.
//
// Source: JCGM 100:2008, 5.2; covariance V = diag(own) + common·commonT. The common errors are carried as extra
// unknowns with pseudo-observations (mean 0, variance 1): the same answer in O(n).
#include <Eigen/Core>

#include "core/result.h"

namespace ypsi {

struct Observations {
  Eigen::MatrixXd design;        ///< n x p
  Eigen::VectorXd observed;      ///< n
  Eigen::VectorXd own_variance;  ///< n, each > 0: what is this reading's own
  Eigen::MatrixXd common;        ///< n x c: effect on each reading of one standard uncertainty of each common error
};

struct Fit {
  Eigen::VectorXd parameters;  ///< p; the shortest one (in normalised columns) where rank < p
  Eigen::MatrixXd covariance;  ///< p x p, from V as claimed; means nothing along the null space
  Eigen::VectorXd residuals;   ///< n: observed - design·parameters
  double chi2 = 0;             ///< rT·V^-1·r
  int rank = 0;
  Eigen::MatrixXd null_space;  ///< p x (p - rank), orthonormal, in normalised columns

  double u(int parameter) const;  ///< claimed standard uncertainty, before coverage()
  /// Whether parameter `index` has a component above 1e-6 in the null space: then it cannot be told.
  bool undetermined(int index) const;
};

/// Errors: `too_few` without a reading, `out_of_range` where a variance is not positive or the numbers overflow.
Result<Fit> generalised_least_squares(const Observations& observations);

}  // namespace ypsi
