// calc part, periodic, correction, z-square, fence, ticks
#include <algorithm>

#include "cli/calc.h"
#include "cli/json_input.h"
#include "cli/positioning_input.h"
#include "core/calibration/depth_ticks.h"
#include "core/calibration/error_table.h"
#include "core/calibration/fence.h"
#include "core/calibration/part_sizes.h"
#include "core/calibration/periodic_error.h"
#include "core/calibration/z_square.h"

namespace ypsi::cli {
namespace {

constexpr double milli = 1e-3;

std::optional<Known> known(JsonInput& in, const char* key, const char* value, const char* u, double unit = 1) {
  if (!in.has(key)) return std::nullopt;
  JsonInput of = in.object(key);
  const double told = of.number(value) * unit;
  return Known{told, of.number(u, Range::not_negative) * unit};
}

nlohmann::json size_json(const std::optional<PartSize>& size) {
  return size ? nlohmann::json{{"bias_mm", size->bias}, {"U_mm", size->U}} : nlohmann::json();
}

}  // namespace

Result<nlohmann::json> calc_part(JsonInput& in) {
  PartInput input;
  constexpr const char* names[] = {"X", "Y"};
  if (in.has("axes")) {
    JsonInput axes = in.object("axes");
    for (std::size_t a = 0; a < input.axes.size(); ++a) {
      if (!axes.has(names[a])) continue;
      JsonInput axis = axes.object(names[a]);
      PartAxis& into = input.axes[a];
      into.length = axis.optional_number("length_mm", Range::positive);
      into.scale = known(axis, "scale", "value", "u");
      into.lost_motion = known(axis, "lost_motion", "value_mm", "u_mm");
      into.periodic = axis.optional_number("periodic_mm", Range::not_negative);
    }
  }
  input.tool = known(in, "tool", "value_mm", "u_mm");
  input.skew = known(in, "skew", "value_mrad", "u_mrad", milli);
  input.expansion_per_K = in.number_or("expansion_per_K", input.expansion_per_K, Range::not_negative);
  input.u_temperature_K = in.number_or("u_temperature_K", input.u_temperature_K, Range::not_negative);
  const PartSizes result = part_sizes(input);
  nlohmann::json axes;
  for (std::size_t a = 0; a < result.axes.size(); ++a)
    axes[names[a]] = {{"inside", size_json(result.axes[a].inside)},
                      {"outside", size_json(result.axes[a].outside)},
                      {"spacing", size_json(result.axes[a].spacing)}};
  return nlohmann::json{{"axes", std::move(axes)},
                        {"headline_mm", or_null(result.headline)},
                        {"square_mm", size_json(result.square)},
                        {"unknown", result.unknown}};
}

Result<nlohmann::json> calc_periodic(JsonInput& in) {
  std::vector<PeriodicReading> readings;
  for (JsonInput& r : in.objects("readings", 6)) {
    const double at = r.number("at_mm"), reading = r.number("reading_mm");
    readings.push_back({at, reading, r.whole_or("stroke", 0, 0)});
  }
  const double period = in.number("period_mm", Range::positive);
  const auto result = evaluate_periodic(readings, period, in.instrument("instrument"));
  if (!result) return tl::make_unexpected(result.error());
  return nlohmann::json{{"amplitude_mm", result->amplitude},
                        {"U_amplitude_mm", result->U},
                        {"phase_rad", result->phase},
                        {"slope", result->slope},
                        {"k", result->k},
                        {"dof", result->dof},
                        {"residuals_mm", result->residuals}};
}

Result<nlohmann::json> calc_correction(JsonInput& in) {
  const auto targets = in.numbers("targets_mm", 2);
  const auto runs = positioning_runs(in);
  const auto result = error_table(targets, runs, in.optional_number("period_mm", Range::positive));
  if (!result) return tl::make_unexpected(result.error());
  nlohmann::json table = nlohmann::json::array();
  for (const auto& row : result->rows)
    table.push_back({{"target_mm", row.target}, {"plus_mm", row.plus}, {"minus_mm", row.minus}});
  return nlohmann::json{{"table", std::move(table)},
                        {"verdict", result->period_too_short ? "period_too_short" : "table"},
                        {"span_before_mm", result->span_before}};
}

Result<nlohmann::json> calc_z_square(JsonInput& in) {
  ZSquareReadings readings;
  readings.height = in.number("height_mm", Range::positive);
  readings.first = in.number("first_mm");
  readings.turned = in.number("turned_mm");
  readings.bed_slope = in.number_or("bed_slope_mrad", 0) * milli;
  readings.u_slope = in.number_or("u_bed_slope_mrad", 0, Range::not_negative) * milli;
  const ZSquare result = evaluate_z_square(readings, in.instrument("instrument"));
  return nlohmann::json{{"lean_mrad", result.lean / milli},
                        {"U_lean_mrad", result.U_lean / milli},
                        {"square_mrad", result.square / milli},
                        {"U_square_mrad", result.U_square / milli},
                        {"k", result.k}};
}

Result<nlohmann::json> calc_fence(JsonInput& in) {
  FenceTest test;
  test.expected = in.number("expected_mm", Range::positive);
  test.offset = in.number("offset_mm");
  const double sense = in.number("sense");
  if (sense != 1 && sense != -1)
    in.note("out_of_range", "The sense is 1 where a larger offset makes a larger piece, else -1.", in.where("sense"));
  test.adds = sense > 0;
  in.number("test", Range::positive);
  test.test = std::max(1, in.whole_or("test", 1, 1));
  test.measured = in.numbers("measured_mm", 1, Range::positive);
  test.tolerance = in.number("tolerance_mm", Range::positive);
  const Instrument instrument = in.instrument("instrument");
  const auto result = evaluate_fence(test, instrument);
  if (!result) return tl::make_unexpected(result.error());
  return nlohmann::json{{"mean_mm", result->mean},
                        {"U_mm", result->U},
                        {"k", result->k},
                        {"correction_mm", result->correction},
                        {"new_offset_mm", result->new_offset},
                        {"verdict", result->done ? "done" : "again"}};
}

Result<nlohmann::json> calc_ticks(JsonInput& in) {
  std::vector<Groove> grooves;
  for (JsonInput& p : in.objects("points", 3)) {
    const double tick = p.number("tick");
    grooves.push_back({tick, p.number("depth_mm", Range::not_negative)});
  }
  const auto result = evaluate_ticks(grooves, in.number("wanted_depth_mm", Range::not_negative));
  if (!result) return tl::make_unexpected(result.error());
  return nlohmann::json{{"mm_per_tick", result->mm_per_tick}, {"s_mm", result->s},    {"zero_tick", result->zero_tick},
                        {"U_zero_tick", result->U_zero_tick}, {"tick", result->tick}, {"U_depth_mm", result->U_depth}};
}

}  // namespace ypsi::cli
