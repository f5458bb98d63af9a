#include "core/program/read_setting.h"

#include <algorithm>

#include "core/book/tool_change.h"

namespace ypsi {

ReadSetting read_setting(const Book& book) {
  ReadSetting setting;
  setting.frame = book.job.frame;
  WorkZero base;
  for (const Axis a : all_axes) base[a] = book.job.zero(a).value_or(0);
  setting.base = base;
  for (std::size_t f = 0; f < work_frame_count; ++f)
    for (const Axis a : all_axes) setting.frames.zeros[f][a] = book.job.frames[f].zero(a).value_or(base[a]);
  for (const Tool& t : book.tools)
    if (const auto length = length_against_reference(book, t.number)) setting.frames.tool_offsets[t.number] = *length;
  return setting;
}

bool depends_on_setting(const Program& program) {
  return program.uses_machine_frame || std::any_of(program.events.begin(), program.events.end(), [](const Event& e) {
           return e.kind == EventKind::work_frame || e.kind == EventKind::tool_offset;
         });
}

}  // namespace ypsi
