#pragma once
// Squareness from distances between marks: the scales of X and Y and the lean of Y.
//
// What can go wrong with the question first: the two diagonals of one rectangle alone tell the lean but only one common
// scale (`common_scale`); sides alone, or one diagonal and one side, do not tell the lean at all (`cannot_tell`, with
// the distance that would). Source: handbook of the trade, 7; nonlinear least squares by Gauss and Newton, JCGM
// 100:2008, 5.2.
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/calibration/probing.h"
#include "core/geometry.h"
#include "core/metrology/coverage.h"
#include "core/metrology/instrument.h"

namespace ypsi {

enum class HoleEdge { center, outer, inner };

/// Where the controller was sent, in the plane.
struct MachinePoint {
  Coordinate x, y;
  operator Point2() const { return {x, y}; }
};

struct MarkedPoint {
  std::string name;
  MachinePoint commanded;
};

struct MarkDistance {
  std::size_t from = 0, to = 0;  ///< indices of points, at different places
  double measured = 0;           ///< mm, > 0
  HoleEdge edge = HoleEdge::center;
  double hole_diameter = 0;  ///< mm, >= 0
  bool operator==(const MarkDistance&) const = default;
};

struct SquareInput {
  std::vector<MarkedPoint> points;
  std::vector<MarkDistance> distances;  ///< at least 1
  Instrument instrument;
  std::optional<double> rail_spacing;                 ///< mm, > 0
  bool hold_right = false;                            ///< which end of the beam stays
  std::optional<std::array<double, 2>> steps_per_mm;  ///< X, Y, > 0
};

enum class SquareModel { affine, common_scale };
enum class SquareVerdict { cannot_tell, square_within_uncertainty, adjust };

struct GantryMove {
  bool right = true;                    ///< the end to move
  bool towards_plus = true;             ///< towards +Y
  double distance = 0, U_distance = 0;  ///< mm
  std::optional<long> steps;            ///< whole, with Y's new steps per mm
};

struct SquareFit {
  SquareModel model = SquareModel::affine;
  double scale_x = 1, scale_y = 1, U_scale_x = 0, U_scale_y = 0;  ///< equal with common_scale: then neither axis's own
  double skew = 0, u_skew = 0, U_skew = 0;                        ///< rad; > 0: +Y leans towards +X
  std::vector<double> residuals;                                  ///< measured - fitted, mm, in the order given
  Coverage coverage;
  std::optional<GantryMove> gantry;
  std::optional<std::array<double, 2>> new_steps;  ///< X, Y; none with common_scale
};

struct SquareResult {
  SquareVerdict verdict = SquareVerdict::cannot_tell;
  std::optional<SquareFit> fit;  ///< none with cannot_tell
  std::vector<std::array<std::size_t, 2>>
      missing;  ///< with cannot_tell or common_scale: the fewest distances that, measured too, would tell
};

/// Errors: `too_few`, `out_of_range` for lengths that are not above zero, `degenerate` for a distance between one place
/// and itself.
Result<SquareResult> fit_square(const SquareInput& input);

/// How many times larger the marked figure must be for U of the lean to fall to `wanted_U` (rad, > 0), the same
/// distances read with the same instrument: 1 where it is large enough. None where no size up to 100 times would do, or
/// where these distances do not tell the lean at any size.
std::optional<double> enlargement_for(const SquareInput& input, double wanted_U);

const char* name(SquareVerdict verdict);

}  // namespace ypsi
