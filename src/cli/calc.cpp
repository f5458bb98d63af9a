#include "cli/calc.h"

#include <cmath>

#include "cli/json_input.h"

namespace ypsi::cli {
namespace {

bool all_finite(const nlohmann::json& value) {
  if (value.is_number_float()) return std::isfinite(value.get<double>());
  if (value.is_structured())
    for (const auto& item : value)
      if (!all_finite(item)) return false;
  return true;
}

Result<nlohmann::json> parse(std::string_view text) {
  try {
    return nlohmann::json::parse(text);
  } catch (const nlohmann::json::out_of_range&) {
    return fail("not_finite", "A number in the input is too large to be worked with.");
  } catch (const nlohmann::json::exception&) {
    return fail("not_json", "The input is not JSON (RFC 8259); check quotes, commas and brackets.");
  }
}

}  // namespace

const std::vector<Calculation>& calculations() {
  static const std::vector<Calculation>
      all{
          {"drive", "steps per unit from the parts of a drive train",
           R"({"full_steps_per_rev": 200, "microsteps": 16, "transmission": {"kind": "belt", "pitch_mm": 2, "teeth": 20}})",
           calc_drive},
          {"scale", "steps per unit from moves that were told and measured",
           R"({"axis": "X", "current_steps_per_mm": 160, "instrument": {"resolution_mm": 0.5, "ends": 2}, "readings": [{"commanded_mm": 300, "measured_mm": 301.5}, {"commanded_mm": 700, "measured_mm": 703}]})",
           calc_scale},
          {"positioning", "accuracy and repeatability after ISO 230-2",
           R"({"targets_mm": [10, 120, 235], "runs": [{"direction": "+", "deviation_mm": [0.01, 0.02, 0.03]}, {"direction": "-", "deviation_mm": [0.04, 0.05, 0.06]}, {"direction": "+", "deviation_mm": [0.012, 0.018, 0.031]}, {"direction": "-", "deviation_mm": [0.041, 0.049, 0.062]}]})",
           calc_positioning},
          {"square", "the lean of Y and the scales from distances between marks",
           R"({"points": {"A": [0, 0], "B": [600, 0], "C": [600, 400], "D": [0, 400]}, "distances": [{"from": "A", "to": "C", "measured_mm": 721.68}, {"from": "B", "to": "D", "measured_mm": 720.54}, {"from": "A", "to": "B", "measured_mm": 600.02}], "instrument": {"resolution_mm": 0.01, "s_mm": 0.012}, "rail_spacing_mm": 860, "steps_per_mm": {"X": 80, "Y": 80}})",
           calc_square},
          {"limits", "soft limits and whether the machine can stop within them",
           R"({"axis": "X", "home_end": "min", "home_coordinate_mm": 0, "travel_mm": 815, "clearance_home_mm": 2, "clearance_far_mm": 4, "overtravel_home_mm": 3, "seek_rate_mm_min": 1800, "max_rate_mm_min": 6000, "accel_mm_s2": 400, "pull_off_mm": 4, "release_mm": 0.6})",
           calc_limits},
          {"homing", "scatter and drift of the place that homing finds",
           R"({"readings_mm": [0.002, -0.003, 0.001, 0.004, -0.002, 0.0], "tolerance_mm": 0.02, "resolution_mm": 0.001})",
           calc_homing},
          {"plate", "work zero of Z from a touch plate",
           R"({"trigger_z_mm": -41.6, "thickness_mm": 12.07, "plate_on": "stock", "reference": "stock_top", "stock_thickness_mm": 18})",
           calc_plate},
          {"corner", "work zero from a corner plate",
           R"({"tool_diameter_mm": 6, "wall_x_mm": 9.95, "wall_y_mm": 10.02, "floor_z_mm": 12.07, "touch": {"x": {"trigger_mm": 65.3, "direction": "+"}, "y": {"trigger_mm": 23.1, "direction": "+"}, "z": {"trigger_mm": -36.4}}})",
           calc_corner},
          {"edge", "the stock's rotation from two points on an edge",
           R"({"a": [6.4, 26.5], "b": [181.8, 28.3], "along": "X"})", calc_edge},
          {"circle", "centre and diameter of a hole or a boss",
           R"({"points_mm": [[10, 0], [0, 10], [-10, 0], [0, -10.02]], "tip_diameter_mm": 3, "side": "inside"})",
           calc_circle},
          {"setter", "tool offsets from a tool setter",
           R"({"reference_trigger_mm": [-41.198, -41.2], "tools": [{"number": 2, "trigger_mm": [-37.617, -37.62]}], "work_zero_z_mm": -63.1})",
           calc_setter},
          {"tram", "the spindle's tilt from a sweep, shims, what a cutter leaves",
           R"({"radius_mm": 80, "sweep": [{"angle_deg": 0, "reading_mm": 0.05}, {"angle_deg": 90, "reading_mm": 0.01}, {"angle_deg": 180, "reading_mm": -0.05}, {"angle_deg": 270, "reading_mm": -0.01}], "bolt_spacing_x_mm": 64, "bolt_spacing_y_mm": 110, "cutter_diameter_mm": 25, "stepover_mm": 18})",
           calc_tram},
          {"first-cut", "what the sizes of a first part say about scale, cutter, lost motion and zero",
           R"({"tool_diameter_mm": 6, "instrument": {"resolution_mm": 0.01, "s_mm": 0.012, "u_cal_mm": 0.015}, "features": [{"kind": "inside", "axis": "X", "nominal_mm": 40, "measured_mm": 39.78}, {"kind": "outside", "axis": "X", "nominal_mm": 120, "measured_mm": 120.2}, {"kind": "spacing", "axis": "X", "nominal_mm": 100, "measured_mm": 99.94}]})",
           calc_first_cut},
          {"part", "what a part cut today will be off by, per axis and kind of size",
           R"({"axes": {"X": {"length_mm": 300, "scale": {"value": 0.0012, "u": 0.0003}, "lost_motion": {"value_mm": 0.11, "u_mm": 0.01}, "periodic_mm": 0.01}, "Y": {"length_mm": 300, "scale": {"value": 0, "u": 0.0002}, "lost_motion": {"value_mm": 0.06, "u_mm": 0.01}}}, "tool": {"value_mm": -0.07, "u_mm": 0.02}, "skew": {"value_mrad": 0.6, "u_mrad": 0.1}})",
           calc_part},
          {"periodic", "the error that a screw or pinion repeats with every turn",
           R"({"readings": [{"at_mm": 0, "reading_mm": 0.004}, {"at_mm": 1.5, "reading_mm": 0.022}, {"at_mm": 3, "reading_mm": 0.017}, {"at_mm": 4.5, "reading_mm": -0.006}, {"at_mm": 6, "reading_mm": -0.02}, {"at_mm": 7.5, "reading_mm": -0.008}, {"at_mm": 9, "reading_mm": 0.016}, {"at_mm": 10.5, "reading_mm": 0.024}], "period_mm": 8, "instrument": {"resolution_mm": 0.001, "ends": 2, "s_mm": 0.002}})",
           calc_periodic},
          {"correction", "a table of positional errors from a positioning test",
           R"({"targets_mm": [10, 120, 235], "runs": [{"direction": "+", "deviation_mm": [0.01, 0.02, 0.03]}, {"direction": "-", "deviation_mm": [0.04, 0.05, 0.06]}, {"direction": "+", "deviation_mm": [0.012, 0.018, 0.031]}, {"direction": "-", "deviation_mm": [0.041, 0.049, 0.062]}], "period_mm": 5})",
           calc_correction},
          {"z-square", "how Z's travel leans against the bed, by a square turned over",
           R"({"height_mm": 120, "first_mm": -0.16, "turned_mm": -0.167, "bed_slope_mrad": 0.4, "instrument": {"resolution_mm": 0.001, "s_mm": 0.002}})",
           calc_z_square},
          {"pointer", "where another head stands against the spindle, from marks",
           R"({"marks": [{"spindle": [200, 100], "other": [242.3, 88.2]}, {"spindle": [500, 120], "other": [542.4, 108.1]}, {"spindle": [350, 400], "other": [392.2, 388.3]}]})",
           calc_pointer},
          {"marks", "how a drawing lies, from its marks found again",
           R"({"points": [{"drawn": [0, 0], "found": [60.95, 38.02]}, {"drawn": [420, 0], "found": [480.6, 56.3]}, {"drawn": [420, 297], "found": [467.8, 353.1]}], "at": [0, 100]})",
           calc_marks},
          {"focus", "the height at which a beam is narrowest",
           R"({"points": [{"z_mm": 8, "width_mm": 0.30}, {"z_mm": 10, "width_mm": 0.20}, {"z_mm": 12, "width_mm": 0.12}, {"z_mm": 14, "width_mm": 0.19}, {"z_mm": 16, "width_mm": 0.29}], "u_width_mm": 0.01})",
           calc_focus},
          {"threshold", "the level from which trials say yes",
           R"({"trials": [{"level": 8, "yes": 0, "no": 5}, {"level": 10, "yes": 1, "no": 4}, {"level": 12, "yes": 3, "no": 2}, {"level": 14, "yes": 5, "no": 0}]})",
           calc_threshold},
          {"drag-knife", "how far a castor knife trails its pivot",
           R"({"gap_mm": 0.76, "lost_motion": {"value_mm": 0.06, "u_mm": 0.01}, "instrument": {"resolution_mm": 0.02, "ends": 2}})",
           calc_drag_knife},
          {"turned-knife", "where a turned knife's blade stands against its axis",
           R"({"y_plus_x_mm": 39.92, "y_minus_x_mm": 40.1, "end_plus_x_mm": 79.8, "end_minus_x_mm": 80.2, "kerf": [{"angle_deg": -4, "width_mm": 0.26}, {"angle_deg": 5, "width_mm": 0.28}], "chord_mm": 0.8, "lost_motion": {"value_mm": 0.06, "u_mm": 0.01}, "instrument": {"resolution_mm": 0.02, "ends": 2}})",
           calc_turned_knife},
          {"kerf", "what a beam or blade takes away, from strips pushed together",
           R"({"strips": 20, "pitch_mm": 10, "total_mm": 194.88, "instrument": {"resolution_mm": 0.01, "s_mm": 0.012, "u_cal_mm": 0.015}})",
           calc_kerf},
          {"fence", "a fence corrected from what was cut along it",
           R"({"expected_mm": 120, "offset_mm": -10.96, "sense": -1, "test": 1, "measured_mm": [120.34, 120.31, 120.35], "tolerance_mm": 0.1, "instrument": {"resolution_mm": 0.01, "s_mm": 0.012}})",
           calc_fence},
          {"ticks", "depth against the ticks of a depth nose",
           R"({"points": [{"tick": 4, "depth_mm": 0.083}, {"tick": 8, "depth_mm": 0.12}, {"tick": 12, "depth_mm": 0.166}, {"tick": 16, "depth_mm": 0.201}], "wanted_depth_mm": 0.1})",
           calc_ticks},
      };
  return all;
}

Result<nlohmann::json> calculate(const Calculation& calculation, std::string_view text) {
  const auto input = parse(text);
  if (!input) return input;
  if (!input->is_object()) return fail("wrong_type", "The input must be one JSON object in braces.");
  std::optional<Error> wrong;
  JsonInput in(*input, "", wrong);
  auto out = calculation.run(in);
  if (wrong) return tl::make_unexpected(*wrong);
  if (out && !all_finite(*out))
    return fail("out_of_range", "These numbers are too far apart in size to be worked with; check the units.");
  return out;
}

nlohmann::json error_json(const Error& error) {
  return {{"error", {{"code", error.code}, {"message", error.message}, {"where", error.where}}}};
}

nlohmann::json or_null(const std::optional<double>& value) {
  return value ? nlohmann::json(*value) : nlohmann::json();
}

}  // namespace ypsi::cli
