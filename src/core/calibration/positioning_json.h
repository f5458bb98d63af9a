#pragma once
// A positioning finding as the keys that the contract of `ypsilo calc positioning` names; the book's record keeps the
// same.
#include <nlohmann/json_fwd.hpp>

#include "core/calibration/positioning.h"

namespace ypsi {

/// The figures of a test by their names, for whoever writes or reads them.
template <class V>
void describe(V& v, PositioningResult& r) {
  v.number("reversal_mm", r.reversal);
  v.number("mean_reversal_mm", r.mean_reversal);
  v.number("repeatability_mm", r.repeatability);
  v.number("repeatability_plus_mm", r.repeatability_plus);
  v.number("repeatability_minus_mm", r.repeatability_minus);
  v.number("systematic_mm", r.systematic);
  v.number("mean_deviation_range_mm", r.mean_deviation_range);
  v.number("accuracy_mm", r.accuracy);
  v.number("accuracy_plus_mm", r.accuracy_plus);
  v.number("accuracy_minus_mm", r.accuracy_minus);
}

nlohmann::json positioning_json(PositioningResult result);
nlohmann::json positioning_json(const PositioningReadings& readings);

}  // namespace ypsi
