#include <fmt/format.h>
#include <fmt/ranges.h>

#include <cmath>
#include <map>

#include "cli/calc.h"
#include "cli/json_input.h"
#include "core/calibration/squareness.h"

namespace ypsi::cli {
namespace {

nlohmann::json pair_or_null(const std::optional<std::array<double, 2>>& steps) {
  return steps ? nlohmann::json{{"X", (*steps)[0]}, {"Y", (*steps)[1]}} : nlohmann::json();
}

nlohmann::json gantry_json(const GantryMove& move) {
  nlohmann::json out{{"move", move.right ? "right" : "left"},
                     {"direction", move.towards_plus ? "+Y" : "-Y"},
                     {"distance_mm", move.distance},
                     {"U_distance_mm", move.U_distance},
                     {"steps", nullptr}};
  if (move.steps) out["steps"] = *move.steps;
  return out;
}

nlohmann::json to_json(const SquareInput& in, const SquareResult& result) {
  nlohmann::json out{
      {"verdict", name(result.verdict)}, {"missing", nlohmann::json::array()}, {"advice", nlohmann::json::array()}};
  for (const auto& [a, b] : result.missing)
    out["missing"].push_back({{"from", in.points[a].name}, {"to", in.points[b].name}});
  std::vector<std::string> further;
  for (const auto& [a, b] : result.missing)
    further.push_back(fmt::format("{} to {}", in.points[a].name, in.points[b].name));
  const std::string measure = further.empty() ? "mark a rectangle and measure both of its diagonals and a side"
                                              : fmt::format("measure {} too", fmt::join(further, " and "));
  if (!result.fit)
    out["advice"].push_back(fmt::format("These distances cannot tell how far Y leans; {}.", measure));
  else if (result.fit->model == SquareModel::common_scale)
    out["advice"].push_back(
        fmt::format("These distances tell one scale for both axes; to tell each axis's own, {}.", measure));
  if (!result.fit) return out;
  const SquareFit& f = *result.fit;
  const bool affine = f.model == SquareModel::affine;
  const auto only = [](bool when, double value) { return when ? nlohmann::json(value) : nlohmann::json(); };
  out.update({{"model", affine ? "affine" : "common_scale"},
              {"scale_x", only(affine, f.scale_x)},
              {"scale_y", only(affine, f.scale_y)},
              {"U_scale_x", only(affine, f.U_scale_x)},
              {"U_scale_y", only(affine, f.U_scale_y)},
              {"common_scale", only(!affine, f.scale_x)},
              {"U_common_scale", only(!affine, f.U_scale_x)},
              {"skew_mrad", f.skew * 1000},
              {"skew_mm_per_m", std::tan(f.skew) * 1000},
              {"u_skew_mrad", f.u_skew * 1000},
              {"U_skew_mrad", f.U_skew * 1000},
              {"k", f.coverage.k},
              {"dof", f.coverage.dof},
              {"birge", or_null(f.coverage.birge)},
              {"scatter_exceeds_claim", f.coverage.scatter_exceeds_claim},
              {"residuals_mm", f.residuals},
              {"gantry", f.gantry ? gantry_json(*f.gantry) : nlohmann::json()},
              {"new_steps_per_mm", pair_or_null(f.new_steps)}});
  return out;
}

}  // namespace

Result<nlohmann::json> calc_square(JsonInput& in) {
  SquareInput input;
  std::map<std::string, std::size_t> index;
  JsonInput points = in.object("points");
  for (const auto& [key, value] : points.json().items()) {
    index[key] = input.points.size();
    const auto p = points.point(key.c_str());
    input.points.push_back({key, {p.first, p.second}});
  }
  const auto known = [&](JsonInput& d, const char* key) -> std::size_t {
    const std::string wanted = d.text(key);
    const auto found = index.find(wanted);
    if (found != index.end()) return found->second;
    d.note("missing", fmt::format("There is no point “{}” among the points; add it, or name another.", wanted),
           d.where(key));
    return 0;
  };
  bool all_known = true;
  for (JsonInput& d : in.objects("distances", 1)) {
    MarkDistance distance;
    distance.from = known(d, "from");
    distance.to = known(d, "to");
    distance.measured = d.number("measured_mm", Range::positive);
    if (d.has("hole")) {
      JsonInput hole = d.object("hole");
      distance.edge = static_cast<HoleEdge>(hole.choice("edge", {"center", "outer", "inner"}));
      distance.hole_diameter = distance.edge == HoleEdge::center ? hole.number_or("diameter_mm", 0, Range::not_negative)
                                                                 : hole.number("diameter_mm", Range::positive);
    }
    all_known = all_known && distance.from < input.points.size() && distance.to < input.points.size();
    input.distances.push_back(distance);
  }
  input.instrument = in.instrument("instrument");
  input.rail_spacing = in.optional_number("rail_spacing_mm", Range::positive);
  input.hold_right = in.choice("hold", {"left", "right"}, 0) == 1;
  if (in.has("steps_per_mm")) {
    JsonInput steps = in.object("steps_per_mm");
    input.steps_per_mm = {{steps.number("X", Range::positive), steps.number("Y", Range::positive)}};
  }
  if (!all_known || input.distances.empty())
    return fail("too_few", "There is no distance between points yet.", "distances");
  const auto result = fit_square(input);
  if (!result) return tl::make_unexpected(result.error());
  return to_json(input, *result);
}

}  // namespace ypsi::cli
