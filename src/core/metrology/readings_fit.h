#pragma once
// A fit to readings made with one instrument, and what it is worth. Readings that scatter more than the instrument
// claims widen their own part alone, never what they have in common. Source: JCGM 100:2008, 5.2 and G.4.2; Birge
// (1932); handbook of the trade, 4.
#include <Eigen/Core>

#include "core/metrology/coverage.h"
#include "core/metrology/least_squares.h"

namespace ypsi {

struct ReadingsModel {
  Eigen::MatrixXd design;    ///< n x p
  Eigen::VectorXd observed;  ///< n
  Eigen::VectorXd own;       ///< n, >= 0: variance that each draws anew, widened by b^2
  Eigen::VectorXd kept;      ///< n, >= 0, or empty: variance that no scatter widens (priors, periodic errors)
  Eigen::MatrixXd common;    ///< n x c: effect on each of one standard uncertainty of each common error
};

struct ReadingsFit {
  Fit fit;          ///< parameters and covariance at coverage.b, residuals with it
  double chi2 = 0;  ///< as claimed, at b = 1
  Coverage coverage;
  double u(int parameter) const { return fit.u(parameter); }
  double expanded(int parameter) const { return coverage.k * u(parameter); }
};

/// At b = 1, for who asks only what can be told. Errors: those of generalised_least_squares().
Result<Fit> fit_as_claimed(const ReadingsModel& readings);
/// Errors: the same.
Result<ReadingsFit> fit_readings(const ReadingsModel& readings);

}  // namespace ypsi
