#pragma once
// Which error of a machine is worth measuring next, or putting right: the one without which a part would be least off.
#include "core/calibration/part_sizes.h"

namespace ypsi {

enum class PartCause { scale_x, scale_y, lost_motion_x, lost_motion_y, periodic_x, periodic_y, tool, skew };

/// All of them but the skew bear on sizes.
constexpr bool bears_on_sizes(PartCause cause) {
  return cause != PartCause::skew;
}
inline PartCause scale_cause(std::size_t axis) {
  return axis == 0 ? PartCause::scale_x : PartCause::scale_y;
}
inline PartCause lost_motion_cause(std::size_t axis) {
  return axis == 0 ? PartCause::lost_motion_x : PartCause::lost_motion_y;
}
inline PartCause periodic_cause(std::size_t axis) {
  return axis == 0 ? PartCause::periodic_x : PartCause::periodic_y;
}

inline constexpr double usual_periodic_mm = 0.03;  ///< the most that a screw usually repeats, amplitude

/// The same with what nobody measured at what such machines are off by before anybody looked at them, as standard
/// uncertainties: scales 2 %, lost motion 0.4 mm, a cutter 0.6 mm, a screw 0.03 mm, a lean 4 mrad, each evenly spread
/// up to that (JCGM 100:2008, 4.3.7). Lengths that are not there stay unknown.
PartInput with_usual_errors(PartInput input);

/// By how much less the sizes of the axis that it helps most are off at their worst (of the skew: how far the part is
/// out of square), mm, about 95 %, without what `cause` puts them off and without what is not known of it. What is
/// better than `within` (mm, >= 0: what its owner asks of the part) gains nothing more. 0 where the part has no such
/// length.
double gain_without(const PartInput& input, PartCause cause, double within = 0);

}  // namespace ypsi
