// What a line does once: G4, G10, G28, G30, G53 and G92.
#include <fmt/format.h>

#include <cmath>

#include "core/program/interpreter.h"
#include "core/program/line.h"

namespace ypsi {

Result<void> Interpreter::act_once(ProgramLine& l) {
  const SortedWords& w = l.words;
  const int g = w.once ? code_of(*w.once) : -1;
  const Word* p = w.of('P');
  if (g == 40) {
    if (!p || p->value < 0 || p->value > longest_dwell_s)
      return program_error(l.number, w.once->column, "G4 needs P, the seconds to wait, from 0 to a day.");
    l.act(EventKind::dwell, p->value);
    return {};
  }
  if (g == 530) {
    l.in_machine = l.uses_machine = true;
    return {};
  }
  const bool places = g == 100 || g == 280 || g == 300 || (g >= 920 && g <= 923);
  if (!places) return {};
  if (w.motion)
    return program_error(l.number, w.once->column,
                         fmt::format("G{:g} and G{:g} both want the places of this line; give them lines of their own.",
                                     w.once->value, w.motion->value));
  l.places_taken = true;
  if (g == 100) return set_zero(l);
  if (g == 280 || g == 300) return go_to_reference(l);
  ModalState& next = l.next;
  if (g == 920) {
    if (!w.of('X') && !w.of('Y') && !w.of('Z'))
      return program_error(l.number, w.once->column, "G92 needs X, Y or Z: what the place here is to be called.");
    const WorkPosition own = next.g92_active ? next.g92 : WorkPosition{};
    for (const Axis a : all_axes) {
      next.g92[a] = own[a];
      if (const Word* v = w.of(letter(a))) next.g92[a] += next.at[a] - next.shift[a] - v->value * l.unit;
    }
    next.g92_active = true;
  } else {
    if (g == 921) next.g92 = {};
    next.g92_active = g == 923;
  }
  next.shift = shift_of(next, frames_.zeros[static_cast<std::size_t>(next.frame)]);
  return {};
}

/// G10 L2: a frame's zero in machine coordinates; L20: so that the place here is called as the words say.
Result<void> Interpreter::set_zero(ProgramLine& l) {
  const SortedWords& w = l.words;
  const Word *kind = w.of('L'), *which = w.of('P');
  const double p = which ? which->value : -1;
  if (!kind || (kind->value != 2 && kind->value != 20))
    return program_error(l.number, kind ? kind->column : w.once->column,
                         "G10 is understood with L2 and L20, which set a work zero.", "unknown_word");
  if (p != std::floor(p) || p < 0 || p > static_cast<double>(work_frame_count))
    return program_error(l.number, which ? which->column : w.once->column,
                         "G10 needs P, the work frame: 1 for G54 to 9 for G59.3, 0 for the one in use.");
  const int frame = p == 0 ? l.next.frame : static_cast<int>(p) - 1;
  WorkZero zero = frames_.zeros[static_cast<std::size_t>(frame)];
  for (const Axis a : all_axes)
    if (const Word* v = w.of(letter(a))) {
      const double mm = v->value * l.unit;
      zero[a] = kind->value == 2 ? mm
                                 : l.next.at[a] + base_[a] - mm - (a == Axis::z ? l.next.tool_offset : 0) -
                                       (l.next.g92_active ? l.next.g92[a] : 0);
      if (std::fabs(zero[a]) > farthest_mm) return too_far(*v, l.number);
    }
  l.new_zero = {frame, zero};
  l.uses_machine = true;
  l.act(EventKind::zero_set, frame);
  if (frame == l.next.frame) l.next.shift = shift_of(l.next, zero);
  return {};
}

/// G28 and G30: by rapids over the place that is given, to the reference; only the axes that are given, all where none
/// is.
Result<void> Interpreter::go_to_reference(ProgramLine& l) {
  const SortedWords& w = l.words;
  const MachinePosition& reference = code_of(*w.once) == 280 ? frames_.first_reference : frames_.second_reference;
  WorkPosition over = l.next.at, end = l.next.at;
  bool any = false;
  for (const Axis a : all_axes)
    if (const Word* v = w.of(letter(a))) {
      any = true;
      over[a] = (l.next.incremental ? l.next.at[a] : l.next.shift[a]) + v->value * l.unit;
      if (std::fabs(over[a]) > farthest_mm) return too_far(*v, l.number);
      end[a] = reference[a] - base_[a];
    }
  if (!any)
    for (const Axis a : all_axes) end[a] = reference[a] - base_[a];
  l.uses_machine = true;
  l.act(EventKind::reference, w.once->value);
  if (!(over == l.next.at)) l.add(MotionKind::rapid, over, 0);
  l.add(MotionKind::rapid, end, 0);
  return {};
}

}  // namespace ypsi
