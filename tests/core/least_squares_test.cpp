#include "core/metrology/least_squares.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/metrology/coverage.h"
#include "core/metrology/instrument.h"

namespace ypsi {
namespace {

// Straight line with known weights, worked by hand: y = a + b·x at x = 0, 1, 2 with y = 1, 3, 4 and equal unit weights.
// Normal equations: [3 3; 3 5] p = [8; 11] -> a = 7/6, b = 3/2; covariance inverse = 1/6·[5 -3; -3 3].
Observations hand_line() {
  Observations o;
  o.design.resize(3, 2);
  o.design << 1, 0, 1, 1, 1, 2;
  o.observed.resize(3);
  o.observed << 1, 3, 4;
  o.own_variance = Eigen::VectorXd::Ones(3);
  o.common.resize(3, 0);
  return o;
}

TEST(LeastSquares, AStraightLineWorkedByHand) {
  const auto fit = generalised_least_squares(hand_line()).value();
  EXPECT_NEAR(fit.parameters(0), 7.0 / 6, 1e-12);
  EXPECT_NEAR(fit.parameters(1), 1.5, 1e-12);
  EXPECT_NEAR(fit.u(0), std::sqrt(5.0 / 6), 1e-12);
  EXPECT_NEAR(fit.covariance(0, 1), -0.5, 1e-12);
  EXPECT_NEAR(fit.chi2, 1.0 / 6, 1e-12);
  EXPECT_EQ(fit.rank, 2);
}

// Against the definition: p = (AT V^-1 A)^-1 AT V^-1 y with V written out in full.
TEST(LeastSquares, CommonErrorsGiveWhatTheFullCovarianceGives) {
  Observations o = hand_line();
  o.own_variance << 0.5, 1, 2;
  o.common.resize(3, 2);
  o.common << 0.7, 0.0, 0.7, 0.3, 0.7, 0.6;
  const auto fit = generalised_least_squares(o).value();
  const Eigen::MatrixXd V = Eigen::MatrixXd(o.own_variance.asDiagonal()) + o.common * o.common.transpose();
  const auto adjugate3 = [](const Eigen::MatrixXd& m) {  // inverse by cofactors, so that no solver is shared
    Eigen::Matrix3d c;
    for (int i = 0; i < 3; ++i)
      for (int j = 0; j < 3; ++j) {
        const int a = (i + 1) % 3, b = (i + 2) % 3, d = (j + 1) % 3, e = (j + 2) % 3;
        c(j, i) = m(a, d) * m(b, e) - m(a, e) * m(b, d);
      }
    const double det = m(0, 0) * c(0, 0) + m(0, 1) * c(1, 0) + m(0, 2) * c(2, 0);
    return Eigen::Matrix3d(c / det);
  };
  const Eigen::Matrix3d W = adjugate3(V);
  const Eigen::Matrix2d N = o.design.transpose() * W * o.design;
  const double det = N(0, 0) * N(1, 1) - N(0, 1) * N(1, 0);
  Eigen::Matrix2d C;
  C << N(1, 1) / det, -N(0, 1) / det, -N(1, 0) / det, N(0, 0) / det;
  const Eigen::Vector2d p = C * (o.design.transpose() * (W * o.observed));
  const Eigen::Vector3d r = o.observed - o.design * p;
  EXPECT_NEAR(fit.parameters(0), p(0), 1e-12);
  EXPECT_NEAR(fit.parameters(1), p(1), 1e-12);
  EXPECT_NEAR(fit.covariance(0, 0), C(0, 0), 1e-12);
  EXPECT_NEAR(fit.covariance(1, 1), C(1, 1), 1e-12);
  EXPECT_NEAR(fit.chi2, r.dot(W * r), 1e-12);
}

TEST(LeastSquares, ColumnsThatCannotBeToldApartAreNamed) {
  Observations o = hand_line();
  o.design.resize(3, 3);
  o.design << 1, 0, 2, 1, 1, 2, 1, 2, 2;  // the third is twice the first
  const auto fit = generalised_least_squares(o).value();
  EXPECT_EQ(fit.rank, 2);
  EXPECT_TRUE(fit.undetermined(0));
  EXPECT_FALSE(fit.undetermined(1));
  EXPECT_TRUE(fit.undetermined(2));
  EXPECT_NEAR(fit.parameters(1), 1.5, 1e-12) << "what can be told is told all the same";
}

TEST(LeastSquares, RefusesWhatCannotBeWeighed) {
  Observations o = hand_line();
  o.own_variance(1) = 0;
  EXPECT_EQ(generalised_least_squares(o).error().code, "out_of_range");
  o.own_variance(1) = std::nan("");
  EXPECT_FALSE(generalised_least_squares(o));
  o = hand_line();
  o.observed(0) = INFINITY;
  EXPECT_FALSE(generalised_least_squares(o));
  o.design.resize(0, 2);
  o.observed.resize(0);
  o.own_variance.resize(0);
  o.common.resize(0, 0);
  EXPECT_EQ(generalised_least_squares(o).error().code, "too_few");
}

// Published tables: Student's t and chi-square, NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2
// and 1.3.6.7.4.
TEST(Coverage, QuantilesAsPublished) {
  EXPECT_NEAR(t95(1), 12.706, 5e-4);
  EXPECT_NEAR(t95(8), 2.306, 5e-4);
  EXPECT_NEAR(t95(30), 2.042, 5e-4);
  EXPECT_NEAR(chi_square_quantile(0.95, 1), 3.841, 5e-4);
  EXPECT_NEAR(chi_square_quantile(0.95, 10), 18.307, 5e-4);
}

TEST(Coverage, TheClaimHoldsUntilTheScatterExceedsIt) {
  const auto one = coverage(0, 1, 1);
  EXPECT_EQ(one.dof, 0);
  EXPECT_FALSE(one.birge);
  EXPECT_NEAR(one.k, 2.306, 5e-4);
  EXPECT_EQ(one.u_factor, 1);
  const auto quiet = coverage(3.0, 6, 1);  // 5 degrees of freedom, less scatter than claimed
  EXPECT_FALSE(quiet.scatter_exceeds_claim);
  EXPECT_EQ(quiet.u_factor, 1) << "never better than claimed";
  const auto lively = coverage(9.0, 6, 1);
  EXPECT_NEAR(lively.u_factor, std::sqrt(17.0 / 13), 1e-12);
  const auto wild = coverage(20.0, 6, 1);  // beyond 11.07
  EXPECT_TRUE(wild.scatter_exceeds_claim);
  EXPECT_NEAR(wild.u_factor, 2, 1e-12);
  EXPECT_NEAR(wild.k, 2.365, 5e-4) << "t(0.975; 7)";
}

TEST(Instrument, RepeatingAveragesTheReaderNotTheRounding) {
  Instrument ruler;
  ruler.resolution_mm = 0.5;
  ruler.ends = 2;
  EXPECT_DOUBLE_EQ(ruler.scatter_mm(), 0.125);
  EXPECT_NEAR(ruler.own_variance_mm2(1), 2 * 0.25 / 12 + 0.125 * 0.125, 1e-15);
  EXPECT_NEAR(ruler.own_variance_mm2(1'000'000), 2 * 0.25 / 12, 1e-7);
  ruler.ends = 1;
  EXPECT_DOUBLE_EQ(ruler.scatter_mm(), 0.5);
}

}  // namespace
}  // namespace ypsi
