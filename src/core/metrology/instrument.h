#pragma once
// A measuring instrument in a hand: what one reading with it is worth. Source: JCGM 100:2008, 4.3.7 (resolution as a
// rectangular distribution), 5.2 (correlated readings: errors common to all readings made with one instrument).
#include <optional>
#include <string>

namespace ypsi {

/// Name of the one for widths of lines: a lens with a scale, laid on them.
inline constexpr const char* magnifier = "magnifier";

struct Instrument {
  std::string name;
  double resolution_mm = 0.5;  ///< r > 0, the smallest step that is read
  int ends = 1;                ///< 1 caliper, 2 ruler, tape, any difference of two readings; >= 1
  std::optional<double> s_mm;  ///< reader's standard deviation, >= 0; not given: r for one end, r/4 for two
  double u_cal_mm = 0;         ///< calibration, common to all readings, >= 0
  double u_rel = 0;            ///< relative calibration (mm/mm), common to all readings, >= 0

  double scatter_mm() const { return s_mm.value_or(ends >= 2 ? resolution_mm / 4 : resolution_mm); }
  /// A claim below a hundredth of the resolution counts as that.
  double least_scatter_mm() const;
  /// mm^2 of one reading, what is common to all apart.
  double variance_mm2() const { return rounding_variance_mm2() + least_scatter_mm() * least_scatter_mm(); }
  double rounding_variance_mm2() const { return ends * resolution_mm * resolution_mm / 12; }
  /// mm^2: the part of the rounding that falls the same way at every reading of one distance, the less the more the
  /// reader's scatter stirs it. Nothing where two ends are read, since a ruler is laid down anew each time.
  double repeating_part_mm2() const;
  /// mm^2: what each reading draws anew.
  double own_part_mm2() const;
  /// Standard uncertainty in mm of one reading of a distance of `told_mm`, common parts included.
  double u_mm(double told_mm) const;
};

}  // namespace ypsi
