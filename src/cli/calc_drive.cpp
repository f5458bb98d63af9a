#include "cli/calc.h"
#include "cli/transmission_input.h"

namespace ypsi::cli {

Transmission transmission(JsonInput in) {
  switch (in.choice("kind", {"screw", "belt", "rack", "rotary"})) {
    case 0:
      return Screw{in.number("lead_mm", Range::positive)};
    case 1:
      return Belt{in.number("pitch_mm", Range::positive), in.number("teeth", Range::positive)};
    case 2:
      return Rack{in.number("module_mm", Range::positive), in.number("teeth", Range::positive)};
    default:
      return Rotary{};
  }
}

Result<nlohmann::json> calc_drive(JsonInput& in) {
  DriveTrain train;
  train.full_steps_per_rev = in.number("full_steps_per_rev", Range::positive);
  train.microsteps = in.number("microsteps", Range::positive);
  train.gear_ratio = in.number_or("gear_ratio", 1, Range::positive);
  train.transmission = transmission(in.object("transmission"));
  const auto result = steps_per_unit(train);
  if (!result) return tl::make_unexpected(result.error());
  return nlohmann::json{
      {"steps_per_unit", result->steps_per_unit}, {"unit", result->unit}, {"unit_per_step", result->unit_per_step}};
}

}  // namespace ypsi::cli
