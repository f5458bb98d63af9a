#pragma once
// How deep lines came out over a plate: too deep on the whole, more on one side than on the other, or told too deep by
// a tip that is wider than was thought. Lengths mm, slopes mm/mm. Source: handbook of the trade, 23; JCGM
// 100:2008, 5.2.
#include <optional>
#include <vector>

#include "core/metrology/coverage.h"
#include "core/metrology/instrument.h"
#include "core/metrology/known.h"
#include "core/result.h"

namespace ypsi {

/// What one place tells.
struct DepthTold {
  double x = 0, y = 0;  ///< on the plate
  double too_deep = 0;  ///< the depth that is told less the one that was meant
  /// By how much deeper it is told for each mm that is read wider: 1 / (2 tan(angle / 2)) of a point; none where the
  /// depth itself was read.
  std::optional<double> per_width{};
};

struct DepthPlane {
  Known middle;                           ///< too deep, in the middle of the places
  std::optional<Known> along_x, along_y;  ///< how much deeper for each mm on; none below four places, or in a row
  std::optional<Known> wider_tip;         ///< than was counted with; none where no depth was read beside a width
  std::vector<double> residuals;          ///< told less fitted, as they were given
  Coverage coverage;                      ///< U = k u of each
};

/// Readings of widths and of depths have each their own calibration in common; those told by widths count with the tip
/// as it is given where no depth was read. Errors: `too_few` without a place; `out_of_range` for what is no number.
/// Example: widths alone, all 0.04 mm deeper at 60°, tell 0.04 in the middle and no slope.
Result<DepthPlane> fit_depth_plane(const std::vector<DepthTold>& told, const Instrument& instrument);

}  // namespace ypsi
