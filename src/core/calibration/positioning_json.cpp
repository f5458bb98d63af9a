#include "core/calibration/positioning_json.h"

#include <nlohmann/json.hpp>

namespace ypsi {

nlohmann::json positioning_json(const PositioningResult& result) {
  return {{"reversal_mm", result.reversal},
          {"mean_reversal_mm", result.mean_reversal},
          {"repeatability_mm", result.repeatability},
          {"repeatability_plus_mm", result.repeatability_plus},
          {"repeatability_minus_mm", result.repeatability_minus},
          {"systematic_mm", result.systematic},
          {"mean_deviation_range_mm", result.mean_deviation_range},
          {"accuracy_mm", result.accuracy},
          {"accuracy_plus_mm", result.accuracy_plus},
          {"accuracy_minus_mm", result.accuracy_minus}};
}

nlohmann::json positioning_json(const PositioningReadings& readings) {
  nlohmann::json runs = nlohmann::json::array();
  for (const auto& run : readings.runs)
    runs.push_back({{"direction", run.plus ? "+" : "-"}, {"deviation_mm", run.deviations}});
  return {{"targets_mm", plain(readings.targets)}, {"runs", std::move(runs)}};
}

}  // namespace ypsi
