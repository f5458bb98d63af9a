#include "core/heads/drawn_marks.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/coverage.h"

namespace ypsi {
namespace {
constexpr double odd_beyond = 3;      // times the claim
constexpr double no_leverage = 1e-9;  // a mark whose place the fit goes through whatever it says
}  // namespace

PlanPoint MarksFit::at(PlanPoint drawn) const {
  return found_middle + std::polar(scale, turn) * (drawn - drawn_middle);
}

double MarksFit::U_at(PlanPoint drawn) const {
  return k * s * std::sqrt(1.0 / static_cast<double>(residuals.size()) + std::norm(drawn - drawn_middle) / spread);
}

Result<MarksFit> fit_marks(const std::vector<FoundMark>& marks, double claim) {
  if (marks.size() < 2) return fail("too_few", "Two marks at least tell how a drawing lies.", "points");
  const auto n = static_cast<double>(marks.size());
  MarksFit out;
  for (const FoundMark& m : marks) {
    out.drawn_middle += m.drawn / n;
    out.found_middle += m.found / n;
  }
  PlanPoint product;
  double found_spread = 0;
  for (const FoundMark& m : marks) {
    const PlanPoint z = m.drawn - out.drawn_middle, w = m.found - out.found_middle;
    product += std::conj(z) * w;
    out.spread += std::norm(z);
    found_spread += std::norm(w);
  }
  if (!(out.spread > 0) || !(found_spread > 0) || !(std::abs(product) > 0))
    return fail("degenerate", "The marks are all in one place; take some that are far apart.", "points");
  const PlanPoint c = product / out.spread;
  out.scale = std::abs(c);
  out.turn = std::arg(c);

  std::vector<double> outlying;
  double squares = 0;
  for (const FoundMark& m : marks) {
    const PlanPoint z = m.drawn - out.drawn_middle;
    const double left = std::norm(m.found - out.found_middle - c * z), free = 1 - 1 / n - std::norm(z) / out.spread;
    squares += left;
    outlying.push_back(free > no_leverage ? std::sqrt(left / free) : 0);
  }
  const bool tells_scatter = marks.size() > 2;
  const int dof = 2 * static_cast<int>(marks.size()) - 4;
  out.s = tells_scatter ? std::sqrt(squares / dof) : claim;
  out.k = t95(tells_scatter ? dof : claim_degrees_of_freedom);
  const bool scale_is_one = std::fabs(out.scale - 1) <= out.k * out.s / std::sqrt(out.spread);
  if (scale_is_one) out.scale = 1;
  for (const FoundMark& m : marks) out.residuals.push_back(m.found - out.at(m.drawn));

  if (!tells_scatter) {
    if (!scale_is_one) out.verdict = MarksVerdict::wrong_scale;
    return out;
  }
  const auto worst = std::max_element(outlying.begin(), outlying.end());
  if (*worst > odd_beyond * claim) {
    out.verdict = MarksVerdict::odd_mark;
    out.odd = {static_cast<std::size_t>(worst - outlying.begin())};
    if (marks.size() == 3) out.odd = {0, 1, 2};
  }
  return out;
}

}  // namespace ypsi
