#include "core/calibration/first_cut.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

#include "core/metrology/least_squares.h"
#include "core/metrology/merge.h"

namespace ypsi {
namespace {

using Row = std::array<double, cut_quantity_count>;

double& at(Row& row, CutQuantity q) {
  return row[static_cast<std::size_t>(q)];
}

/// measured - nominal as a sum over the quantities.
Row row_of(const Feature& f, double tool_diameter) {
  Row row{};
  const bool y = f.axis == Axis::y;
  double& e = at(row, y ? CutQuantity::scale_y : CutQuantity::scale_x);
  double& lost = at(row, y ? CutQuantity::lost_motion_y : CutQuantity::lost_motion_x);
  switch (f.kind) {
    case FeatureKind::inside:
      e = f.nominal - tool_diameter;
      at(row, CutQuantity::tool_diameter) = 1;
      lost = -1;
      break;
    case FeatureKind::outside:
      e = f.nominal + tool_diameter;
      at(row, CutQuantity::tool_diameter) = -1;
      lost = -1;
      break;
    case FeatureKind::spacing:
      e = f.nominal;
      break;
    case FeatureKind::depth:
      at(row, CutQuantity::scale_z) = f.nominal;
      at(row, CutQuantity::z_zero) = 1;
      break;
    case FeatureKind::diagonal:
      break;
  }
  return row;
}

Result<void> check(const FirstCutInput& in) {
  if (in.features.empty())
    return fail("too_few", "There is no feature yet; measure at least one size of the part.", "features");
  for (std::size_t i = 0; i < in.features.size(); ++i) {
    const auto& f = in.features[i];
    const auto where = [i](const char* key) { return fmt::format("features[{}].{}", i, key); };
    if (!(f.nominal > 0)) return fail("out_of_range", "A nominal size must be above zero.", where("nominal_mm"));
    if (!(f.measured > 0)) return fail("out_of_range", "A measured size must be above zero.", where("measured_mm"));
    if (f.kind == FeatureKind::diagonal)
      return fail("out_of_range", "A diagonal tells the lean and no size; it is read by itself.", where("kind"));
    if ((f.kind == FeatureKind::depth) != (f.axis == Axis::z))
      return fail("out_of_range", "A depth lies along Z, every other size along X or Y.", where("axis"));
  }
  return {};
}

/// The equations, with columns only for quantities that some feature touches.
struct Equations {
  std::vector<CutQuantity> quantities;
  Observations observations;
};

Equations equations(const FirstCutInput& in, const std::vector<Alike>& groups) {
  std::vector<Row> rows;
  std::array<bool, cut_quantity_count> touched{};
  for (const auto& g : groups) {
    rows.push_back(row_of(in.features[g.first], in.tool_diameter));
    // A quantity is touched by its kind of feature, even where an inside size equals the cutter's.
    const Feature& f = in.features[g.first];
    Row unit = row_of({f.kind, f.axis, 1, 1}, 0);
    for (std::size_t q = 0; q < unit.size(); ++q) touched[q] = touched[q] || unit[q] != 0;
  }
  Equations out;
  for (int q = 0; q < cut_quantity_count; ++q)
    if (touched[static_cast<std::size_t>(q)]) out.quantities.push_back(static_cast<CutQuantity>(q));

  std::vector<std::pair<CutQuantity, KnownLostMotion>> known;
  for (const auto& [quantity, value] :
       {std::pair{CutQuantity::lost_motion_x, in.lost_motion[0]}, {CutQuantity::lost_motion_y, in.lost_motion[1]}})
    if (value && touched[static_cast<std::size_t>(quantity)]) known.emplace_back(quantity, *value);

  const auto n = static_cast<Eigen::Index>(groups.size()), extra = static_cast<Eigen::Index>(known.size());
  const auto p = static_cast<Eigen::Index>(out.quantities.size());
  // Common errors: u_cal for each kind of size (inside jaws, outside jaws, spacings, depth rod), u_rel for all.
  std::set<FeatureKind> kinds;
  if (in.instrument.u_cal_mm > 0)
    for (const auto& g : groups) kinds.insert(in.features[g.first].kind);
  const std::vector<FeatureKind> cal(kinds.begin(), kinds.end());
  const bool rel = in.instrument.u_rel > 0;
  Observations& o = out.observations;
  o.design = Eigen::MatrixXd::Zero(n + extra, p);
  o.observed.resize(n + extra);
  o.own_variance.resize(n + extra);
  o.common = Eigen::MatrixXd::Zero(n + extra, static_cast<Eigen::Index>(cal.size()) + (rel ? 1 : 0));
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& g = groups[static_cast<std::size_t>(i)];
    const Feature& f = in.features[g.first];
    for (Eigen::Index q = 0; q < p; ++q)
      o.design(i, q) =
          rows[static_cast<std::size_t>(i)][static_cast<std::size_t>(out.quantities[static_cast<std::size_t>(q)])];
    o.observed(i) = f.measured - f.nominal;
    o.own_variance(i) = in.instrument.own_variance_mm2(g.count);
    for (std::size_t c = 0; c < cal.size(); ++c)
      if (cal[c] == f.kind) o.common(i, static_cast<Eigen::Index>(c)) = in.instrument.u_cal_mm;
    if (rel) o.common(i, static_cast<Eigen::Index>(cal.size())) = in.instrument.u_rel * f.nominal;
  }
  for (Eigen::Index i = 0; i < extra; ++i) {
    const auto& [quantity, value] = known[static_cast<std::size_t>(i)];
    for (Eigen::Index q = 0; q < p; ++q)
      if (out.quantities[static_cast<std::size_t>(q)] == quantity) o.design(n + i, q) = 1;
    o.observed(n + i) = value.value;
    o.own_variance(n + i) = value.u * value.u;
  }
  return out;
}

std::vector<Alike> each_alone(std::size_t n) {
  std::vector<Alike> all;
  for (std::size_t i = 0; i < n; ++i) all.push_back({i, 1});
  return all;
}

std::vector<CutQuantity> undetermined(const FirstCutInput& in) {
  const Equations e = equations(in, each_alone(in.features.size()));
  std::vector<CutQuantity> open;
  if (const auto fit = generalised_least_squares(e.observations))
    for (std::size_t q = 0; q < e.quantities.size(); ++q)
      if (fit->undetermined(static_cast<int>(q))) open.push_back(e.quantities[q]);
  return open;
}

/// Adds, one after the other, the feature that settles most, until all can be told.
std::vector<MissingFeature> missing_features(FirstCutInput in) {
  std::vector<MissingFeature> missing;
  auto open = undetermined(in);
  double longest = 0;
  for (const auto& f : in.features) longest = std::max(longest, f.nominal);
  const double big = 2.5 * longest + 4 * in.tool_diameter, small = big / 3;
  while (!open.empty() && missing.size() < 6) {
    std::vector<CutQuantity> best_left = open;
    Feature best{};
    for (const FeatureKind kind : {FeatureKind::spacing, FeatureKind::inside, FeatureKind::outside, FeatureKind::depth})
      for (const Axis axis : all_axes)
        for (const double size : {big, small}) {
          if ((kind == FeatureKind::depth) != (axis == Axis::z)) continue;
          in.features.push_back({kind, axis, size, size});
          auto left = undetermined(in);
          in.features.pop_back();
          std::erase_if(left, [&](CutQuantity q) { return std::find(open.begin(), open.end(), q) == open.end(); });
          if (left.size() < best_left.size()) {
            best_left = left;
            best = {kind, axis, size, size};
          }
        }
    if (best_left.size() == open.size()) {
      // No single one helps: a first of a pair, on the axis of what is open.
      const bool y = std::find(open.begin(), open.end(), CutQuantity::scale_y) != open.end();
      best = {FeatureKind::inside, y ? Axis::y : Axis::x, big, big};
    }
    MissingFeature m{best.kind, best.axis, {}};
    for (const auto q : open)
      if (std::find(best_left.begin(), best_left.end(), q) == best_left.end()) m.settles.push_back(q);
    missing.push_back(m);
    in.features.push_back(best);
    open = undetermined(in);
  }
  return missing;
}

}  // namespace

Result<FirstCutResult> read_first_cut(const FirstCutInput& in) {
  if (auto ok = check(in); !ok) return tl::make_unexpected(ok.error());
  std::vector<std::tuple<FeatureKind, Axis, double, double>> keys;
  for (const auto& f : in.features) keys.emplace_back(f.kind, f.axis, f.nominal, f.measured);
  const Equations e = equations(in, merge_identical(keys));
  const auto fit = generalised_least_squares(e.observations);
  if (!fit) return tl::make_unexpected(fit.error());

  FirstCutResult out;
  out.coverage = coverage(fit->chi2, static_cast<int>(e.observations.observed.size()), fit->rank);
  for (std::size_t q = 0; q < e.quantities.size(); ++q) {
    const int column = static_cast<int>(q);
    if (fit->undetermined(column)) {
      out.undetermined.push_back(e.quantities[q]);
      continue;
    }
    CutEstimate estimate{e.quantities[q], fit->parameters(column), out.coverage.u(fit->u(column)),
                         out.coverage.expanded(fit->u(column)), false};
    estimate.significant = std::fabs(estimate.value) > estimate.U;
    out.estimates.push_back(estimate);
  }
  for (const auto& f : in.features) {
    const Row row = row_of(f, in.tool_diameter);
    double fitted = 0;
    for (std::size_t q = 0; q < e.quantities.size(); ++q)
      fitted += row[static_cast<std::size_t>(e.quantities[q])] * fit->parameters(static_cast<Eigen::Index>(q));
    out.residuals.push_back(f.measured - f.nominal - fitted);
  }
  if (!out.undetermined.empty()) out.missing = missing_features(in);
  return out;
}

const char* name(CutQuantity quantity) {
  static constexpr const char* names[] = {"scale_x",          "scale_y", "tool_diameter_mm", "lost_motion_x_mm",
                                          "lost_motion_y_mm", "scale_z", "z_zero_mm"};
  return names[static_cast<std::size_t>(quantity)];
}

const char* name(FeatureKind kind) {
  static constexpr const char* names[] = {"inside", "outside", "spacing", "depth", "diagonal"};
  return names[static_cast<std::size_t>(kind)];
}

}  // namespace ypsi
