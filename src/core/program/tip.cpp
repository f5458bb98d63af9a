#include "core/program/tip.h"

#include <algorithm>
#include <limits>

#include "core/book/tool_change.h"
#include "core/program/arc.h"

namespace ypsi {

bool brings_lengths(const Program& program) {
  return std::any_of(program.events.begin(), program.events.end(),
                     [](const Event& e) { return e.kind == EventKind::tool_offset && e.value != 0; });
}

TipDrop::TipDrop(const Program& program, const Book& book, int tool) : any_(brings_lengths(program)), first_(tool) {
  if (!any_) return;
  zero_ = length_against_reference(book, book.job.used().z_tool).value_or(0);
  for (const Tool& t : book.tools)
    if (const auto length = length_against_reference(book, t.number)) by_tool_[t.number] = *length;
}

double deepest_tip(const Program& program, const TipDrop& drop) {
  if (!drop.any()) return program.cut.low.z;
  double deepest = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < program.motions.size(); ++i) {
    const Motion& m = program.motions[i];
    if (!is_cut(m)) continue;
    Extents reach;
    const WorkPosition from = program.begin_of(i);
    reach.include(from.x, from.y, std::min(from.z, m.end.z));
    if (is_arc(m) && program.arc_of(m).plane != Plane::xy) include_arc(reach, arc_way(from, m, program.arc_of(m)));
    deepest = std::min(deepest, reach.low.z - drop.of(program, i));
  }
  return deepest;
}

double TipDrop::of_tool(int number) const {
  if (!any_) return 0;
  const auto found = by_tool_.find(number != 0 ? number : first_);
  return found == by_tool_.end() ? 0 : found->second - zero_;
}

}  // namespace ypsi
