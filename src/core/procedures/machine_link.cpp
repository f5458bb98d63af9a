#include "core/procedures/machine_link.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>

namespace ypsi {

const char* axis_key(Axis axis) {
  static constexpr const char* keys[] = {"x", "y", "z"};
  return keys[index(axis)];
}

bool arrived(const MachineLink& link, const MachineStatus& status, Axis axis, double place) {
  constexpr double short_by_mm = 0.05;  // a move that ended further away was ended by somebody
  // It ends on a whole step, which may be a coarse one.
  const double steps = link.setting(axis_setting(axis, "steps_per_mm")).value_or(0);
  const double half_step = steps > 0 ? 0.5 / steps : 0;
  return status.state == MachineState::ready && std::fabs(status.position[axis] - place) <= short_by_mm + half_step;
}

Error ended_because(const MachineStatus& status, std::string_view sentence) {
  if (status.refusal) return *status.refusal;
  return {"stopped", status.message.empty() ? std::string(sentence) : status.message, ""};
}

Result<void> MachineLink::set_work_zero(Axis axis, double machine_coordinate) {
  return set_setting(work_zero_setting(0, axis), machine_coordinate);
}

std::string work_zero_setting(int frame, Axis axis) {
  return fmt::format("work.g{}.{}_mm", frame_name(frame).substr(1), axis_key(axis));
}

std::optional<std::pair<int, Axis>> work_zero_of_setting(std::string_view name) {
  if (!name.starts_with("work.g")) return std::nullopt;
  for (int frame = 0; frame < static_cast<int>(work_frame_count); ++frame)
    for (const Axis axis : all_axes)
      if (name == work_zero_setting(frame, axis)) return std::pair{frame, axis};
  return std::nullopt;
}

std::optional<int> tool_of_setting(std::string_view name) {
  constexpr std::string_view begin = "tool.", end = ".offset_mm";
  constexpr int last_tool = 65535;
  if (!name.starts_with(begin) || !name.ends_with(end) || name.size() <= begin.size() + end.size()) return std::nullopt;
  name = name.substr(begin.size(), name.size() - begin.size() - end.size());
  int tool = 0;
  const auto [rest, error] = std::from_chars(name.data(), name.data() + name.size(), tool);
  if (error != std::errc() || rest != name.data() + name.size() || tool < 0 || tool > last_tool) return std::nullopt;
  return tool;
}

std::string axis_setting(Axis axis, std::string_view what) {
  return fmt::format("axis.{}.{}", axis_key(axis), what);
}

}  // namespace ypsi
