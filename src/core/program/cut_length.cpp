#include "core/program/cut_length.h"

#include <cmath>

#include "core/program/arc.h"

namespace ypsi {

std::map<int, double> cut_metres(const Program& program, std::uint32_t first, std::uint32_t last, int tool) {
  constexpr double mm_per_metre = 1000;
  std::map<int, double> metres;
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const Motion& m = program.motions[i];
    if (!is_cut(m) || m.line < first || m.line > last) continue;
    const WorkPosition from = program.begin_of(i);
    const double way = is_arc(m) ? arc_way(from, m, program.arc_of(m)).length()
                                 : std::hypot(m.end.x - from.x, m.end.y - from.y, m.end.z - from.z);
    metres[program.tool_of(i, tool)] += way / mm_per_metre;
  }
  return metres;
}

}  // namespace ypsi
