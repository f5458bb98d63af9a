#include "core/metrology/least_squares.h"

#include <Eigen/QR>
#include <Eigen/SVD>
#include <cmath>

namespace ypsi {
namespace {
constexpr double rank_threshold = 1e-6;
constexpr double null_component = 1e-6;
}  // namespace

double Fit::u(int parameter) const {
  return std::sqrt(std::max(0.0, covariance(parameter, parameter)));
}

bool Fit::undetermined(int index) const {
  return null_space.cols() > 0 && null_space.row(index).cwiseAbs().maxCoeff() > null_component;
}

Result<Fit> generalised_least_squares(const Observations& in) {
  const auto n = in.design.rows();
  const auto p = in.design.cols();
  const auto c = in.common.cols();
  if (n == 0 || p == 0) return fail("too_few", "There is no reading to work from; take at least one.");
  if (!(in.own_variance.minCoeff() > 0))
    return fail("out_of_range", "A reading has no uncertainty of its own; give the instrument a resolution.");

  // Rows: readings over their own standard deviation, then one pseudo-observation per common error.
  const Eigen::VectorXd weight = in.own_variance.cwiseSqrt().cwiseInverse();
  Eigen::MatrixXd system = Eigen::MatrixXd::Zero(n + c, c + p + 1);
  system.topLeftCorner(n, c) = weight.asDiagonal() * in.common;
  system.block(0, c, n, p) = weight.asDiagonal() * in.design;
  system.topRightCorner(n, 1) = weight.asDiagonal() * in.observed;
  system.bottomLeftCorner(c, c).setIdentity();
  if (!system.allFinite())
    return fail("out_of_range", "These numbers are too far apart in size to be worked with; check the units.");

  // Orthogonal elimination of the common errors leaves the whitened design in the rows below them.
  const Eigen::MatrixXd triangle = [&] {
    const Eigen::HouseholderQR<Eigen::MatrixXd> qr(system);
    Eigen::MatrixXd r = qr.matrixQR().triangularView<Eigen::Upper>();
    return r;
  }();
  const auto rows = std::min<Eigen::Index>(p, triangle.rows() - c);
  // Made square by rows of zeros, which say nothing.
  Eigen::MatrixXd whitened = Eigen::MatrixXd::Zero(p, p);
  Eigen::VectorXd target = Eigen::VectorXd::Zero(p);
  whitened.topRows(rows) = triangle.block(c, c, rows, p);
  target.head(rows) = triangle.block(c, c + p, rows, 1);

  Eigen::VectorXd norms = whitened.colwise().norm();
  // A column that no reading touches comes out of the elimination as rounding; its size before is the measure.
  for (Eigen::Index j = 0; j < p; ++j) {
    const double before = system.col(c + j).norm();
    if (!(norms(j) > 1e-14 * before) || norms(j) == 0) norms(j) = 0;
  }
  const Eigen::VectorXd scale = norms.unaryExpr([](double v) { return v > 0 ? 1 / v : 0.0; });
  const Eigen::JacobiSVD<Eigen::MatrixXd, Eigen::NoQRPreconditioner> svd(whitened * scale.asDiagonal(),
                                                                         Eigen::ComputeFullU | Eigen::ComputeFullV);
  const Eigen::VectorXd& values = svd.singularValues();

  Fit fit;
  for (Eigen::Index i = 0; i < values.size(); ++i)
    if (values(0) > 0 && values(i) > rank_threshold * values(0)) ++fit.rank;
  const auto rank = fit.rank;
  const Eigen::MatrixXd v = svd.matrixV().leftCols(rank);
  const Eigen::VectorXd inverse = values.head(rank).cwiseInverse();
  fit.null_space = svd.matrixV().rightCols(p - rank);
  fit.parameters =
      scale.asDiagonal() * (v * (inverse.asDiagonal() * (svd.matrixU().leftCols(rank).transpose() * target)));
  const Eigen::MatrixXd root = scale.asDiagonal() * (v * inverse.asDiagonal());
  fit.covariance = root * root.transpose();
  fit.residuals = in.observed - in.design * fit.parameters;

  // chi2 as a sum of squares, with the common errors at their best values: never negative, nothing cancels.
  const Eigen::VectorXd r = weight.asDiagonal() * fit.residuals;
  fit.chi2 = r.squaredNorm();
  if (c > 0) {
    Eigen::MatrixXd common(n + c, c);
    common << system.leftCols(c);
    Eigen::VectorXd extended = Eigen::VectorXd::Zero(n + c);
    extended.head(n) = r;
    const Eigen::VectorXd shared = common.householderQr().solve(extended);
    fit.chi2 = (extended - common * shared).squaredNorm();
  }
  if (!fit.parameters.allFinite() || !fit.covariance.allFinite() || !std::isfinite(fit.chi2))
    return fail("out_of_range", "These numbers are too far apart in size to be worked with; check the units.");
  return fit;
}

}  // namespace ypsi
