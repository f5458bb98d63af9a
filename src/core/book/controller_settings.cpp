#include "core/book/controller_settings.h"

#include <algorithm>
#include <cmath>

#include "core/book/changes.h"

namespace ypsi {
namespace {

constexpr double text_rounding = 1e-9;  // relative; a line carries doubles as text that reads back exactly

bool differ(double a, double b) {
  return std::fabs(a - b) > text_rounding * std::max({1.0, std::fabs(a), std::fabs(b)});
}

}  // namespace

std::vector<BookSetting> controller_settings(const MachineSetup& machine) {
  std::vector<BookSetting> all;
  for (const Axis a : all_axes) {
    const AxisSetup& axis = machine.axis(a);
    const auto add = [&](const char* what, SettingKind kind, double value) {
      all.push_back({axis_setting(a, what), a, kind, value});
    };
    add("steps_per_mm", SettingKind::steps, axis.steps_per_mm);
    add("max_rate_mm_min", SettingKind::rate, axis.max_rate);
    add("accel_mm_s2", SettingKind::acceleration, axis.acceleration);
    add("home_at_max", SettingKind::flag, axis.home_at_max ? 1 : 0);
    if (axis.home_turn > 0) add("home_turn", SettingKind::turn, axis.home_turn);
    add("home_coordinate_mm", SettingKind::place, axis.home_coordinate);
    if (axis.soft_min) add("soft_min_mm", SettingKind::place, *axis.soft_min);
    if (axis.soft_max) add("soft_max_mm", SettingKind::place, *axis.soft_max);
    if (a == Axis::y && machine.second_switch_offset)
      add("second_switch_offset_mm", SettingKind::place, *machine.second_switch_offset);
  }
  return all;
}

std::map<std::string, double> read_back(const MachineLink& link, const std::vector<BookSetting>& settings) {
  std::map<std::string, double> values;
  for (const auto& s : settings)
    if (const auto there = link.setting(s.name)) values[s.name] = *there;
  return values;
}

std::vector<SettingDifference> differences(const std::vector<BookSetting>& in_book,
                                           const std::map<std::string, double>& in_controller) {
  std::vector<SettingDifference> found;
  for (const auto& s : in_book)
    if (const auto there = in_controller.find(s.name); there != in_controller.end() && differ(there->second, s.value))
      found.push_back({s, there->second});
  return found;
}

bool take_from_controller(Book& book, const std::string& name, double value) {
  if (!std::isfinite(value)) return false;
  for (const Axis a : all_axes) {
    AxisSetup& axis = book.machine.axis(a);
    if (a == Axis::y && name == axis_setting(a, "second_switch_offset_mm"))
      return book.machine.second_switch_offset = value, true;
    if (name == axis_setting(a, "steps_per_mm")) return change_steps_per_mm(book, a, value);
    if (name == axis_setting(a, "max_rate_mm_min")) return value > 0 && (axis.max_rate = value, true);
    if (name == axis_setting(a, "accel_mm_s2")) return value > 0 && (axis.acceleration = value, true);
    if (name == axis_setting(a, "home_at_max")) return axis.home_at_max = value != 0, true;
    if (name == axis_setting(a, "home_turn"))
      return value >= 0 && value <= axis_count && (axis.home_turn = static_cast<int>(std::lround(value)), true);
    if (name == axis_setting(a, "home_coordinate_mm")) return axis.home_coordinate = value, true;
    if (name == axis_setting(a, "soft_min_mm")) return axis.soft_min = value, true;
    if (name == axis_setting(a, "soft_max_mm")) return axis.soft_max = value, true;
  }
  return false;
}

}  // namespace ypsi
