// calc positioning, limits, homing
#include "cli/calc.h"
#include "cli/json_input.h"
#include "cli/positioning_input.h"
#include "core/calibration/homing.h"
#include "core/calibration/limits.h"
#include "core/calibration/positioning.h"
#include "core/calibration/positioning_json.h"

namespace ypsi::cli {

std::vector<PositioningRun> positioning_runs(JsonInput& in) {
  std::vector<PositioningRun> runs;
  for (JsonInput& r : in.objects("runs", 1)) {
    const bool plus = r.choice("direction", {"+", "-"}) == 0;
    runs.push_back({plus, r.numbers("deviation_mm", 1)});
  }
  return runs;
}

Result<nlohmann::json> calc_positioning(JsonInput& in) {
  const auto targets = in.numbers("targets_mm", 2);
  const auto runs = positioning_runs(in);
  const auto result = evaluate_positioning(targets, runs);
  if (!result) return tl::make_unexpected(result.error());
  return positioning_json(*result);
}

Result<nlohmann::json> calc_limits(JsonInput& in) {
  LimitsInput input;
  in.text("axis");
  input.home_at_max = in.choice("home_end", {"min", "max"}) == 1;
  input.home_coordinate = in.number("home_coordinate_mm");
  input.travel = in.number("travel_mm", Range::positive);
  input.clearance_home = in.number("clearance_home_mm", Range::not_negative);
  input.clearance_far = in.number("clearance_far_mm", Range::not_negative);
  input.overtravel_home = in.number("overtravel_home_mm", Range::not_negative);
  input.seek_rate = in.number("seek_rate_mm_min", Range::positive);
  input.max_rate = in.number("max_rate_mm_min", Range::positive);
  input.acceleration = in.number("accel_mm_s2", Range::positive);
  input.latency = in.number_or("latency_s", 0, Range::not_negative);
  input.unguarded_rate = in.number_or("unguarded_rate_mm_min", input.seek_rate, Range::positive);
  input.pull_off = in.optional_number("pull_off_mm", Range::not_negative);
  input.release = in.optional_number("release_mm", Range::not_negative);
  const LimitsResult result = evaluate_limits(input);
  nlohmann::json problems = nlohmann::json::array();
  for (const auto p : result.problems) problems.push_back(name(p));
  return nlohmann::json{{"soft_min_mm", result.soft_min},
                        {"soft_max_mm", result.soft_max},
                        {"usable_mm", result.usable},
                        {"stop_distance_seek_mm", result.stop_distance_seek},
                        {"stop_distance_max_mm", result.stop_distance_max},
                        {"max_safe_seek_mm_min", result.max_safe_seek},
                        {"verdict", result.problems.empty() ? "ok" : "problem"},
                        {"problems", std::move(problems)}};
}

Result<nlohmann::json> calc_homing(JsonInput& in) {
  const auto readings = in.numbers("readings_mm", 5);
  const double tolerance = in.number("tolerance_mm", Range::positive),
               resolution = in.number("resolution_mm", Range::positive);
  const auto result = evaluate_homing(readings, tolerance, resolution);
  if (!result) return tl::make_unexpected(result.error());
  return nlohmann::json{{"mean_mm", result->mean},
                        {"s_mm", result->s},
                        {"range_mm", result->range},
                        {"drift_mm_per_trial", result->drift},
                        {"U_drift_mm_per_trial", result->U_drift},
                        {"verdict", name(result->verdict)}};
}

}  // namespace ypsi::cli
