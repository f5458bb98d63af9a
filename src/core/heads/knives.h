#pragma once
// Where a knife cuts against the axis that carries it, and what a cut takes away. Source: handbook of the trade, 19 and
// 20.
#include <array>
#include <optional>

#include "core/metrology/instrument.h"
#include "core/metrology/known.h"
#include "core/result.h"

namespace ypsi {

struct MeasuredLength {
  double value = 0, U = 0;  ///< mm
  double k = 0;
};

/// How far a castor (drag) knife trails its pivot: two lines were drawn towards one end, one from each side, and left a
/// gap, mm.
MeasuredLength trailing_offset(double gap, const Known& lost_motion, const Instrument& instrument);

/// Kerf from `strips` >= 1 strips cut `pitch` mm apart and pushed together, `total` mm wide; `scale_error` of the axis
/// as left, with its standard uncertainty.
MeasuredLength kerf_of_strips(int strips, double pitch, double total, double scale_error, double u_scale_error,
                              const Instrument& instrument);

/// Width of a cut with the blade set to an angle, rad.
struct KerfAtAngle {
  double angle = 0, width = 0;
};

/// Lines cut by a turned knife towards +X and -X, places in work coordinates, mm.
struct TurnedKnifeLines {
  double y_plus = 0, y_minus = 0;      ///< where the line lies
  double end_plus = 0, end_minus = 0;  ///< X of where it ends
  std::optional<Known> lost_motion;
  struct AngleTrial {
    std::array<KerfAtAngle, 2> kerf;  ///< to either side of zero, in any order
    double chord = 0;                 ///< of the blade, > 0
  };
  std::optional<AngleTrial> angle;
};

struct TurnedKnife {
  double left = 0, forward = 0, U = 0, k = 0;  ///< blade against its turning axis, mm
  std::optional<double> angle_zero, U_angle;   ///< rad
};

/// Error: `degenerate` where both angles are one.
Result<TurnedKnife> turned_knife(const TurnedKnifeLines& lines, const Instrument& instrument);

}  // namespace ypsi
