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
  MachinePosition home;
  for (const Axis a : all_axes) {
    const AxisSetup& axis = book.machine.axis(a);
    home[a] = std::clamp(axis.home_coordinate, axis.soft_min.value_or(-1e6).mm,
                         std::max(axis.soft_min.value_or(-1e6).mm, axis.soft_max.value_or(1e6).mm));
  }
  setting.frames.first_reference = reference_place(book, 28).value_or(home);
  setting.frames.second_reference = reference_place(book, 30).value_or(home);
  setting.frames.own_blocks = own_blocks(book.machine.heads);
  for (const Tool& t : book.tools)
    if (const auto length = length_against_reference(book, t.number)) setting.frames.tool_offsets[t.number] = *length;
  return setting;
}

std::optional<MachinePosition> reference_place(const Book& book, int word) {
  const std::string wanted = "g" + std::to_string(word);
  for (const Place& p : book.places) {
    std::string name;
    for (const char c : p.name)
      if (c != ' ') name += c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    if (name == wanted) return p.at;
  }
  return std::nullopt;
}

bool depends_on_setting(const Program& program) {
  return program.uses_machine_frame || std::any_of(program.events.begin(), program.events.end(), [](const Event& e) {
           return e.kind == EventKind::work_frame || e.kind == EventKind::tool_offset;
         });
}

}  // namespace ypsi
