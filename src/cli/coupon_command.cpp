#include "cli/coupon_command.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/book/book_json.h"
#include "core/program/coupon.h"
#include "core/tasks/coupon_choice.h"

namespace ypsi::cli {
namespace {

nlohmann::json place(const WorkPosition& p) {
  return {p.x, p.y, p.z};
}

}  // namespace

Result<WrittenCoupon> coupon(std::string_view kind, std::string_view book_text, int tool_number,
                             std::string_view material) {
  std::optional<CouponKind> wanted;
  for (int i = 0; i < coupon_kind_count; ++i)
    if (const auto k = static_cast<CouponKind>(i); kind == name(k)) wanted = k;
  if (!wanted)
    return fail("unknown_kind",
                fmt::format("There is no test cut “{}”; take frame, depths, square, circle or lines.", kind), "KIND");
  std::optional<CutMaterial> cut_in;
  for (int i = 0; i < cut_material_count; ++i)
    if (const auto m = static_cast<CutMaterial>(i); material == name(m)) cut_in = m;
  if (!cut_in)
    return fail("unknown_material",
                fmt::format("There are no figures for “{}”; take wood, plastic, foam, aluminium or brass.", material),
                "--material");
  const auto read = read_book(book_text);
  if (!read) return tl::make_unexpected(read.error());
  const auto setting = coupon_setting(read->book, tool_number, *cut_in);
  if (!setting) return tl::make_unexpected(setting.error());
  const auto made = make_coupon(*wanted, *setting);
  if (!made) return tl::make_unexpected(made.error());
  nlohmann::json features = nlohmann::json::array();
  for (const CouponFeature& f : made->features) {
    nlohmann::json one{{"name", f.name},
                       {"kind", name(f.kind)},
                       {"axis", std::string(1, letter(f.axis))},
                       {"nominal_mm", f.nominal},
                       {"work_mm", place(f.at)}};
    if (f.kind == FeatureKind::spacing || f.kind == FeatureKind::diagonal) one["other_work_mm"] = place(f.other);
    features.push_back(std::move(one));
  }
  const nlohmann::json out{
      {"tool", setting->tool}, {"tool_diameter_mm", setting->tool_diameter}, {"features", features}};
  return WrittenCoupon{made->text, out.dump(1, ' ', false, nlohmann::json::error_handler_t::replace)};
}

}  // namespace ypsi::cli
