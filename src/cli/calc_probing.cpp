// calc plate, corner, edge, circle, setter, tram
#include <cmath>
#include <numbers>

#include "cli/calc.h"
#include "cli/json_input.h"
#include "core/calibration/probing.h"
#include "core/calibration/tool_setter.h"
#include "core/calibration/tram.h"
#include "core/metrology/normal.h"

namespace ypsi::cli {
namespace {
/// U of one touch where its u is given.
std::optional<double> U_touch(JsonInput& in) {
  const auto u = in.optional_number("u_touch_mm", Range::not_negative);
  return u ? std::optional(normal_quantile(0.975) * *u) : std::nullopt;
}

nlohmann::json times(std::optional<double> U, double factor) {
  return U ? nlohmann::json(*U * factor) : nlohmann::json();
}

Point2 to_point(std::pair<double, double> p) {
  return {p.first, p.second};
}
}  // namespace

Result<nlohmann::json> calc_plate(JsonInput& in) {
  const double trigger = in.number("trigger_z_mm"), thickness = in.number("thickness_mm", Range::positive);
  const bool on_stock = in.choice("plate_on", {"stock", "bed"}) == 0,
             to_bed = in.choice("reference", {"stock_top", "bed"}) == 1;
  const double stock = in.number("stock_thickness_mm", Range::positive);
  const auto U = U_touch(in);
  const PlateResult result = touch_plate(trigger, thickness, on_stock, to_bed, stock);
  return nlohmann::json{
      {"surface_z_mm", result.surface_z}, {"work_zero_z_mm", result.work_zero_z}, {"U_surface_mm", or_null(U)}};
}

Result<nlohmann::json> calc_corner(JsonInput& in) {
  const double tool = in.number("tool_diameter_mm", Range::positive);
  const double wall_x = in.number("wall_x_mm", Range::not_negative),
               wall_y = in.number("wall_y_mm", Range::not_negative),
               floor = in.number("floor_z_mm", Range::not_negative);
  JsonInput touch = in.object("touch"), x = touch.object("x"), y = touch.object("y"), z = touch.object("z");
  const double turn = in.number_or("turn_mrad", 0) / 1000;
  constexpr double most_turned = 0.8;  // rad; beyond it the other edge is the one that was touched
  if (std::fabs(turn) > most_turned)
    in.note("out_of_range", "A stock turned by so much has its other edges there; lay it straighter.",
            in.where("turn_mrad"));
  const auto touched = [&](JsonInput& side, double wall) {
    const double trigger = side.number("trigger_mm");
    const bool plus = side.choice("direction", {"+", "-"}) == 0;
    return WallTouch{trigger, plus, wall, turn == 0 ? 0 : side.number("at_mm")};
  };
  const WallTouch x_touch = touched(x, wall_x), y_touch = touched(y, wall_y);
  const Point2 corner = turned_corner(x_touch, y_touch, tool, turn);
  nlohmann::json zero{{"x_mm", corner.x}, {"y_mm", corner.y}, {"z_mm", z.number("trigger_mm") - floor}};
  return nlohmann::json{{"work_zero", std::move(zero)}, {"U_mm", or_null(U_touch(in))}};
}

Result<nlohmann::json> calc_edge(JsonInput& in) {
  const auto a = in.point("a"), b = in.point("b");
  const auto U = U_touch(in);
  const auto result = edge_rotation(to_point(a), to_point(b), in.choice("along", {"X", "Y"}) == 1);
  if (!result) return tl::make_unexpected(result.error());
  return nlohmann::json{
      {"rotation_mrad", result->rotation * 1000},
      {"rotation_deg", result->rotation * 180 / std::numbers::pi},
      {"mm_per_m", result->mm_per_m},
      {"U_rotation_mrad", times(U, 1000 * std::numbers::sqrt2 / std::hypot(b.first - a.first, b.second - a.second))}};
}

Result<nlohmann::json> calc_circle(JsonInput& in) {
  std::vector<Point2> points;
  for (const auto& p : in.points("points_mm", 3)) points.push_back(to_point(p));
  const double tip = in.number("tip_diameter_mm", Range::not_negative);
  const bool inside = in.choice("side", {"inside", "outside"}) == 0;
  const auto U = U_touch(in);
  const auto result = fit_circle(points, tip, inside);
  if (!result) return tl::make_unexpected(result.error());
  return nlohmann::json{{"center_mm", {result->center.x, result->center.y}},
                        {"diameter_mm", result->diameter},
                        {"rms_mm", result->rms},
                        {"U_center_mm", times(U, result->center_factor)},
                        {"U_diameter_mm", times(U, result->diameter_factor)}};
}

Result<nlohmann::json> calc_setter(JsonInput& in) {
  const auto reference = in.numbers("reference_trigger_mm", 1);
  std::vector<SetterTool> tools;
  for (JsonInput& t : in.objects("tools", 1)) {
    t.number("number");
    tools.push_back({t.whole_or("number", 0, 0), t.numbers("trigger_mm", 1)});
  }
  const auto result = evaluate_setter(reference, tools, in.optional_number("work_zero_z_mm"),
                                      in.number_or("step_mm", 0, Range::not_negative));
  if (!result) return tl::make_unexpected(result.error());
  nlohmann::json list = nlohmann::json::array();
  for (const auto& t : result->tools)
    list.push_back({{"number", t.number},
                    {"offset_mm", t.offset},
                    {"s_mm", or_null(t.s)},
                    {"u_mm", or_null(t.u)},
                    {"U_mm", or_null(t.U)},
                    {"work_zero_z_mm", or_null(t.work_zero_z)}});
  return nlohmann::json{{"tools", std::move(list)}, {"s_pooled_mm", or_null(result->s_pooled)}};
}

Result<nlohmann::json> calc_tram(JsonInput& in) {
  TramInput input;
  input.radius = in.number("radius_mm", Range::positive);
  for (JsonInput& s : in.objects("sweep", 3)) {
    const double angle = s.number("angle_deg");
    input.sweep.push_back({angle * std::numbers::pi / 180, s.number("reading_mm")});
  }
  input.bolt_spacing_x = in.number("bolt_spacing_x_mm", Range::positive);
  input.bolt_spacing_y = in.number("bolt_spacing_y_mm", Range::positive);
  input.cutter_diameter = in.number("cutter_diameter_mm", Range::positive);
  input.stepover = in.number("stepover_mm", Range::positive);
  if (in.has("instrument")) input.indicator = in.instrument("instrument");
  if (in.has("bed_slope_mrad")) {
    const auto slope = in.point("bed_slope_mrad");
    input.bed_slope = {{slope.first / 1000, slope.second / 1000}};
  }
  const auto result = evaluate_tram(input);
  if (!result) return tl::make_unexpected(result.error());
  return nlohmann::json{
      {"tilt_x_mrad", result->tilt_x * 1000},
      {"tilt_y_mrad", result->tilt_y * 1000},
      {"shim_x_mm", result->shim_x},
      {"shim_y_mm", result->shim_y},
      {"ridge_mm", result->ridge},
      {"hollow_mm", result->hollow},
      {"U_tilt_mrad",
       result->U_tilt ? nlohmann::json{(*result->U_tilt)[0] * 1000, (*result->U_tilt)[1] * 1000} : nlohmann::json()},
      {"k", or_null(result->k)}};
}

}  // namespace ypsi::cli
