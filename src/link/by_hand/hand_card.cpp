#include "link/by_hand/hand_card.h"

#include <fmt/format.h>

#include "core/procedures/machine_link.h"

namespace ypsi::link {

std::string block_of_move(Axis axis, double from, double to, double rate, bool homed) {
  if (homed) return fmt::format("G21 G90 G53 G1 {}{:.3f} F{:g}", letter(axis), to, rate);
  return fmt::format("G21 G91 G1 {}{:.3f} F{:g}\nG90", letter(axis), to - from, rate);
}

std::string block_of_settings(const std::vector<SettingChange>& settings) {
  std::map<int, std::string> zeros;
  std::string others;
  for (const SettingChange& each : settings) {
    if (const auto zero = work_zero_of_setting(each.name)) {
      zeros[zero->first] += fmt::format(" {}{:.4f}", letter(zero->second), each.value);
    } else if (each.name == "work.frame") {
      others += frame_name(static_cast<int>(each.value)) + "\n";
    } else if (const auto tool = tool_of_setting(each.name)) {
      others += fmt::format("G21 G10 L1 P{} Z{:.4f}\n", *tool, each.value);
    } else {
      return {};
    }
  }
  std::string blocks;
  for (const auto& [frame, words] : zeros) blocks += fmt::format("G21 G10 L2 P{}{}\n", frame + 1, words);
  blocks += others;
  if (!blocks.empty()) blocks.pop_back();
  return blocks;
}

}  // namespace ypsi::link
