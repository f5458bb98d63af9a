#include "core/heads/head_offset.h"

#include <cmath>

#include "core/metrology/coverage.h"

namespace ypsi {
namespace {

constexpr int marks_that_tell_scatter = 3;
constexpr double both_looked_at = 0.9875;  // turn and stretch: each at half of 5 %
constexpr PlanPoint quarter_turn{0, 1};

PlanPoint mean_of(const std::vector<PlanPoint>& places) {
  PlanPoint sum;
  for (const PlanPoint p : places) sum += p;
  return sum / static_cast<double>(places.size());
}

}  // namespace

Result<HeadOffset> head_offset(const std::vector<SharedMark>& marks, double s) {
  if (marks.empty()) return fail("too_few", "Bring both heads over one mark at least.", "marks");
  const auto n = static_cast<int>(marks.size());
  std::vector<PlanPoint> differences, spindle;
  for (const SharedMark& mark : marks) {
    differences.push_back(mark.spindle - mark.other);
    spindle.push_back(mark.spindle);
  }
  HeadOffset out;
  out.offset = mean_of(differences);
  if (n < marks_that_tell_scatter) {
    out.k = t95(claim_degrees_of_freedom);
    out.U = out.k * std::sqrt(2.0) * s / std::sqrt(n);  // each difference holds two placings
    return out;
  }
  const PlanPoint middle = mean_of(spindle);
  double Q = 0, stretch = 0, turn = 0;
  for (std::size_t j = 0; j < marks.size(); ++j) {
    const PlanPoint c = spindle[j] - middle, r = differences[j] - out.offset;
    Q += std::norm(c);
    stretch += dot(c, r);
    turn += dot(quarter_turn * c, r);
  }
  if (!(Q > 0)) return fail("degenerate", "The marks are all in one place; spread them over the bed.", "marks");
  HeadOffset::Left left;
  left.stretch = stretch / Q;
  left.turn = turn / Q;
  left.dof = 2 * n - 4;
  double squares = 0;
  for (std::size_t j = 0; j < marks.size(); ++j) {
    const PlanPoint c = spindle[j] - middle;
    left.residuals.push_back(differences[j] - out.offset - left.stretch * c - left.turn * quarter_turn * c);
    squares += std::norm(left.residuals.back());
  }
  const double scatter = std::sqrt(squares / left.dof), u = scatter / std::sqrt(Q);
  out.k = t95(left.dof);
  out.U = out.k * scatter / std::sqrt(n);
  left.U_turn = left.U_stretch = out.k * u;
  const double looked = student_t_quantile(both_looked_at, left.dof) * u;
  if (std::fabs(left.turn) > looked)
    out.verdict = HeadVerdict::turned;
  else if (std::fabs(left.stretch) > looked)
    out.verdict = HeadVerdict::stretched;
  out.left = std::move(left);
  return out;
}

}  // namespace ypsi
