#include "core/book/worksheets.h"

namespace nlohmann {

template <class T>
struct adl_serializer<std::optional<T>> {
  static void to_json(json& out, const std::optional<T>& value) {
    if (value)
      out = *value;
    else
      out = nullptr;
  }
  static void from_json(const json& in, std::optional<T>& value) {
    value = in.is_null() ? std::nullopt : std::optional<T>(in.get<T>());
  }
};

}  // namespace nlohmann

namespace ypsi {

NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(SweepPoint, angle_deg, reading_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(EdgePoint, position_mm, reading_mm)
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(MapPoint, x_mm, y_mm, z_mm)

namespace fields {
NLOHMANN_DEFINE_TYPE_NON_INTRUSIVE_WITH_DEFAULT(LimitsWorksheet, far_end_mm, overtravel_mm, clearance_home_mm,
                                                clearance_far_mm)
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
