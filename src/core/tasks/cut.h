#pragma once
// The cut: run, held, ended, resumed.
#include "core/tasks/finding.h"
#include "core/tasks/task.h"

namespace ypsi {

inline constexpr const char* cut_id = "cut";

/// Subject: the program's name. `ended`: finished, abandoned or failed.
struct CutEntry {
  std::string ended{};
  int line = 0;
  int lines = 0;
  bool failed = false;
};
template <class V>
void describe(V& v, CutEntry& f) {
  v.text("ended", f.ended, Written::where_not_usual);
  v.count("line", f.line);
  v.count("lines", f.lines);
  v.flag("failed", f.failed, Written::where_not_usual);
}

const Task& cut_task();

}  // namespace ypsi
