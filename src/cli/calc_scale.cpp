#include "cli/calc.h"
#include "cli/transmission_input.h"
#include "core/calibration/scale.h"
#include "core/calibration/scale_json.h"

namespace ypsi::cli {
Result<nlohmann::json> calc_scale(JsonInput& in) {
  ScaleInput input;
  in.text("axis");
  input.current_steps = in.number("current_steps_per_mm", Range::positive);
  input.instrument = in.instrument("instrument");
  for (JsonInput& r : in.objects("readings", 1)) {
    ScaleReading reading;
    reading.commanded = r.number("commanded_mm");
    reading.measured = r.number("measured_mm");
    reading.reversed = r.choice("approach", {"same", "reversed"}, 0) == 1;
    if (reading.commanded == 0)
      r.note("out_of_range", "A move over no distance tells nothing; give the distance that was commanded.",
             r.where("commanded_mm"));
    if (reading.measured == 0)
      r.note("out_of_range", "A measured length of zero tells nothing; measure how far the axis really went.",
             r.where("measured_mm"));
    input.readings.push_back(reading);
  }
  input.tolerance_per_m = in.optional_number("tolerance_mm_per_m", Range::positive);
  if (in.has("transmission")) input.transmission = transmission(in.object("transmission"));
  const auto result = fit_scale(input);
  if (!result) return tl::make_unexpected(result.error());
  return scale_json(*result);
}

}  // namespace ypsi::cli
