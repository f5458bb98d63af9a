#pragma once
// How far a fit's uncertainty can be relied on; fit_readings() finds it.
// Source: JCGM 100:2008, annex G (t factor, degrees of freedom of a claim, G.4.2) and Birge (1932) for scatter beyond
// it.
#include <optional>

namespace ypsi {

/// An instrument's claim counts as much as this many degrees of freedom (a claim good to a quarter, JCGM 100, G.4.2).
inline constexpr int claim_degrees_of_freedom = 8;

struct Coverage {
  int dof = 0;                         ///< readings less what was fitted, >= 0
  std::optional<double> birge;         ///< sqrt(chi2/dof) as claimed; none at dof 0
  bool scatter_exceeds_claim = false;  ///< chi2 beyond its 95 % point: the readings scatter more than was claimed
  double b = 1;                        ///< what the own part of each reading's uncertainty is widened by, >= 1
  double k = 2;                        ///< coverage factor for about 95 %
};

/// p-quantile of Student's t, 0 < p < 1, dof >= 1.
double student_t_quantile(double p, int dof);
/// Chance that Student's t is below `t`, dof >= 1.
double student_t_below(double t, int dof);
/// t(0.975; dof): the two-sided 95 % factor.
double t95(int dof);
/// p-quantile of chi-square, 0 < p < 1, dof >= 1.
double chi_square_quantile(double p, int dof);

}  // namespace ypsi
