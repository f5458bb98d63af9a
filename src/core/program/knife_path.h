#pragma once
// The way of a castor (drag) knife's pivot, so that its edge, which trails it, goes along what is drawn: the pivot runs
// on past each corner by the trailing offset and turns about the corner on an arc. Lengths mm, in one frame. Source:
// handbook of the trade, 20.
#include <vector>

#include "core/heads/plan_point.h"
#include "core/result.h"

namespace ypsi {

struct KnifeSetting {
  double trailing = 0;  ///< of the edge behind its pivot, >= 0
  double lead_in = 0;   ///< before the first point, in waste, until the edge points along; at least 3 times trailing
  double overcut = 0;   ///< past the first point of a closed contour; at least trailing
  double least_turn = 0.08;  ///< rad: corners flatter than that are not turned about; above 0
};

/// The pivot goes to `to` straight, or round `centre`.
struct KnifeMove {
  PlanPoint to;
  bool arc = false, counter_clockwise = false;
  PlanPoint centre{};
};

struct KnifePath {
  PlanPoint start;  ///< where the knife is lowered
  std::vector<KnifeMove> moves;
};

/// Of a line through `points`; closed where the last is the first again. What the setting leaves below its least
/// (lead_in, overcut) is taken as that. Errors: `too_few` below two points that differ; `out_of_range`; `not_finite`.
Result<KnifePath> knife_path(const std::vector<PlanPoint>& points, const KnifeSetting& setting);

}  // namespace ypsi
