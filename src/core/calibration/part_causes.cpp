#include "core/calibration/part_causes.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ypsi {
namespace {

constexpr double usual_scale = 0.02, usual_lost_motion_mm = 0.4, usual_tool_mm = 0.6, usual_skew = 4e-3;

/// Standard uncertainty of what lies anywhere between -most and +most.
double u_of_even(double most) {
  return most / std::numbers::sqrt3;
}

double off_square(const PartSizes& sizes) {
  return sizes.square ? std::fabs(sizes.square->bias) + sizes.square->U : 0;
}

PartInput without(PartInput input, PartCause cause) {
  switch (cause) {
    case PartCause::scale_x:
    case PartCause::scale_y:
      input.axes[cause == PartCause::scale_x ? 0 : 1].scale = Known{};
      break;
    case PartCause::lost_motion_x:
    case PartCause::lost_motion_y:
      input.axes[cause == PartCause::lost_motion_x ? 0 : 1].lost_motion = Known{};
      break;
    case PartCause::periodic_x:
    case PartCause::periodic_y:
      input.axes[cause == PartCause::periodic_x ? 0 : 1].periodic = 0;
      break;
    case PartCause::tool:
      input.tool = Known{};
      break;
    case PartCause::skew:
      input.skew = Known{};
  }
  return input;
}

}  // namespace

PartInput with_usual_errors(PartInput input) {
  for (PartAxis& axis : input.axes) {
    if (!axis.scale) axis.scale = Known{0, u_of_even(usual_scale)};
    if (!axis.lost_motion) axis.lost_motion = Known{0, u_of_even(usual_lost_motion_mm)};
    if (!axis.periodic) axis.periodic = u_of_even(usual_periodic_mm);
  }
  if (!input.tool) input.tool = Known{0, u_of_even(usual_tool_mm)};
  if (!input.skew) input.skew = Known{0, u_of_even(usual_skew)};
  return input;
}

double gain_without(const PartInput& input, PartCause cause, double within) {
  const PartSizes now = part_sizes(input), then = part_sizes(without(input, cause));
  const auto fall = [&](double from, double to) { return std::max(from, within) - std::max(to, within); };
  if (!bears_on_sizes(cause)) return fall(off_square(now), off_square(then));
  double most = 0;
  for (std::size_t a = 0; a < now.axes.size(); ++a)
    most = std::max(most, fall(now.worst_of(a).value_or(0), then.worst_of(a).value_or(0)));
  return most;
}

}  // namespace ypsi
