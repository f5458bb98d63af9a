#include "link/known_machine.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/procedures/machine_link.h"

namespace ypsi::link {
namespace {
constexpr double grace_mm = 1e-3;  // of what is written with three digits
constexpr double usual_rate_mm_min = 1000, usual_accel_mm_s2 = 100;
}  // namespace

double known_value(const KnownSettings& settings, std::string_view name) {
  const auto found = settings.find(std::string(name));
  return found == settings.end() ? 0 : found->second;
}

Frames frames_of(const KnownSettings& settings, std::vector<OwnBlock> own_blocks) {
  Frames frames;
  for (int frame = 0; frame < static_cast<int>(work_frame_count); ++frame)
    for (const Axis axis : all_axes)
      frames.zeros[static_cast<std::size_t>(frame)][axis] = known_value(settings, work_zero_setting(frame, axis));
  for (const auto& [name, value] : settings)
    if (const auto tool = tool_of_setting(name)) frames.tool_offsets[*tool] = value;
  frames.own_blocks = std::move(own_blocks);
  return frames;
}

Kinematics kinematics_of(const KnownSettings& settings) {
  Kinematics k;
  for (const Axis a : all_axes) {
    const double rate = known_value(settings, axis_setting(a, "max_rate_mm_min")),
                 accel = known_value(settings, axis_setting(a, "accel_mm_s2"));
    k[index(a)] = {(rate > 0 ? rate : usual_rate_mm_min) / 60, accel > 0 ? accel : usual_accel_mm_s2};
  }
  return k;
}

double beyond_limits(const KnownSettings& settings, Axis axis, double place) {
  return std::max(known_value(settings, axis_setting(axis, "soft_min_mm")) - place,
                  place - known_value(settings, axis_setting(axis, "soft_max_mm")));
}

Result<void> may_jog(const KnownSettings& settings, Axis axis, bool homed, double from, double distance,
                     double most_beyond) {
  const double to = from + distance;
  if (homed && beyond_limits(settings, axis, to) > most_beyond)
    return fail("limit",
                fmt::format("{} would reach {:.2f}, and the soft limit is {:.2f}. Nothing moved.", letter(axis), to,
                            known_value(settings, axis_setting(axis, distance < 0 ? "soft_min_mm" : "soft_max_mm"))));
  if (!homed && std::fabs(distance) > unhomed_distance_mm)
    return fail("not_homed", fmt::format("Before homing a move is {:g} mm at most, since the machine does not know "
                                         "where its ends are. Home it first.",
                                         unhomed_distance_mm));
  return {};
}

Result<void> stays_inside(const KnownSettings& settings, const Program& moves, const WorkZero& base,
                          std::uint32_t line) {
  if (moves.motions.empty()) return {};
  for (const Axis axis : all_axes) {
    const double low = moves.centre.low[axis] + base[axis], high = moves.centre.high[axis] + base[axis],
                 least = known_value(settings, axis_setting(axis, "soft_min_mm")),
                 most = known_value(settings, axis_setting(axis, "soft_max_mm"));
    if (low >= least - grace_mm && high <= most + grace_mm) continue;
    return fail("limit", fmt::format("Line {}: {} would reach {:.2f} of the machine, and the soft limit is {:.2f}.",
                                     line, letter(axis), low < least ? low : high, low < least ? least : most));
  }
  return {};
}

std::optional<Axis> forgets_place_of(std::string_view name) {
  for (const Axis axis : all_axes)
    for (const char* what : {"steps_per_mm", "reversed", "home_at_max", "home_coordinate_mm"})
      if (name == axis_setting(axis, what)) return axis;
  return std::nullopt;
}

}  // namespace ypsi::link
