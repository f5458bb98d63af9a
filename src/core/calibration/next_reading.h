#pragma once
// Which reading to take next for the scale of an axis: the one after which the scale is known best.
#include <optional>

#include "core/calibration/scale.h"

namespace ypsi {

struct NextReading {
  double distance = 0;    ///< mm (degrees), > 0
  bool reversed = false;  ///< start it opposite to the motion before, so that its slack is in the reading
  double U_per_m = 0;     ///< of the scale with it, mm per m, about 95 %
  bool reaches = false;   ///< the tolerance wanted is reached with it
};

/// The best of one more reading with this instrument, up to `longest` (mm or degrees, > 0): the longest, or one of a
/// tenth where that tells more. Where one end is read the rounding of a length repeats, so it is a little shorter each
/// time (handbook of the trade, 5). None where `longest` is not above zero, or the readings so far name no scale.
std::optional<NextReading> next_reading(const ScaleInput& so_far, double longest);

/// Where readings like those that next_reading() proposes lead, one after the other.
struct ReadingsAhead {
  int readings = 0;      ///< more than there are now
  double U_per_m = 0;    ///< of the scale with them, mm per m, about 95 %
  bool reaches = false;  ///< the tolerance; else that is about what this instrument gets to over this length
};
inline constexpr int most_readings_ahead = 30;

/// Until the tolerance is reached or more of them are not worth it, `most_readings_ahead` at most. None where
/// next_reading() has none or no tolerance is asked for.
std::optional<ReadingsAhead> readings_ahead(const ScaleInput& so_far, double longest);

}  // namespace ypsi
