#include "standin/settings.h"

#include <fmt/format.h>

#include <cmath>

#include "core/procedures/machine_link.h"
#include "link/setting_range.h"

namespace ypsi::standin {
namespace {

struct AxisEntry {
  const char* what;
  double AxisBelief::*number;
  bool AxisBelief::*flag;
};

constexpr AxisEntry axis_entries[] = {
    {"steps_per_mm", &AxisBelief::steps_per_mm, nullptr},
    {"max_rate_mm_min", &AxisBelief::max_rate, nullptr},
    {"accel_mm_s2", &AxisBelief::accel, nullptr},
    {"soft_min_mm", &AxisBelief::soft_min, nullptr},
    {"soft_max_mm", &AxisBelief::soft_max, nullptr},
    {"home_coordinate_mm", &AxisBelief::home_coordinate, nullptr},
    {"home_turn", &AxisBelief::home_turn, nullptr},
    {"home_at_max", nullptr, &AxisBelief::home_at_max},
    {"home_seek_mm_min", &AxisBelief::home_seek, nullptr},
    {"home_latch_mm_min", &AxisBelief::home_latch, nullptr},
    {"pull_off_mm", &AxisBelief::pull_off, nullptr},
    {"second_switch_offset_mm", &AxisBelief::second_switch_offset, nullptr},
    {"reversed", nullptr, &AxisBelief::reversed},
    {"switch_inverted", nullptr, &AxisBelief::switch_inverted},
};

std::optional<Axis> axis_of(char key) {
  for (const Axis a : all_axes)
    if (key == *axis_key(a)) return a;
  return std::nullopt;
}

const AxisEntry* entry_of(std::string_view what) {
  for (const auto& e : axis_entries)
    if (what == e.what) return &e;
  return nullptr;
}

/// A name taken apart: which kind, whose, and what of it.
struct Name {
  enum class Kind { axis, work, tool, frame, hard_limits, probe_inverted } kind{};
  Axis axis = Axis::x;
  std::size_t frame = 0;
  int tool = 0;
  const AxisEntry* entry = nullptr;
};

std::optional<Name> parse(std::string_view name) {
  if (name == "limits.hard") return Name{Name::Kind::hard_limits};
  if (name == "probe.inverted") return Name{Name::Kind::probe_inverted};
  if (name.starts_with("axis.") && name.size() > 7 && name[6] == '.') {
    const auto axis = axis_of(name[5]);
    const auto* entry = entry_of(name.substr(7));
    if (axis && entry) return Name{Name::Kind::axis, *axis, 0, 0, entry};
  }
  if (name == "work.frame") return Name{Name::Kind::frame};
  if (const auto zero = work_zero_of_setting(name))
    return Name{Name::Kind::work, zero->second, static_cast<std::size_t>(zero->first)};
  if (const auto tool = tool_of_setting(name)) return Name{Name::Kind::tool, Axis::z, 0, *tool};
  return std::nullopt;
}

tl::unexpected<Error> unknown_setting(std::string_view name) {
  return fail("unknown_setting", fmt::format("The controller has no setting “{}”.", name));
}

}  // namespace

std::optional<Axis> Settings::whose_place_is_lost(std::string_view name) {
  const auto n = parse(name);
  if (!n || n->kind != Name::Kind::axis) return std::nullopt;
  for (const std::string_view what : {"steps_per_mm", "reversed", "home_at_max", "home_coordinate_mm"})
    if (n->entry->what == what) return n->axis;
  return std::nullopt;
}

Result<double> Settings::get(std::string_view name) const {
  const auto n = parse(name);
  if (!n) return unknown_setting(name);
  const AxisBelief& axis = axes[index(n->axis)];
  switch (n->kind) {
    case Name::Kind::hard_limits:
      return hard_limits ? 1 : 0;
    case Name::Kind::probe_inverted:
      return probe_inverted ? 1 : 0;
    case Name::Kind::axis:
      return n->entry->number ? axis.*n->entry->number : axis.*n->entry->flag ? 1 : 0;
    case Name::Kind::work:
      return frames.zeros[n->frame][n->axis];
    case Name::Kind::frame:
      return frame;
    case Name::Kind::tool:
      break;
  }
  const auto found = frames.tool_offsets.find(n->tool);
  return found == frames.tool_offsets.end() ? 0 : found->second;
}

Result<void> Settings::set(std::string_view name, double value) {
  const auto n = parse(name);
  if (!n) return unknown_setting(name);
  if (auto ok = link::holds_in_range(name, value); !ok) return ok;
  AxisBelief& axis = axes[index(n->axis)];
  switch (n->kind) {
    case Name::Kind::hard_limits:
      hard_limits = value != 0;
      break;
    case Name::Kind::probe_inverted:
      probe_inverted = value != 0;
      break;
    case Name::Kind::axis:
      if (n->entry->number)
        axis.*n->entry->number = value;
      else
        axis.*n->entry->flag = value != 0;
      break;
    case Name::Kind::work:
      frames.zeros[n->frame][n->axis] = value;
      break;
    case Name::Kind::frame:
      frame = static_cast<int>(std::lround(value));
      break;
    case Name::Kind::tool:
      frames.tool_offsets[n->tool] = value;
      break;
  }
  return {};
}

std::vector<std::string> Settings::names() const {
  std::vector<std::string> all{"limits.hard", "probe.inverted", "work.frame"};
  for (const Axis a : all_axes)
    for (const auto& e : axis_entries) all.push_back(axis_setting(a, e.what));
  for (int f = 0; f < static_cast<int>(work_frame_count); ++f)
    for (const Axis a : all_axes) all.push_back(work_zero_setting(f, a));
  for (const auto& [tool, offset] : frames.tool_offsets) all.push_back(fmt::format("tool.{}.offset_mm", tool));
  return all;
}

}  // namespace ypsi::standin
