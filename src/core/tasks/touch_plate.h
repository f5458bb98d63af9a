#pragma once
// The touch plate: its thickness and its walls.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* touch_plate_id = "touch_plate";

/// mm; U where it was measured.
struct PlateEntry {
  std::optional<double> thickness{};
  std::optional<double> wall_x{};
  std::optional<double> wall_y{};
  std::optional<double> U_thickness{};
};
template <class V>
void describe(V& v, PlateEntry& f) {
  v.number("thickness_mm", f.thickness);
  v.number("wall_x_mm", f.wall_x);
  v.number("wall_y_mm", f.wall_y);
  v.number("U_thickness_mm", f.U_thickness);
}

const Task& touch_plate_task();

}  // namespace ypsi
