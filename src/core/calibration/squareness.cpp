#include "core/calibration/squareness.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/metrology/common_errors.h"
#include "core/metrology/readings_fit.h"

namespace ypsi {
namespace {

enum Parameter { sx, sy, skew, parameter_count };
constexpr int most_steps = 100;
constexpr double negligible_skew = 1e-12;  // rad: rounding of the arithmetic

struct Vector {
  double x, y;
  double length() const { return std::hypot(x, y); }
};

Vector commanded(const SquareInput& in, const MarkDistance& d) {
  const Point2 &a = in.points[d.from].commanded, &b = in.points[d.to].commanded;
  return {b.x - a.x, b.y - a.y};
}

double centre_distance(const MarkDistance& d) {
  return d.measured + (d.edge == HoleEdge::outer ? -d.hole_diameter : d.edge == HoleEdge::inner ? d.hole_diameter : 0);
}

Result<void> check(const SquareInput& in) {
  if (in.distances.empty()) return fail("too_few", "There is no distance yet; measure from mark to mark.", "distances");
  for (std::size_t i = 0; i < in.distances.size(); ++i) {
    const auto& d = in.distances[i];
    const auto where = [i](const char* key) { return fmt::format("distances[{}].{}", i, key); };
    if (!(d.measured > 0)) return fail("out_of_range", "A measured distance must be above zero.", where("measured_mm"));
    if (!(commanded(in, d).length() > 0))
      return fail("degenerate", "Both ends of this distance are the same place; choose two different marks.",
                  where("to"));
    if (!(centre_distance(d) > 0))
      return fail("out_of_range",
                  "The holes are larger than the distance over their outer edges; check the diameter and the edge.",
                  where("measured_mm"));
  }
  return {};
}

/// Distance and its derivatives for the current parameters.
struct Predicted {
  double distance, by_sx, by_sy, by_skew;
};
Predicted predict(const Vector& c, const Eigen::Vector3d& p) {
  const double s = std::sin(p(skew)), k = std::cos(p(skew));
  const double x = p(sx) * c.x + p(sy) * c.y * s, y = p(sy) * c.y * k;
  const double d = std::max(std::hypot(x, y), 1e-300);
  return {d, x * c.x / d, (x * c.y * s + y * c.y * k) / d, (x * p(sy) * c.y * k - y * p(sy) * c.y * s) / d};
}

/// The linearised problem at `p`; with a common scale its one column is the sum of both scales'.
ReadingsModel linearised(const SquareInput& in, const Eigen::Vector3d& p, bool common_scale) {
  const auto n = static_cast<Eigen::Index>(in.distances.size());
  ReadingsModel model{Eigen::MatrixXd(n, common_scale ? 2 : 3),
                      Eigen::VectorXd(n),
                      Eigen::VectorXd::Constant(n, in.instrument.own_part_mm2()),
                      {},
                      {}};
  std::vector<std::tuple<std::size_t, std::size_t, HoleEdge, double>> distance;
  std::vector<double> told;
  for (Eigen::Index i = 0; i < n; ++i) {
    const MarkDistance& d = in.distances[static_cast<std::size_t>(i)];
    const Vector c = commanded(in, d);
    const Predicted f = predict(c, p);
    if (common_scale)
      model.design.row(i) << f.by_sx + f.by_sy, f.by_skew;
    else
      model.design.row(i) << f.by_sx, f.by_sy, f.by_skew;
    model.observed(i) = centre_distance(d) - f.distance;
    distance.emplace_back(std::min(d.from, d.to), std::max(d.from, d.to), d.edge, d.hole_diameter);
    told.push_back(c.length());
  }
  model.common = common_errors(in.instrument, distance, told);
  return model;
}

/// Whether the lean goes with the scales that these distances do not tell. Marks stand on whole steps, so that
/// diagonals which tell nothing of the scales seem to tell some: a hundredth of what they would.
bool loses_skew(const Fit& fit) {
  constexpr double steps_make_of_it = 1e-3;  // in normalised columns; five percent of scale make 0.05 mrad of it
  return fit.null_space.cols() > 0 && fit.null_space.row(skew).cwiseAbs().maxCoeff() > steps_make_of_it;
}

/// Whether each scale is told by itself, and not by steps alone.
bool tells_scales(const Fit& fit) {
  constexpr double of_no_use = 0.2;
  return fit.rank == parameter_count && fit.u(sx) < of_no_use && fit.u(sy) < of_no_use;
}

bool tells_all(const SquareInput& in) {
  const auto fit = fit_as_claimed(linearised(in, {1, 1, 0}, false));
  return fit && tells_scales(*fit);
}

bool tells_skew(const SquareInput& in) {
  const auto fit = fit_as_claimed(linearised(in, {1, 1, 0}, false));
  return fit && !loses_skew(*fit);
}

using MarkPair = std::array<std::size_t, 2>;

/// The fewest further distances, at most two, that together settle the question; sought among the marks there are.
std::vector<MarkPair> settling(SquareInput in, bool (*settled)(const SquareInput&)) {
  std::vector<MarkDistance> candidates;
  const std::size_t n = std::min<std::size_t>(in.points.size(), 12);
  for (std::size_t a = 0; a < n; ++a)
    for (std::size_t b = a + 1; b < n; ++b)
      if (const MarkDistance d{a, b, 1, HoleEdge::center, 0}; commanded(in, d).length() > 0) candidates.push_back(d);
  // Long ones first: they tell more.
  std::stable_sort(candidates.begin(), candidates.end(),
                   [&](const auto& a, const auto& b) { return commanded(in, a).length() > commanded(in, b).length(); });
  const auto with = [&](std::initializer_list<MarkDistance> more) {
    in.distances.insert(in.distances.end(), more);
    const bool enough = settled(in);
    in.distances.resize(in.distances.size() - more.size());
    return enough;
  };
  for (const auto& d : candidates)
    if (with({d})) return {{d.from, d.to}};
  for (std::size_t i = 0; i < candidates.size(); ++i)
    for (std::size_t j = i + 1; j < candidates.size(); ++j)
      if (with({candidates[i], candidates[j]}))
        return {{candidates[i].from, candidates[i].to}, {candidates[j].from, candidates[j].to}};
  return {};
}

GantryMove gantry_move(const SquareInput& in, const SquareFit& fit, double spacing) {
  GantryMove move;
  move.right = !in.hold_right;
  move.towards_plus = move.right ? !(fit.skew > 0) : fit.skew > 0;
  move.distance = spacing * std::fabs(std::tan(fit.skew));
  move.U_distance = spacing * fit.U_skew / (std::cos(fit.skew) * std::cos(fit.skew));
  if (in.steps_per_mm) move.steps = std::lround(std::min(move.distance * (*in.steps_per_mm)[1] / fit.scale_y, 1e15));
  return move;
}

}  // namespace

Result<SquareResult> fit_square(const SquareInput& in) {
  if (auto ok = check(in); !ok) return tl::make_unexpected(ok.error());
  Eigen::Vector3d p(1, 1, 0);
  auto found = fit_readings(linearised(in, p, false));
  if (!found) return tl::make_unexpected(found.error());
  SquareResult result;
  if (loses_skew(found->fit) || found->fit.rank < 2) {
    result.missing = settling(in, tells_skew);
    return result;
  }
  const bool common = !tells_scales(found->fit);
  if (common) {
    result.missing = settling(in, tells_all);
    found = fit_readings(linearised(in, p, true));
  }

  double last = INFINITY;
  for (int step = 0; step < most_steps; ++step) {
    if (!found) return tl::make_unexpected(found.error());
    const Eigen::VectorXd& d = found->fit.parameters;
    const double size = d.norm();
    if (!(size < last) && step > 2) break;  // rounding is all that is left
    last = size;
    if (common)
      p += Eigen::Vector3d(d(0), d(0), d(1));
    else
      p += d;
    if (!(p(sx) > 0) || !(p(sy) > 0) || !(std::fabs(p(skew)) < 1.5))
      return fail("degenerate",
                  "No machine has distances like these; check what was typed for each, and which marks it joins.",
                  "distances");
    found = fit_readings(linearised(in, p, common));
  }
  if (!found) return tl::make_unexpected(found.error());

  SquareFit out;
  out.model = common ? SquareModel::common_scale : SquareModel::affine;
  // With p at the minimum the residuals and chi2 are those before the last, vanishing step.
  out.coverage = found->coverage;
  out.scale_x = p(sx);
  out.scale_y = p(sy);
  out.skew = std::fabs(p(skew)) < negligible_skew ? 0 : p(skew);
  const int skew_column = common ? 1 : 2;
  out.U_scale_x = found->expanded(0);
  out.U_scale_y = common ? out.U_scale_x : found->expanded(1);
  out.u_skew = found->u(skew_column);
  out.U_skew = found->expanded(skew_column);
  for (const auto& d : in.distances)
    out.residuals.push_back(centre_distance(d) - predict(commanded(in, d), p).distance);
  if (in.steps_per_mm && !common)
    out.new_steps = {{(*in.steps_per_mm)[0] / out.scale_x, (*in.steps_per_mm)[1] / out.scale_y}};
  if (in.rail_spacing) out.gantry = gantry_move(in, out, *in.rail_spacing);
  result.verdict = std::fabs(out.skew) <= out.U_skew ? SquareVerdict::square_within_uncertainty : SquareVerdict::adjust;
  result.fit = std::move(out);
  return result;
}

std::optional<double> enlargement_for(const SquareInput& input, double wanted_U) {
  const auto enough = [&](double factor) {
    SquareInput larger = input;
    for (auto& p : larger.points) p.commanded = {p.commanded.x * factor, p.commanded.y * factor};
    // As a true machine would give them, so that only the size and the instrument count.
    for (auto& d : larger.distances) d.measured = commanded(larger, d).length(), d.edge = HoleEdge::center;
    const auto result = fit_square(larger);
    return result && result->fit && result->fit->U_skew <= wanted_U;
  };
  constexpr double most = 100, near_enough = 1.01;
  if (enough(1)) return 1;
  if (!enough(most)) return std::nullopt;
  double low = 1, high = most;
  while (high / low > near_enough) {
    const double middle = std::sqrt(low * high);
    (enough(middle) ? high : low) = middle;
  }
  return high;
}

const char* name(SquareVerdict verdict) {
  switch (verdict) {
    case SquareVerdict::cannot_tell:
      return "cannot_tell";
    case SquareVerdict::square_within_uncertainty:
      return "square_within_uncertainty";
    case SquareVerdict::adjust:
      return "adjust";
  }
  return "";
}

}  // namespace ypsi
