#include "link/setting_range.h"

#include <fmt/format.h>

#include <array>

#include "core/geometry.h"

namespace ypsi::link {
namespace {

struct Named {
  std::string_view end;  ///< of the name
  SettingRange range;
};
constexpr double far_off = 1e5, widest = 1e9;
constexpr std::array table{Named{"steps_per_mm", {1e-3, 1e6}},
                           Named{"max_rate_mm_min", {1, 1e6}},
                           Named{"accel_mm_s2", {1, 1e5}},
                           Named{"home_at_max", {0, 1}},
                           Named{"home_turn", {0, axis_count}},
                           Named{"home_seek_mm_min", {60, 20000}},
                           Named{"home_latch_mm_min", {6, 3000}},
                           Named{"pull_off_mm", {0.1, 100}},
                           Named{"second_switch_offset_mm", {-20, 20}},
                           Named{"reversed", {0, 1}},
                           Named{"inverted", {0, 1}},
                           Named{"limits.hard", {0, 1}},
                           Named{"work.frame", {0, static_cast<double>(work_frame_count) - 1}},
                           Named{"_mm", {-far_off, far_off}}};

}  // namespace

SettingRange setting_range(std::string_view name) {
  for (const Named& each : table)
    if (name.ends_with(each.end)) return each.range;
  return {-widest, widest};
}

Result<void> holds_in_range(std::string_view name, double value) {
  const auto range = setting_range(name);
  if (range.holds(value)) return {};
  return fail("out_of_range", fmt::format("“{}” takes from {:g} to {:g}, and {:g} is outside; it was left as it is.",
                                          name, range.low, range.high, value));
}

}  // namespace ypsi::link
