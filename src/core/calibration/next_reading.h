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

/// The best of one more reading with this instrument, up to `longest` (mm or degrees, > 0). The readings so far are
/// taken to agree as well as their instrument claims; a distance that was read before is taken to read the same again
/// (its rounding is not averaged away), so that another length wins. None where `longest` is not above zero, or the
/// readings so far name no scale.
std::optional<NextReading> next_reading(const ScaleInput& so_far, double longest);

}  // namespace ypsi
