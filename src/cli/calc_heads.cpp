// calc pointer, marks, focus, threshold, drag-knife, turned-knife, kerf
#include <algorithm>
#include <numbers>

#include "cli/calc.h"
#include "cli/json_input.h"
#include "core/calibration/threshold.h"
#include "core/heads/beam_focus.h"
#include "core/heads/drawn_marks.h"
#include "core/heads/head_offset.h"
#include "core/heads/knives.h"

namespace ypsi::cli {
namespace {

constexpr double degree = std::numbers::pi / 180;

PlanPoint to_plan(std::pair<double, double> p) {
  return {p.first, p.second};
}

nlohmann::json point_json(PlanPoint p) {
  return {p.real(), p.imag()};
}

nlohmann::json points_json(const std::vector<PlanPoint>& places) {
  nlohmann::json out = nlohmann::json::array();
  for (const PlanPoint p : places) out.push_back(point_json(p));
  return out;
}

Known lost_motion(JsonInput in) {
  const double value = in.number("value_mm");
  return {value, in.number("u_mm", Range::not_negative)};
}

}  // namespace

Result<nlohmann::json> calc_pointer(JsonInput& in) {
  std::vector<SharedMark> marks;
  for (JsonInput& m : in.objects("marks", 1)) {
    const PlanPoint spindle = to_plan(m.point("spindle"));
    marks.push_back({spindle, to_plan(m.point("other"))});
  }
  const auto result = head_offset(marks, in.number_or("s_mm", usual_placing_mm, Range::positive));
  if (!result) return tl::make_unexpected(result.error());
  constexpr const char* verdicts[] = {"ok", "turned", "stretched"};
  nlohmann::json out{{"offset_mm", point_json(result->offset)},
                     {"U_mm", result->U},
                     {"k", result->k},
                     {"verdict", verdicts[static_cast<std::size_t>(result->verdict)]}};
  const auto& left = result->left;
  out["dof"] = left ? nlohmann::json(left->dof) : nlohmann::json();
  out["turn_mrad"] = left ? nlohmann::json(left->turn * 1000) : nlohmann::json();
  out["U_turn_mrad"] = left ? nlohmann::json(left->U_turn * 1000) : nlohmann::json();
  out["stretch"] = left ? nlohmann::json(left->stretch) : nlohmann::json();
  out["U_stretch"] = left ? nlohmann::json(left->U_stretch) : nlohmann::json();
  out["residuals_mm"] = left ? points_json(left->residuals) : nlohmann::json();
  return out;
}

Result<nlohmann::json> calc_marks(JsonInput& in) {
  std::vector<FoundMark> marks;
  for (JsonInput& m : in.objects("points", 2)) {
    const PlanPoint drawn = to_plan(m.point("drawn"));
    marks.push_back({drawn, to_plan(m.point("found"))});
  }
  const PlanPoint at = to_plan(in.point("at"));
  const auto result = fit_marks(marks, in.number_or("s_mm", usual_placing_mm, Range::positive));
  if (!result) return tl::make_unexpected(result.error());
  constexpr const char* verdicts[] = {"ok", "odd_mark", "wrong_scale"};
  return nlohmann::json{{"scale", result->scale},
                        {"turn_mrad", result->turn * 1000},
                        {"zero_at", point_json(result->at(0))},
                        {"at_mm", point_json(result->at(at))},
                        {"U_at_mm", result->U_at(at)},
                        {"residuals_mm", points_json(result->residuals)},
                        {"odd", result->odd},
                        {"verdict", verdicts[static_cast<std::size_t>(result->verdict)]}};
}

Result<nlohmann::json> calc_focus(JsonInput& in) {
  std::vector<BurntLine> lines;
  for (JsonInput& p : in.objects("points", 4)) {
    const double z = p.number("z_mm");
    lines.push_back({z, p.number("width_mm", Range::positive)});
  }
  const auto result = beam_focus(lines, in.number("u_width_mm", Range::positive));
  if (!result) return tl::make_unexpected(result.error());
  constexpr const char* verdicts[] = {"ok", "recentre", "no_minimum"};
  return nlohmann::json{{"focus_z_mm", or_null(result->z)},
                        {"U_focus_z_mm", or_null(result->U)},
                        {"k", result->k},
                        {"birge", result->birge},
                        {"verdict", verdicts[static_cast<std::size_t>(result->verdict)]}};
}

Result<nlohmann::json> calc_threshold(JsonInput& in) {
  std::vector<LevelTrial> trials;
  for (JsonInput& t : in.objects("trials", 1)) {
    t.number("yes", Range::not_negative);
    t.number("no", Range::not_negative);
    const double level = t.number("level");
    const int yes = t.whole_or("yes", 0, 0);
    trials.push_back({level, yes, t.whole_or("no", 0, 0)});
  }
  const double fraction = in.number_or("fraction", 0.99, Range::positive);
  if (fraction >= 1) in.note("out_of_range", "The fraction that is wanted must be below 1.", in.where("fraction"));
  const auto result = find_threshold(std::move(trials), fraction < 1 ? fraction : 0.5);
  if (!result) return tl::make_unexpected(result.error());
  constexpr const char* methods[] = {"", "probit", "bracket"};
  constexpr const char* verdicts[] = {"ok", "open", "only_yes", "only_no"};
  nlohmann::json proven = nlohmann::json::array(), bracket;
  for (const auto& p : result->proven) proven.push_back({{"level", p.level}, {"failures_below", p.failures_below}});
  if (result->method == ThresholdMethod::bracket) bracket = {or_null(result->low), or_null(result->high)};
  return nlohmann::json{{"method", result->method == ThresholdMethod::none
                                       ? nlohmann::json()
                                       : nlohmann::json(methods[static_cast<std::size_t>(result->method)])},
                        {"threshold", or_null(result->threshold)},
                        {"U_threshold", or_null(result->U_threshold)},
                        {"sigma", or_null(result->sigma)},
                        {"setting", or_null(result->setting)},
                        {"U_setting", or_null(result->U_setting)},
                        {"bracket", std::move(bracket)},
                        {"proven", std::move(proven)},
                        {"verdict", verdicts[static_cast<std::size_t>(result->verdict)]}};
}

Result<nlohmann::json> calc_drag_knife(JsonInput& in) {
  const double gap = in.number("gap_mm", Range::positive);
  const auto result = trailing_offset(gap, lost_motion(in.object("lost_motion")), in.instrument("instrument"));
  return nlohmann::json{{"trailing_mm", result.value}, {"U_mm", result.U}, {"k", result.k}};
}

Result<nlohmann::json> calc_turned_knife(JsonInput& in) {
  TurnedKnifeLines lines;
  lines.y_plus = in.number("y_plus_x_mm");
  lines.y_minus = in.number("y_minus_x_mm");
  lines.end_plus = in.number("end_plus_x_mm");
  lines.end_minus = in.number("end_minus_x_mm");
  if (in.has("lost_motion")) lines.lost_motion = lost_motion(in.object("lost_motion"));
  if (in.has("kerf")) {
    auto kerf = in.objects("kerf", 2);
    if (kerf.size() > 2) in.note("out_of_range", "Two cuts, one to each side, are what tells the angle.", "kerf");
    TurnedKnifeLines::AngleTrial trial;
    trial.chord = in.number("chord_mm", Range::positive);
    for (std::size_t i = 0; i < std::min<std::size_t>(2, kerf.size()); ++i) {
      const double angle = kerf[i].number("angle_deg") * degree;
      trial.kerf[i] = {angle, kerf[i].number("width_mm", Range::positive)};
    }
    lines.angle = trial;
  }
  const auto result = turned_knife(lines, in.instrument("instrument"));
  if (!result) return tl::make_unexpected(result.error());
  const auto degrees = [](std::optional<double> rad) { return rad ? nlohmann::json(*rad / degree) : nlohmann::json(); };
  return nlohmann::json{{"left_mm", result->left},
                        {"forward_mm", result->forward},
                        {"U_mm", result->U},
                        {"k", result->k},
                        {"angle_zero_deg", degrees(result->angle_zero)},
                        {"U_angle_deg", degrees(result->U_angle)}};
}

Result<nlohmann::json> calc_kerf(JsonInput& in) {
  in.number("strips", Range::positive);
  const int strips = in.whole_or("strips", 1, 1);
  const double pitch = in.number("pitch_mm", Range::positive), total = in.number("total_mm", Range::positive),
               scale = in.number_or("scale_error", 0), u_scale = in.number_or("u_scale_error", 0, Range::not_negative);
  const auto result = kerf_of_strips(std::max(1, strips), pitch, total, scale, u_scale, in.instrument("instrument"));
  return nlohmann::json{{"kerf_mm", result.value}, {"U_mm", result.U}, {"k", result.k}};
}

}  // namespace ypsi::cli
