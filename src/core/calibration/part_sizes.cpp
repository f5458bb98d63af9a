#include "core/calibration/part_sizes.h"

#include <algorithm>
#include <cmath>

#include "core/metrology/normal.h"

namespace ypsi {
namespace {

constexpr double for_both_axes = 0.9875;

PartSize size_of(double bias, double variance) {
  const double u = std::sqrt(variance);
  return {{bias, normal_quantile(0.975) * u}, u};
}

void name_unknown(const PartAxis& axis, const char* suffix, std::vector<std::string>& unknown) {
  const auto name = [&](bool known, const char* what) {
    if (!known) unknown.push_back(std::string(what) + suffix);
  };
  name(axis.length.has_value(), "length");
  name(axis.scale.has_value(), "scale");
  name(axis.lost_motion.has_value(), "lost_motion");
  name(axis.periodic.has_value(), "periodic");
}

PartSizes::Kinds kinds_of(const PartAxis& axis, const PartInput& in) {
  PartSizes::Kinds out;
  if (!axis.length || !axis.scale) return out;
  const double L = *axis.length, periodic = axis.periodic.value_or(0);
  const double grows = L * in.expansion_per_K * in.u_temperature_K, scale = L * axis.scale->u;
  const double bias = L * axis.scale->value, variance = scale * scale + periodic * periodic + grows * grows;
  out.spacing = size_of(bias, variance);
  if (!axis.lost_motion || !in.tool) return out;
  const double wall = variance + axis.lost_motion->u * axis.lost_motion->u + in.tool->u * in.tool->u;
  out.inside = size_of(bias - axis.lost_motion->value + in.tool->value, wall);
  out.outside = size_of(bias - axis.lost_motion->value - in.tool->value, wall);
  return out;
}

/// |bias| + U of one size, with the k for both axes at once.
double off_at_most(const PartSize& size) {
  return std::fabs(size.bias) + normal_quantile(for_both_axes) * size.u;
}

}  // namespace

std::optional<double> PartSizes::worst_of(std::size_t axis) const {
  std::optional<double> worst;
  for (const SizeKind kind : all_size_kinds)
    if (const auto& size = axes[axis].of(kind)) worst = std::max(worst.value_or(0), off_at_most(*size));
  return worst;
}

PartSizes part_sizes(const PartInput& in) {
  PartSizes out;
  for (std::size_t a = 0; a < in.axes.size(); ++a) {
    out.axes[a] = kinds_of(in.axes[a], in);
    name_unknown(in.axes[a], a == 0 ? "_x" : "_y", out.unknown);
    for (const SizeKind kind : all_size_kinds) {
      const auto& size = out.axes[a].of(kind);
      if (!size || off_at_most(*size) <= out.headline.value_or(-1)) continue;
      out.headline = off_at_most(*size);
      out.worst_axis = a;
      out.worst_kind = kind;
    }
  }
  if (!in.tool) out.unknown.emplace_back("tool");
  if (!in.skew) out.unknown.emplace_back("skew");
  if (in.skew && in.axes[1].length) {
    const double height = *in.axes[1].length, u = in.skew->u * height;
    out.square = size_of(std::fabs(std::tan(in.skew->value)) * height, u * u);
  }
  return out;
}

}  // namespace ypsi
