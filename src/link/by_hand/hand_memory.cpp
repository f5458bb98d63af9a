#include "link/by_hand/hand_memory.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/book/controller_settings.h"
#include "core/procedures/machine_link.h"
#include "link/setting_range.h"

namespace ypsi::link {
namespace {

constexpr const char* format_name = "ypsilograph-by-hand";

double finite(const nlohmann::json& value) {
  const double number = value.get<double>();
  if (!std::isfinite(number)) throw nlohmann::json::other_error::create(501, "not finite", nullptr);
  return number;
}

}  // namespace

std::string HandMemory::to_text() const {
  nlohmann::json out{
      {"format", format_name}, {"version", 1}, {"settings", settings},     {"looked_up", looked_up},
      {"homed", homed},        {"tool", tool}, {"broken_off", broken_off}, {"owed", nlohmann::json::array()}};
  out["position_mm"] = {position.x, position.y, position.z};
  for (const SettingChange& each : owed)
    out["owed"].push_back({{"name", each.name}, {"before", each.before}, {"value", each.value}});
  return out.dump(1) + "\n";
}

Result<HandMemory> HandMemory::from_text(std::string_view text) {
  const auto in = nlohmann::json::parse(text, nullptr, false);
  HandMemory memory;
  try {
    if (in.at("format") != format_name || in.at("version") != 1) return fail("damaged", "It is another kind of file.");
    for (const auto& [name, value] : in.at("settings").items())
      if (holds_in_range(name, finite(value))) memory.settings[name] = finite(value);
    for (const auto& each : in.at("owed"))
      memory.owed.push_back({each.at("name"), finite(each.at("before")), finite(each.at("value"))});
    memory.looked_up = in.at("looked_up");
    memory.homed = in.at("homed");
    memory.tool = in.at("tool");
    memory.broken_off = in.at("broken_off");
    for (const Axis axis : all_axes) memory.position[axis] = finite(in.at("position_mm").at(index(axis)));
  } catch (const nlohmann::json::exception&) {
    return fail("damaged",
                "What was known of the machine that is worked by hand cannot be read any more. What is in the book is "
                "taken; look up what the machine has.");
  }
  return memory;
}

HandMemory first_memory(const Book& book) {
  HandMemory memory;
  for (const BookSetting& each : controller_settings(book.machine)) memory.settings[each.name] = each.value;
  for (const Axis axis : all_axes) {
    const AxisSetup& setup = book.machine.axis(axis);
    const double far = setup.home_coordinate + (setup.home_at_max ? -1.0 : 1.0) * setup.travel;
    memory.settings.try_emplace(axis_setting(axis, "soft_min_mm"), std::min(setup.home_coordinate, far));
    memory.settings.try_emplace(axis_setting(axis, "soft_max_mm"), std::max(setup.home_coordinate, far));
    memory.settings.emplace(axis_setting(axis, "reversed"), 0);
    if (!setup.zero_by_hand) memory.settings.emplace(axis_setting(axis, "switch_inverted"), 0);
    for (int frame = 0; frame < static_cast<int>(work_frame_count); ++frame)
      memory.settings.emplace(work_zero_setting(frame, axis),
                              book.job.frames[static_cast<std::size_t>(frame)].zero(axis).value_or(Coordinate(0)));
  }
  memory.settings.emplace("work.frame", book.job.frame);
  memory.settings.emplace("limits.hard", 1);
  if (!book.machine.no_probe) memory.settings.emplace("probe.inverted", 0);
  return memory;
}

}  // namespace ypsi::link
