#include "core/calibration/first_cut.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

#include "core/metrology/common_errors.h"
#include "core/metrology/readings_fit.h"

namespace ypsi {
namespace {

constexpr double contradicts = 3.5;  // standard uncertainties between two findings of one scale

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
    case FeatureKind::between:
      e = f.nominal;
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
    case FeatureKind::beside:
    case FeatureKind::gap:
    case FeatureKind::width:
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
    // A depth of nothing is a reading: the cutter did not reach.
    if (!(f.measured > 0) && !(f.kind == FeatureKind::depth && f.measured == 0))
      return fail("out_of_range", "A measured size must be above zero.", where("measured_mm"));
    if (!tells_a_size(f.kind))
      return fail("out_of_range", fmt::format("“{}” tells no size; it is read by itself.", name(f.kind)),
                  where("kind"));
    if ((f.kind == FeatureKind::depth) != (f.axis == Axis::z))
      return fail("out_of_range", "A depth lies along Z, every other size along X or Y.", where("axis"));
  }
  return {};
}

/// The equations, with columns only for quantities that some feature touches; a lost motion that is known is one more
/// observation.
struct Equations {
  std::vector<CutQuantity> quantities;
  ReadingsModel model;
};

Equations equations(const FirstCutInput& in) {
  std::vector<Row> rows;
  std::array<bool, cut_quantity_count> touched{};
  for (const Feature& f : in.features) {
    rows.push_back(row_of(f, in.tool_diameter));
    // A quantity is touched by its kind of feature, even where an inside size equals the cutter's.
    Row unit = row_of({f.kind, f.axis, 1, 1}, 0);
    for (std::size_t q = 0; q < unit.size(); ++q) touched[q] = touched[q] || unit[q] != 0;
  }
  Equations out;
  for (int q = 0; q < cut_quantity_count; ++q)
    if (touched[static_cast<std::size_t>(q)]) out.quantities.push_back(static_cast<CutQuantity>(q));

  std::vector<std::pair<CutQuantity, Known>> known;
  for (const auto& [quantity, value] :
       {std::pair{CutQuantity::lost_motion_x, in.lost_motion[0]}, {CutQuantity::lost_motion_y, in.lost_motion[1]}})
    if (value && touched[static_cast<std::size_t>(quantity)]) known.emplace_back(quantity, *value);
  if (in.scale_z && touched[static_cast<std::size_t>(CutQuantity::scale_z)])
    known.emplace_back(CutQuantity::scale_z, *in.scale_z);

  const auto n = static_cast<Eigen::Index>(in.features.size()), extra = static_cast<Eigen::Index>(known.size());
  const auto p = static_cast<Eigen::Index>(out.quantities.size());
  ReadingsModel& m = out.model;
  m.design = Eigen::MatrixXd::Zero(n + extra, p);
  m.observed.resize(n + extra);
  m.own = Eigen::VectorXd::Zero(n + extra);
  m.kept = Eigen::VectorXd::Zero(n + extra);
  std::vector<std::tuple<FeatureKind, Axis, double>> distance;
  std::vector<double> nominal;
  for (Eigen::Index i = 0; i < n; ++i) {
    const Feature& f = in.features[static_cast<std::size_t>(i)];
    for (Eigen::Index q = 0; q < p; ++q)
      m.design(i, q) =
          rows[static_cast<std::size_t>(i)][static_cast<std::size_t>(out.quantities[static_cast<std::size_t>(q)])];
    m.observed(i) = f.measured - f.nominal - f.top;
    m.own(i) = in.instrument.own_part_mm2();
    distance.emplace_back(f.kind, f.axis, f.nominal);
    nominal.push_back(f.nominal);
  }
  for (Eigen::Index i = 0; i < extra; ++i) {
    const auto& [quantity, value] = known[static_cast<std::size_t>(i)];
    for (Eigen::Index q = 0; q < p; ++q)
      if (out.quantities[static_cast<std::size_t>(q)] == quantity) m.design(n + i, q) = 1;
    m.observed(n + i) = value.value;
    m.kept(n + i) = value.u * value.u;
  }
  // The calibration is common to each kind of size (inside jaws, outside jaws, spacings, depth rod), and a feature is
  // off by its axis's periodic error however often it is measured.
  Instrument alike = in.instrument;
  alike.u_cal_mm = 0;
  const Eigen::MatrixXd shared = common_errors(alike, distance, nominal);
  std::map<FeatureKind, Eigen::VectorXd> jaws;
  std::map<std::tuple<FeatureKind, Axis, double>, Eigen::VectorXd> features;
  const Eigen::VectorXd nothing = Eigen::VectorXd::Zero(n + extra);
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto& [of, axis, size] = distance[static_cast<std::size_t>(i)];
    if (in.instrument.u_cal_mm > 0) jaws.try_emplace(of, nothing).first->second(i) = in.instrument.u_cal_mm;
    if (const double periodic = in.periodic[index(axis)]; periodic > 0)
      features.try_emplace({of, axis, size}, nothing).first->second(i) = periodic;
  }
  m.common = Eigen::MatrixXd::Zero(n + extra, shared.cols() + static_cast<Eigen::Index>(jaws.size() + features.size()));
  m.common.topLeftCorner(n, shared.cols()) = shared;
  Eigen::Index column = shared.cols();
  for (const auto& [of, effect] : jaws) m.common.col(column++) = effect;
  for (const auto& [of, effect] : features) m.common.col(column++) = effect;
  return out;
}

std::vector<CutQuantity> undetermined(const FirstCutInput& in) {
  const Equations e = equations(in);
  std::vector<CutQuantity> open;
  if (const auto fit = fit_as_claimed(e.model))
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
  // Depths tell a scale badly, and what they make it wrong by they make Z zero wrong by: one that is known goes first.
  if (in.scale_z) {
    FirstCutInput alone = in;
    alone.scale_z.reset();
    const auto free = read_first_cut(alone);
    if (!free) return free;
    for (const CutEstimate& e : free->estimates)
      if (e.quantity == CutQuantity::scale_z &&
          std::fabs(e.value - in.scale_z->value) > contradicts * std::hypot(e.u, in.scale_z->u))
        return free;
  }
  if (auto ok = check(in); !ok) return tl::make_unexpected(ok.error());
  const Equations e = equations(in);
  const auto found = fit_readings(e.model);
  if (!found) return tl::make_unexpected(found.error());

  FirstCutResult out;
  out.coverage = found->coverage;
  for (std::size_t q = 0; q < e.quantities.size(); ++q) {
    const int column = static_cast<int>(q);
    if (found->fit.undetermined(column)) {
      out.undetermined.push_back(e.quantities[q]);
      continue;
    }
    CutEstimate estimate{e.quantities[q], found->fit.parameters(column), found->u(column), found->expanded(column),
                         false};
    estimate.significant = std::fabs(estimate.value) > estimate.U;
    out.estimates.push_back(estimate);
  }
  for (const auto& f : in.features) {
    const Row row = row_of(f, in.tool_diameter);
    double fitted = 0;
    for (std::size_t q = 0; q < e.quantities.size(); ++q)
      fitted += row[static_cast<std::size_t>(e.quantities[q])] * found->fit.parameters(static_cast<Eigen::Index>(q));
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
  static constexpr const char* names[] = {"inside", "outside", "spacing", "depth", "diagonal",
                                          "beside", "gap",     "between", "width"};
  return names[static_cast<std::size_t>(kind)];
}

}  // namespace ypsi
