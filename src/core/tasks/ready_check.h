#pragma once
// What is against the program before the start.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* ready_check_id = "ready_check";

/// How many findings, by weight; the readings are those gone on in spite of.
struct ReadyEntry {
  int stops = 0;
  int warns = 0;
};
template <class V>
void describe(V& v, ReadyEntry& f) {
  v.count("stops", f.stops);
  v.count("warns", f.warns);
}

const Task& ready_check_task();

}  // namespace ypsi
