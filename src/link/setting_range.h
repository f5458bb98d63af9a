#pragma once
#include <string_view>

#include "core/result.h"

namespace ypsi::link {

/// What a setting can be.
struct SettingRange {
  double low = 0, high = 0;
  constexpr bool holds(double value) const { return value >= low && value <= high; }
};

/// By the table of docs/link.md, for both ends; the widest that there is for a name that is not in it.
SettingRange setting_range(std::string_view name);
/// Error: `out_of_range`, naming both ends.
Result<void> holds_in_range(std::string_view name, double value);

}  // namespace ypsi::link
