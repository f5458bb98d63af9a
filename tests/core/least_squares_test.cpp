#include "core/metrology/least_squares.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/metrology/instrument.h"
#include "core/metrology/readings_fit.h"

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

/// Six readings of one thing, each good to 1, whose squares about their mean are `chi2`.
Result<ReadingsFit> six_readings(double chi2, double common = 0) {
  const double off = std::sqrt(chi2 / 6);
  Eigen::VectorXd observed(6);
  observed << off, -off, off, -off, off, -off;
  return fit_readings(
      {Eigen::MatrixXd::Ones(6, 1), observed, Eigen::VectorXd::Ones(6), {}, Eigen::MatrixXd::Constant(6, 1, common)});
}

TEST(Coverage, TheClaimHoldsUntilTheScatterExceedsIt) {
  const auto one = fit_readings(
      {Eigen::MatrixXd::Ones(1, 1), Eigen::VectorXd::Ones(1), Eigen::VectorXd::Ones(1), {}, Eigen::MatrixXd(1, 0)});
  EXPECT_EQ(one->coverage.dof, 0);
  EXPECT_FALSE(one->coverage.birge);
  EXPECT_NEAR(one->coverage.k, 2.306, 5e-4);
  EXPECT_EQ(one->coverage.b, 1);
  const auto quiet = six_readings(3);  // 5 degrees of freedom, less scatter than claimed
  EXPECT_FALSE(quiet->coverage.scatter_exceeds_claim);
  EXPECT_EQ(quiet->coverage.b, 1) << "never better than claimed";
  EXPECT_NEAR(quiet->u(0), 1 / std::sqrt(6), 1e-12);
  const auto lively = six_readings(9);
  EXPECT_NEAR(lively->coverage.b, std::sqrt(17.0 / 13), 1e-12);
  const auto wild = six_readings(20);  // beyond 11.07
  EXPECT_TRUE(wild->coverage.scatter_exceeds_claim);
  EXPECT_NEAR(wild->coverage.b, 2, 1e-12);
  EXPECT_NEAR(wild->coverage.k, 2.365, 5e-4) << "t(0.975; 7)";
  EXPECT_NEAR(wild->u(0), 2 / std::sqrt(6), 1e-12);
}

TEST(Coverage, ScatterWidensTheReadingsOwnPartAlone) {
  const auto wild = six_readings(20, 3);
  EXPECT_NEAR(wild->coverage.b, 2, 1e-9) << "what is common explains no scatter";
  EXPECT_NEAR(wild->u(0), std::sqrt(4.0 / 6 + 9), 1e-9);
}

TEST(Coverage, WhatIsKeptIsNotWidened) {
  Eigen::VectorXd observed(4), own(4), kept(4);
  observed << 4, -4, 4, -4;
  own << 1, 1, 1, 1;
  kept << 3, 3, 3, 3;
  const auto fit = fit_readings({Eigen::MatrixXd::Ones(4, 1), observed, own, kept, Eigen::MatrixXd(4, 0)});
  // 64/(b^2 + 3) = 3 degrees of freedom.
  ASSERT_TRUE(fit->coverage.scatter_exceeds_claim);
  EXPECT_NEAR(fit->coverage.b, std::sqrt(64.0 / 3 - 3), 1e-9);
  EXPECT_NEAR(fit->u(0), std::sqrt(64.0 / 3 / 4), 1e-9);
}

TEST(Instrument, RoundingThatRepeatsIsStirredByTheReader) {
  // All of it repeats where nothing stirs (r^2/12, Abramowitz and Stegun 23.2.24), nearly nothing at a scatter of half
  // a step, and nothing where both ends are read anew.
  const Instrument still{"", 1, 1, 0.0}, stirred{"", 1, 1, 0.5}, ruler{"", 1, 2, 0.0};
  EXPECT_NEAR(still.repeating_part_mm2(), 1.0 / 12, 6e-3);
  EXPECT_NEAR(stirred.repeating_part_mm2(),
              std::exp(-std::numbers::pi * std::numbers::pi) / (2 * std::numbers::pi * std::numbers::pi), 1e-12);
  EXPECT_EQ(ruler.repeating_part_mm2(), 0);
  for (const Instrument& i : {still, stirred, ruler})
    EXPECT_NEAR(i.own_part_mm2() + i.repeating_part_mm2(), i.variance_mm2(), 1e-15);
}

TEST(Instrument, WhatIsNotClaimedIsUsual) {
  Instrument ruler;
  ruler.resolution_mm = 0.5;
  ruler.ends = 2;
  EXPECT_DOUBLE_EQ(ruler.scatter_mm(), 0.125);
  EXPECT_NEAR(ruler.variance_mm2(), 2 * 0.25 / 12 + 0.125 * 0.125, 1e-15);
  ruler.ends = 1;
  EXPECT_DOUBLE_EQ(ruler.scatter_mm(), 0.5);
  ruler.s_mm = 0;
  EXPECT_DOUBLE_EQ(ruler.least_scatter_mm(), 0.005) << "nobody reads without any";
}

}  // namespace
}  // namespace ypsi
