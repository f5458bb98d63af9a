#include "core/book/rack.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ypsi {

Point2 slot_place(const ToolRack& rack, int n) {
  const double part = rack.slot_count > 1 ? static_cast<double>(n - 1) / (rack.slot_count - 1) : 0;
  return {rack.first_x_mm + part * (rack.last_x_mm - rack.first_x_mm),
          rack.first_y_mm + part * (rack.last_y_mm - rack.first_y_mm)};
}

double slot_pitch(const ToolRack& rack) {
  if (rack.slot_count < 2) return 0;
  return std::hypot(rack.last_x_mm - rack.first_x_mm, rack.last_y_mm - rack.first_y_mm) / (rack.slot_count - 1);
}

std::optional<double> nose_at_bed(const Book& book) {
  const FrameZero& zero = book.job.used();
  const Tool* tool = book.tool(zero.z_tool);
  if (!zero.z_mm || !tool || !(tool->length_out > 0) || !(zero.on_bed || book.job.stock_size[2] > 0))
    return std::nullopt;
  return *zero.z_mm + book.job.bed_z() - tool->length_out - book.machine.spindle.nut_length;
}

std::vector<RackFinding> check_rack(const ToolRack& rack, const std::vector<Tool>& tools, const Spindle& spindle,
                                    const MachinePosition& low, const MachinePosition& high,
                                    std::optional<double> bed_z) {
  std::vector<RackFinding> found;
  if (rack.slot_count < 1) return found;
  if (!(rack.clear_z_mm > rack.grip_z_mm))
    found.push_back({RackProblem::heights, 0, 0, rack.grip_z_mm - rack.clear_z_mm});
  for (const double z : {rack.grip_z_mm, rack.clear_z_mm})
    if (z < low.z || z > high.z) found.push_back({RackProblem::outside, 0, 0, std::max(low.z - z, z - high.z)});
  for (int n = 1; n <= rack.slot_count; ++n) {
    const Point2 at = slot_place(rack, n);
    const double by = std::max({low.x - at.x, at.x - high.x, low.y - at.y, at.y - high.y});
    if (by > 0) found.push_back({RackProblem::outside, n, 0, by});
  }
  std::map<int, const Tool*> in_slot;
  for (const Tool& t : tools) {
    if (t.slot == 0) continue;
    if (t.slot < 0 || t.slot > rack.slot_count)
      found.push_back({RackProblem::no_such_slot, t.slot, t.number, 0});
    else if (!in_slot.emplace(t.slot, &t).second)
      found.push_back({RackProblem::slot_twice, t.slot, t.number, 0});
    // Over the rack with it: the tip must clear the rack's top.
    if (bed_z && t.length_out > 0)
      if (const double gap = rack.clear_z_mm - spindle.nut_length - t.length_out - (*bed_z + rack.height_mm); gap < 0)
        found.push_back({RackProblem::hangs_too_low, t.slot, t.number, -gap});
  }
  const double pitch = slot_pitch(rack), widest = std::max(spindle.nut_diameter, spindle.boot_diameter);
  for (const auto& [n, tool] : in_slot) {
    const auto beside = in_slot.find(n + 1);
    if (beside == in_slot.end() || pitch == 0) continue;
    const double wide = tool->diameter / 2 + beside->second->diameter / 2;
    if (pitch < wide) found.push_back({RackProblem::tool_too_wide, n, tool->number, wide - pitch});
    const double nut = widest / 2 + std::max(tool->diameter, beside->second->diameter) / 2;
    if (widest > 0 && pitch < nut) found.push_back({RackProblem::pitch, n, tool->number, nut - pitch});
  }
  return found;
}

}  // namespace ypsi
