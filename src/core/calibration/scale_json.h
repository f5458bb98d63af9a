#pragma once
// A scale finding as the keys that the contract of `ypsilo calc scale` names; the book's record keeps the same.
#include <nlohmann/json_fwd.hpp>

#include "core/calibration/scale.h"

namespace ypsi {
nlohmann::json scale_json(const ScaleResult& result);
nlohmann::json readings_json(const std::vector<ScaleReading>& readings);
}  // namespace ypsi
