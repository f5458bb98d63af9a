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
    return fail(
        "unknown_kind",
        fmt::format("There is no test cut “{}”; take frame, depths, square, circle, lines, heads or plate.", kind),
        "KIND");
  std::optional<CutMaterial> cut_in;
  for (int i = 0; i < cut_material_count; ++i)
    if (const auto m = static_cast<CutMaterial>(i); material == name(m)) cut_in = m;
  if (!cut_in)
    return fail("unknown_material",
                fmt::format("There are no figures for “{}”; take wood, plastic, foam, aluminium or brass.", material),
                "--material");
  const auto read = read_book(book_text);
  if (!read) return tl::make_unexpected(read.error());
  const auto cut = make_test_cut(read->book, *wanted, {}, tool_number, *cut_in);
  if (!cut) return tl::make_unexpected(cut.error());
  const Coupon* made = &cut->coupon;
  nlohmann::json features = nlohmann::json::array();
  for (const CouponFeature& f : made->features) {
    nlohmann::json one{{"name", f.name},
                       {"kind", name(f.kind)},
                       {"axis", std::string(1, letter(f.axis))},
                       {"nominal_mm", f.nominal},
                       {"work_mm", place(f.at)}};
    if (has_other(f.kind)) one["other_work_mm"] = place(f.other);
    if (!f.head.empty()) one["head"] = f.head;
    features.push_back(std::move(one));
  }
  const nlohmann::json out{
      {"tool", cut->worksheet.tool}, {"tool_diameter_mm", cut->worksheet.tool_diameter_mm}, {"features", features}};
  return WrittenCoupon{made->text, out.dump(1, ' ', false, nlohmann::json::error_handler_t::replace)};
}

}  // namespace ypsi::cli
