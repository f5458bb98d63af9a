#include "core/program/tip.h"

#include <algorithm>

#include "core/book/tool_change.h"

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

double TipDrop::of_tool(int number) const {
  if (!any_) return 0;
  const auto found = by_tool_.find(number != 0 ? number : first_);
  return found == by_tool_.end() ? 0 : found->second - zero_;
}

}  // namespace ypsi
