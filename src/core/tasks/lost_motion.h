#pragma once
// What an axis loses when it turns round.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* lost_motion_id = "lost_motion";

/// Lost motion of one axis, mm; a positioning test keeps its own figures beside it.
struct LostMotionEntry {
  std::optional<double> lost_motion;
  std::optional<double> U;
  std::optional<double> k;
};
template <class V>
void describe(V& v, LostMotionEntry& f) {
  v.number("lost_motion_mm", f.lost_motion);
  v.number("U_lost_motion_mm", f.U);
  v.number("k", f.k);
}

const Task& lost_motion_task();

}  // namespace ypsi
