#pragma once
// `ypsilo calc NAME`: JSON in, JSON out, the same calculations as the window's.
#include <nlohmann/json.hpp>
#include <string>
#include <string_view>
#include <vector>

#include "core/result.h"

namespace ypsi::cli {

class JsonInput;

struct Calculation {
  const char* name;
  const char* what;     ///< one line for `help`
  const char* example;  ///< JSON input that runs
  /// Reads its keys from the input and computes; problems with the input go to the input's first error.
  Result<nlohmann::json> (*run)(JsonInput& in);
};

const std::vector<Calculation>& calculations();

/// Parses `text`, runs the calculation and makes sure that no number that is not finite leaves it.
/// Errors: those of the contract (not_json, missing, wrong_type, not_finite, out_of_range, too_few, degenerate).
Result<nlohmann::json> calculate(const Calculation& calculation, std::string_view text);

nlohmann::json error_json(const Error& error);

/// null for none
nlohmann::json or_null(const std::optional<double>& value);

Result<nlohmann::json> calc_drive(JsonInput& in);
Result<nlohmann::json> calc_scale(JsonInput& in);
Result<nlohmann::json> calc_positioning(JsonInput& in);
Result<nlohmann::json> calc_square(JsonInput& in);
Result<nlohmann::json> calc_limits(JsonInput& in);
Result<nlohmann::json> calc_homing(JsonInput& in);
Result<nlohmann::json> calc_plate(JsonInput& in);
Result<nlohmann::json> calc_corner(JsonInput& in);
Result<nlohmann::json> calc_edge(JsonInput& in);
Result<nlohmann::json> calc_circle(JsonInput& in);
Result<nlohmann::json> calc_setter(JsonInput& in);
Result<nlohmann::json> calc_tram(JsonInput& in);
Result<nlohmann::json> calc_first_cut(JsonInput& in);
Result<nlohmann::json> calc_part(JsonInput& in);
Result<nlohmann::json> calc_periodic(JsonInput& in);
Result<nlohmann::json> calc_correction(JsonInput& in);
Result<nlohmann::json> calc_z_square(JsonInput& in);
Result<nlohmann::json> calc_pointer(JsonInput& in);
Result<nlohmann::json> calc_marks(JsonInput& in);
Result<nlohmann::json> calc_focus(JsonInput& in);
Result<nlohmann::json> calc_threshold(JsonInput& in);
Result<nlohmann::json> calc_drag_knife(JsonInput& in);
Result<nlohmann::json> calc_turned_knife(JsonInput& in);
Result<nlohmann::json> calc_kerf(JsonInput& in);
Result<nlohmann::json> calc_fence(JsonInput& in);
Result<nlohmann::json> calc_ticks(JsonInput& in);

}  // namespace ypsi::cli
