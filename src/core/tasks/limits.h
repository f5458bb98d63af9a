#pragma once
// Travel of each axis, and soft limits that leave room to stop.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* limits_id = "limits";

/// Machine coordinates, mm.
struct LimitsEntry {
  std::optional<double> travel{};
  std::optional<double> soft_min{};
  std::optional<double> soft_max{};
  bool proved = false;
  std::vector<std::string> problems{};  ///< by name, see LimitsProblem
};
template <class V>
void describe(V& v, LimitsEntry& f) {
  v.number("travel_mm", f.travel);
  v.number("soft_min_mm", f.soft_min);
  v.number("soft_max_mm", f.soft_max);
  v.flag("proved", f.proved, Written::where_not_usual);
  v.texts("problems", f.problems, Written::where_not_usual);
}

const Task& limits_task();

}  // namespace ypsi
