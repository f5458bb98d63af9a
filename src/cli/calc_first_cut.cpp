#include <fmt/format.h>
#include <fmt/ranges.h>

#include "cli/calc.h"
#include "cli/first_cut_json.h"
#include "cli/json_input.h"
#include "core/calibration/first_cut.h"

namespace ypsi::cli {
namespace {

nlohmann::json names(const std::vector<CutQuantity>& quantities) {
  nlohmann::json out = nlohmann::json::array();
  for (const auto q : quantities) out.push_back(name(q));
  return out;
}

}  // namespace

nlohmann::json first_cut_json(const FirstCutResult& result) {
  nlohmann::json out{{"determined", nlohmann::json::array()},
                     {"undetermined", names(result.undetermined)},
                     {"estimates", nlohmann::json::object()},
                     {"k", result.coverage.k},
                     {"dof", result.coverage.dof},
                     {"residuals_mm", result.residuals},
                     {"birge", or_null(result.coverage.birge)},
                     {"scatter_exceeds_claim", result.coverage.scatter_exceeds_claim},
                     {"missing", nlohmann::json::array()}};
  for (const auto& e : result.estimates) {
    out["determined"].push_back(name(e.quantity));
    out["estimates"][name(e.quantity)] = {{"value", e.value}, {"u", e.u}, {"U", e.U}, {"significant", e.significant}};
  }
  for (const auto& m : result.missing) {
    std::vector<std::string> settles;
    for (const auto q : m.settles) settles.emplace_back(name(q));
    const std::string why = settles.empty() ? "it is the first of two that are needed"
                                            : fmt::format("it tells {} from the rest", fmt::join(settles, ", "));
    out["missing"].push_back({{"kind", name(m.kind)},
                              {"axis", std::string(1, letter(m.axis))},
                              {"why", fmt::format("Measure one of another size: {}.", why)}});
  }
  return out;
}

Result<nlohmann::json> calc_first_cut(JsonInput& in) {
  FirstCutInput input;
  input.tool_diameter = in.number("tool_diameter_mm", Range::positive);
  input.instrument = in.instrument("instrument");
  for (JsonInput& f : in.objects("features", 1)) {
    Feature feature;
    feature.kind = static_cast<FeatureKind>(f.choice("kind", {"inside", "outside", "spacing", "depth"}));
    feature.axis = static_cast<Axis>(f.choice("axis", {"X", "Y", "Z"}));
    feature.nominal = f.number("nominal_mm", Range::positive);
    feature.measured =
        f.number("measured_mm", feature.kind == FeatureKind::depth ? Range::not_negative : Range::positive);
    input.features.push_back(feature);
  }
  if (in.has("lost_motion")) {
    JsonInput lost = in.object("lost_motion");
    for (const std::size_t i : {0u, 1u}) {
      const char* key = i == 0 ? "x" : "y";
      if (!lost.has(key)) continue;
      JsonInput axis = lost.object(key);
      const double value = axis.number("value_mm");
      input.lost_motion[i] = Known{value, axis.number("u_mm", Range::positive)};
    }
  }
  if (in.has("periodic_mm")) {
    JsonInput periodic = in.object("periodic_mm");
    for (const Axis a : all_axes) {
      const char key[] = {static_cast<char>(letter(a) - 'A' + 'a'), 0};
      input.periodic[index(a)] = periodic.number_or(key, 0, Range::not_negative);
    }
  }
  const auto result = read_first_cut(input);
  if (!result) return tl::make_unexpected(result.error());
  return first_cut_json(*result);
}

}  // namespace ypsi::cli
