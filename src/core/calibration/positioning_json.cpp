#include "core/calibration/positioning_json.h"

#include <nlohmann/json.hpp>

namespace ypsi {

namespace {
struct Figures {
  nlohmann::json out = nlohmann::json::object();
  void number(const char* key, double value) { out[key] = value; }
};
}  // namespace

nlohmann::json positioning_json(PositioningResult result) {
  Figures all;
  describe(all, result);
  return std::move(all.out);
}

nlohmann::json positioning_json(const PositioningReadings& readings) {
  nlohmann::json runs = nlohmann::json::array();
  for (const auto& run : readings.runs)
    runs.push_back({{"direction", run.plus ? "+" : "-"}, {"deviation_mm", run.deviations}});
  return {{"targets_mm", plain(readings.targets)}, {"runs", std::move(runs)}};
}

}  // namespace ypsi
