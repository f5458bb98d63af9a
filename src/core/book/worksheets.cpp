#include "core/book/worksheets.h"

#include "core/book/optional_json.h"

namespace ypsi {

// An unknown word is refused, not taken for the first of them.
NLOHMANN_JSON_SERIALIZE_ENUM(Axis, {{Axis::x, "X"}, {Axis::y, "Y"}, {Axis::z, "Z"}})
NLOHMANN_JSON_SERIALIZE_ENUM(FeatureKind, {{FeatureKind::inside, "inside"},
                                           {FeatureKind::outside, "outside"},
                                           {FeatureKind::spacing, "spacing"},
                                           {FeatureKind::depth, "depth"},
                                           {FeatureKind::diagonal, "diagonal"}})
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(CutSize, name, kind, axis, nominal_mm, measured_mm, at_mm, other_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(SweepPoint, angle_deg, reading_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(EdgePoint, position_mm, reading_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(MapPoint, x_mm, y_mm, z_mm)

namespace fields {
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(LimitsWorksheet, far_end_mm, overtravel_mm, clearance_home_mm,
                                                clearance_far_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(CutWorksheet, coupon, instrument, tool, tool_diameter_mm,
                                                stock_width_mm, stock_height_mm, sizes)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(HomingWorksheet, trials, tolerance_mm, instrument, readings_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(ReversalWorksheet, length_mm, instrument, first_mm, turned_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(BedWorksheet, sweep_radius_mm, bolt_spacing_x_mm, bolt_spacing_y_mm,
                                                sweep, edge_along_y, edge, map_columns, map_rows, map, cutter_mm,
                                                stepover_mm, depth_mm, layer_mm, feed_mm_min, rpm, area_x_mm, area_y_mm,
                                                area_width_mm, area_height_mm, along_y, one_way)
}  // namespace fields

void to_json(nlohmann::json& out, const LimitsWorksheet& sheet) {
  fields::to_json(out, sheet);
}
void from_json(const nlohmann::json& in, LimitsWorksheet& sheet) {
  fields::from_json(in, sheet);
}
void to_json(nlohmann::json& out, const CutWorksheet& sheet) {
  fields::to_json(out, sheet);
}
void from_json(const nlohmann::json& in, CutWorksheet& sheet) {
  fields::from_json(in, sheet);
}
void to_json(nlohmann::json& out, const HomingWorksheet& sheet) {
  fields::to_json(out, sheet);
}
void from_json(const nlohmann::json& in, HomingWorksheet& sheet) {
  fields::from_json(in, sheet);
}
void to_json(nlohmann::json& out, const ReversalWorksheet& sheet) {
  fields::to_json(out, sheet);
}
void from_json(const nlohmann::json& in, ReversalWorksheet& sheet) {
  fields::from_json(in, sheet);
}
void to_json(nlohmann::json& out, const BedWorksheet& sheet) {
  fields::to_json(out, sheet);
}
void from_json(const nlohmann::json& in, BedWorksheet& sheet) {
  fields::from_json(in, sheet);
}

}  // namespace ypsi
