#include "core/calibration/scale_json.h"

#include <nlohmann/json.hpp>

namespace ypsi {
namespace {
nlohmann::json null_or(const std::optional<double>& value) {
  return value ? nlohmann::json(*value) : nlohmann::json();
}
}  // namespace

nlohmann::json scale_json(const ScaleResult& result) {
  nlohmann::json out{{"verdict", name(result.verdict)},
                     {"recommended_distance_mm", null_or(result.recommended_distance)},
                     {"suspects", nlohmann::json::array()},
                     {"advice", nlohmann::json::array()}};
  for (const auto& s : result.suspects) out["suspects"].push_back({{"cause", s.cause}, {"factor", s.factor}});
  for (const auto advice : result.advice) out["advice"].push_back(sentence(advice));
  if (!result.odd_signs.empty()) out["odd_signs"] = result.odd_signs;
  if (!result.fit) return out;
  const ScaleFit& fit = *result.fit;
  out.update({{"scale", fit.scale},
              {"u_scale", fit.u_scale},
              {"U_scale", fit.U_scale},
              {"k", fit.coverage.k},
              {"new_steps_per_mm", fit.new_steps},
              {"U_new_steps_per_mm", fit.U_new_steps},
              {"lost_motion_mm", null_or(fit.lost_motion)},
              {"U_lost_motion_mm", null_or(fit.U_lost_motion)},
              {"chi2", fit.chi2},
              {"dof", fit.coverage.dof},
              {"birge", null_or(fit.coverage.birge)},
              {"scatter_exceeds_claim", fit.coverage.scatter_exceeds_claim},
              {"readings", nlohmann::json::array()}});
  for (const auto& r : fit.readings)
    out["readings"].push_back({{"residual_mm", r.residual}, {"u_mm", r.u}, {"flagged", r.flagged}});
  return out;
}

nlohmann::json readings_json(const std::vector<ScaleReading>& readings) {
  nlohmann::json out = nlohmann::json::array();
  for (const auto& r : readings)
    out.push_back({{"commanded_mm", r.commanded.mm},
                   {"measured_mm", r.measured},
                   {"approach", r.reversed ? "reversed" : "same"}});
  return out;
}

}  // namespace ypsi
