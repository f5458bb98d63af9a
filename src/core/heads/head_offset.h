#pragma once
// Where one head stands against the first, from marks that both were brought over. Source: handbook of the trade, 18.
#include <optional>
#include <vector>

#include "core/heads/plan_point.h"
#include "core/result.h"

namespace ypsi {

inline constexpr double usual_placing_mm = 0.1;  ///< how well somebody puts a head over a mark, standard deviation

/// One mark: where the machine stood (machine coordinates) with each head over it, approached from the same side.
struct SharedMark {
  PlanPoint spindle, other;
};

enum class HeadVerdict {
  ok,
  turned,     ///< the machine turns between the two looks: an offset means nothing before that is mended
  stretched,  ///< the same with its scale
};

struct HeadOffset {
  PlanPoint offset;  ///< spindle's place less the other head's; command S - offset to put that head over S
  double U = 0, k = 0;
  struct Left {                   ///< what is left over, from three marks on
    double turn = 0, U_turn = 0;  ///< rad, > 0: the second look's places land turned counter-clockwise
    double stretch = 0, U_stretch = 0;
    int dof = 0;
    std::vector<PlanPoint> residuals;
  };
  std::optional<Left> left;
  HeadVerdict verdict = HeadVerdict::ok;
};

/// `s` > 0, mm: the claim for putting a head over a mark, used with one or two marks. Errors: `too_few` without a mark,
/// `degenerate` where three or more stand in one place.
Result<HeadOffset> head_offset(const std::vector<SharedMark>& marks, double s = usual_placing_mm);

}  // namespace ypsi
