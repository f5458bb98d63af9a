#pragma once
// A positioning finding as the keys that the contract of `ypsilo calc positioning` names; the book's record keeps the
// same.
#include <nlohmann/json_fwd.hpp>

#include "core/calibration/positioning.h"

namespace ypsi {
nlohmann::json positioning_json(const PositioningResult& result);
nlohmann::json positioning_json(const PositioningReadings& readings);
}  // namespace ypsi
