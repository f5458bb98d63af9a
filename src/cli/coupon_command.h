#pragma once
#include <string>
#include <string_view>

#include "core/result.h"

namespace ypsi::cli {

struct WrittenCoupon {
  std::string program;   ///< G-code
  std::string features;  ///< JSON: what is to be measured on it
};
/// `ypsilo coupon`: a test cut for the stock and a tool of a book. `kind`: frame, depths, square, circle, lines or
/// heads; `tool`: its number, 0: the one with which Z zero was set, else the first whose diameter is known. Errors:
/// those of read_book() and make_coupon(); `unknown_kind`, `unknown_material`, `no_tool`, `no_stock`.
Result<WrittenCoupon> coupon(std::string_view kind, std::string_view book, int tool, std::string_view material);

}  // namespace ypsi::cli
