// Canned cycles written out as the moves they are. Source: NIST RS274/NGC version 3 (NISTIR 6556), 3.5.16.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/program/line.h"

namespace ypsi {
namespace {
constexpr double chip_break_mm = 0.25;  // backed off between pecks; the standard leaves it to the machine
}

Result<void> Interpreter::drill(ProgramLine& l) {
  const SortedWords& w = l.words;
  ModalState& next = l.next;
  Cycle& c = next.cycle;
  const std::uint32_t column = w.motion ? w.motion->column : l.first_column;
  const auto refuse = [&](const std::string& sentence) { return program_error(l.number, column, sentence, "cycle"); };
  if (next.plane != Plane::xy) return refuse("holes are drilled along Z only; G17 must hold here.");
  if (next.inverse_time) return refuse("a cycle cannot be fed by inverse time; use G94 and a feed.");
  if (!(next.feed > 0)) return refuse("this cycle has no feed; add an F word here or before.");
  const auto take = [&](char letter, double& value, bool& has) {
    if (const Word* v = w.of(letter)) {
      value = v->value * l.unit;
      has = true;
    }
  };
  take('Z', c.z, c.has_z);
  take('R', c.r, c.has_r);
  take('Q', c.q, c.has_q);
  if (const Word* p = w.of('P')) c.dwell = p->value;
  if (!c.has_z || !c.has_r) return refuse("a cycle needs Z, how deep, and R, from where.");
  const bool pecks = c.number == 73 || c.number == 83, dwells = c.number == 82 || c.number == 89;
  if (pecks && !(c.has_q && c.q > 0))
    return refuse(fmt::format("G{} needs Q, the depth of a peck, above zero.", c.number));
  if (dwells && !(c.dwell >= 0 && c.dwell <= longest_dwell_s))
    return refuse("P, the seconds to wait, is from 0 to a day.");
  double repeats = 1;
  if (const Word* v = w.of('L')) repeats = v->value;
  if (!(repeats >= 1 && repeats <= most_repeats) || repeats != std::floor(repeats))
    return refuse(fmt::format("L, how often, is a whole number from 1 to {}.", most_repeats));

  const double r = next.incremental ? next.at.z + c.r : next.shift.z + c.r;
  const double bottom = next.incremental ? r + c.z : next.shift.z + c.z;
  if (bottom > r) return refuse("the hole's bottom (Z) lies above R, from where it is drilled.");
  if (pecks && (r - bottom) / c.q > most_pecks)
    return refuse(fmt::format("that would be more than {} pecks; is Q right?", most_pecks));
  const double clear = next.return_to_r ? r : std::max(c.initial_z, r);
  for (const double z : {r, bottom, clear})
    if (std::fabs(z) > farthest_mm) return refuse("this place is more than a kilometre away; are the units right?");

  const auto rapid_z = [&](double z) {
    if (next.at.z == z) return;
    WorkPosition p = next.at;
    p.z = z;
    l.add(MotionKind::rapid, p, 0);
  };
  const auto feed_z = [&](double z) {
    WorkPosition p = next.at;
    p.z = z;
    l.add(MotionKind::line, p, next.feed);
  };
  if (next.at.z < r) rapid_z(r);
  for (int n = 0; n < static_cast<int>(repeats); ++n) {
    WorkPosition over = next.at;
    for (const Axis a : {Axis::x, Axis::y})
      if (const Word* v = w.of(letter(a))) {
        over[a] = v->value * l.unit + (next.incremental ? over[a] : next.shift[a]);
        if (std::fabs(over[a]) > farthest_mm) return too_far(*v, l.number);
      }
    if (!(over == next.at)) l.add(MotionKind::rapid, over, 0);
    rapid_z(r);
    if (pecks) {
      for (double depth = r;;) {
        depth = std::max(depth - c.q, bottom);
        feed_z(depth);
        if (depth <= bottom) break;
        if (c.number == 83) {
          rapid_z(r);
          rapid_z(std::min(r, depth + chip_break_mm));
        } else {
          rapid_z(std::min(r, depth + chip_break_mm));
        }
      }
    } else {
      feed_z(bottom);
      if (dwells) l.act(EventKind::dwell, c.dwell);
    }
    if (c.number == 85 || c.number == 89)
      feed_z(clear);
    else
      rapid_z(clear);
  }
  return {};
}

}  // namespace ypsi
