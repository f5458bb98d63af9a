#include "core/program/interpreter.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numbers>

namespace ypsi {
namespace {

constexpr double pi = std::numbers::pi;
constexpr double full_turn = 2 * pi;
constexpr double longest_dwell_s = 3600;

/// The words of one line, sorted into what they mean. A letter may stand once (G and M several times).
struct Sorted {
  const Word* value[26] = {};
  const Word* motion = nullptr;       ///< G0 to G3
  const Word* units = nullptr;        ///< G20 G21
  const Word* distance = nullptr;     ///< G90 G91
  const Word* frame = nullptr;        ///< G54 to G59
  const Word* length = nullptr;       ///< G43 G49
  const Word* dwell = nullptr;        ///< G4
  const Word* stop = nullptr;         ///< M0 M1 M2 M30
  const Word* spindle = nullptr;      ///< M3 M5
  const Word* tool_change = nullptr;  ///< M6
  const Word* of(char letter) const { return value[letter - 'A']; }
};

int code(const Word& w) {
  return static_cast<int>(std::lround(w.value * 10));
}

Result<void> place_once(const Word*& slot, const Word& word, std::uint32_t line) {
  if (slot)
    return program_error(
        line, word.column,
        fmt::format("{}{:g} contradicts another word of this line; keep one of them.", word.letter, word.value));
  slot = &word;
  return {};
}

tl::unexpected<Error> unknown(const Word& word, std::uint32_t line) {
  return program_error(
      line, word.column,
      fmt::format("{}{:g} is not understood here; this program needs another post-processor, or that word taken out.",
                  word.letter, word.value),
      "unknown_word");
}

Result<void> sort_g(const Word& w, std::uint32_t line, Sorted& out) {
  switch (code(w)) {
    case 0:
    case 10:
    case 20:
    case 30:
    case 382:
    case 383:
      return place_once(out.motion, w, line);
    case 40:
      return place_once(out.dwell, w, line);
    case 430:
    case 490:
      return place_once(out.length, w, line);
    case 540:
    case 550:
    case 560:
    case 570:
    case 580:
    case 590:
      return place_once(out.frame, w, line);
    case 200:
    case 210:
      return place_once(out.units, w, line);
    case 900:
    case 910:
      return place_once(out.distance, w, line);
    case 170:
      return {};
    default:
      return unknown(w, line);
  }
}

Result<void> sort_m(const Word& w, std::uint32_t line, Sorted& out) {
  switch (code(w)) {
    case 0:
    case 10:
    case 20:
    case 300:
      return place_once(out.stop, w, line);
    case 30:
    case 50:
      return place_once(out.spindle, w, line);
    case 60:
      return place_once(out.tool_change, w, line);
    default:
      return unknown(w, line);
  }
}

Result<void> sort(std::span<const Word> words, std::uint32_t line, Sorted& out) {
  for (const Word& w : words) {
    if (w.letter == 'G') {
      if (auto ok = sort_g(w, line, out); !ok) return ok;
    } else if (w.letter == 'M') {
      if (auto ok = sort_m(w, line, out); !ok) return ok;
    } else if (std::strchr("XYZIJRFSTNHP", w.letter)) {
      if (auto ok = place_once(out.value[w.letter - 'A'], w, line); !ok) return ok;
    } else {
      return unknown(w, line);
    }
  }
  return {};
}

/// Centre of an arc given by its radius: of the two, the one that makes the shorter sweep for R > 0
/// (RS274/NGC 3.5.3.1).
Result<Arc> centre_from_radius(const WorkPosition& from, const WorkPosition& to, double radius, bool clockwise,
                               const Word& word, std::uint32_t line) {
  const double dx = to.x - from.x, dy = to.y - from.y, chord = std::hypot(dx, dy);
  if (chord == 0)
    return program_error(line, word.column,
                         "an arc by its radius needs an end apart from its start; give I and J for a full circle.",
                         "arc");
  const double half = chord / 2, r = std::fabs(radius);
  if (half > r + std::max(arc_radius_tolerance_mm, r * arc_radius_tolerance_ratio))
    return program_error(line, word.column,
                         fmt::format("the radius {:g} mm is too small for ends {:.4g} mm apart.", r, chord), "arc");
  const double height = std::sqrt(std::max(0.0, r * r - half * half));
  const double side = (clockwise == (radius > 0)) ? -1 : 1;
  return Arc{(from.x + to.x) / 2 - side * height * dy / chord, (from.y + to.y) / 2 + side * height * dx / chord};
}

Result<Arc> find_arc(const Sorted& words, const WorkPosition& from, const WorkPosition& to, double unit, bool clockwise,
                     std::uint32_t line, std::uint32_t column) {
  const Word *i = words.of('I'), *j = words.of('J'), *r = words.of('R');
  if (r) {
    if (i || j) return program_error(line, r->column, "an arc has either R or I and J; keep one of them.", "arc");
    return centre_from_radius(from, to, r->value * unit, clockwise, *r, line);
  }
  if (!i && !j) return program_error(line, column, "an arc needs its centre (I, J) or its radius (R).", "arc");
  const Arc arc{from.x + (i ? i->value * unit : 0), from.y + (j ? j->value * unit : 0)};
  const double at_start = std::hypot(from.x - arc.centre_x, from.y - arc.centre_y);
  const double at_end = std::hypot(to.x - arc.centre_x, to.y - arc.centre_y);
  const std::uint32_t where = (i ? i : j)->column;
  if (at_start == 0) return program_error(line, where, "this arc has no radius: its centre is its start.", "arc");
  if (std::fabs(at_start - at_end) > std::max(arc_radius_tolerance_mm, at_start * arc_radius_tolerance_ratio))
    return program_error(
        line, where,
        fmt::format("the radius does not fit: {:.4f} mm at the start of the arc, {:.4f} mm at its end.", at_start,
                    at_end),
        "arc");
  return arc;
}

/// G54 to G59 and G43: where the words of this line put the origin, told in G54 (RS274/NGC 3.5.13 and 3.5.10).
Result<void> sort_frames(const Sorted& w, std::uint32_t line, const Frames& frames, ModalState& next) {
  const Word* h = w.of('H');
  if (h && (!w.length || code(*w.length) != 430)) return unknown(*h, line);
  if (w.frame) next.frame = code(*w.frame) / 10 - 54;
  if (w.length && code(*w.length) == 490) next.tool_offset = 0;
  if (w.length && code(*w.length) == 430) {
    const double number = h ? h->value : next.tool;
    if (number < 0 || number > 65535 || number != std::floor(number))
      return program_error(line, h->column, "H names a tool by its number, a whole number from 0 to 65535.");
    const auto found = frames.tool_offsets.find(static_cast<int>(number));
    next.tool_offset = found == frames.tool_offsets.end() ? 0 : found->second;
  }
  if (w.frame || w.length) {
    const WorkZero &used = frames.zeros[static_cast<std::size_t>(next.frame)], &first = frames.zeros[0];
    next.shift = {used.x - first.x, used.y - first.y, used.z - first.z + next.tool_offset};
  }
  return {};
}

void include_arc(Extents& extents, const WorkPosition& from, const Motion& m, const Arc& arc) {
  const double sweep = arc_sweep(from, m, arc);
  const double start = std::atan2(from.y - arc.centre_y, from.x - arc.centre_x);
  const double radius = std::hypot(from.x - arc.centre_x, from.y - arc.centre_y);
  const double low = std::min(start, start + sweep), high = std::max(start, start + sweep);
  for (int quarter = static_cast<int>(std::ceil(low / (pi / 2))); quarter * pi / 2 < high; ++quarter) {
    static constexpr double cosine[] = {1, 0, -1, 0};
    const int q = ((quarter % 4) + 4) % 4;
    extents.include(arc.centre_x + radius * cosine[q], arc.centre_y + radius * cosine[(q + 3) % 4], m.end.z);
  }
}

}  // namespace

double arc_sweep(const WorkPosition& from, const Motion& motion, const Arc& arc) {
  const double start = std::atan2(from.y - arc.centre_y, from.x - arc.centre_x);
  const double end = std::atan2(motion.end.y - arc.centre_y, motion.end.x - arc.centre_x);
  const bool clockwise = motion.kind == MotionKind::arc_clockwise;
  double sweep = end - start;
  if (clockwise && sweep >= -1e-12) sweep -= full_turn;
  if (!clockwise && sweep <= 1e-12) sweep += full_turn;
  if (clockwise && sweep < -full_turn - 1e-12) sweep += full_turn;
  return sweep;
}

Result<void> Interpreter::line(std::string_view text, std::uint32_t number, Program& into) {
  const auto words = reader_.read(text, number);
  if (!words) return tl::make_unexpected(words.error());
  if (words->empty()) return {};
  Sorted w;
  if (auto ok = sort(*words, number, w); !ok) return ok;

  // Everything that can be refused comes before the first change to the program.
  ModalState next = state_;
  if (w.units) next.inches = code(*w.units) == 200;
  const double unit = next.inches ? 25.4 : 1;
  if (w.distance) next.incremental = code(*w.distance) == 910;
  if (const Word* f = w.of('F')) {
    next.feed = f->value * unit;
    if (!(next.feed > 0)) return program_error(number, f->column, "the feed must be above zero.");
  }
  if (const Word* s = w.of('S')) {
    next.speed = s->value;
    if (next.speed < 0) return program_error(number, s->column, "the spindle speed must not be below zero.");
  }
  if (const Word* t = w.of('T')) {
    if (t->value < 0 || t->value > 65535 || t->value != std::floor(t->value))
      return program_error(number, t->column, "a tool number is a whole number from 0 to 65535.");
    next.selected_tool = static_cast<int>(t->value);
  }
  if (w.tool_change) {
    if (next.selected_tool == 0 && !w.of('T'))
      return program_error(number, w.tool_change->column, "M6 changes the tool, but no T word has said which one.");
    next.tool = next.selected_tool;
    next.spindle_on = false;
  }
  if (w.spindle) next.spindle_on = code(*w.spindle) == 30;
  const bool probes = w.motion && code(*w.motion) > 380;
  if (w.motion) {
    // A probing move does not stay: the next place without a G word would be one more (RS274/NGC 3.5.5 leaves it open).
    next.motion = probes ? MotionKind::line : static_cast<MotionKind>(code(*w.motion) / 10);
    next.motion_given = !probes;
  }
  if (auto ok = sort_frames(w, number, frames_, next); !ok) return ok;
  if (w.dwell) {
    const Word* p = w.of('P');
    if (!p || p->value < 0 || p->value > longest_dwell_s)
      return program_error(number, w.dwell->column, "G4 needs P, the seconds to wait, from 0 to 3600.");
  } else if (const Word* p = w.of('P')) {
    return unknown(*p, number);
  }

  const bool has_target = w.of('X') || w.of('Y') || w.of('Z');
  const bool is_round = next.motion >= MotionKind::arc_clockwise;
  const bool moves = has_target || (is_round && w.motion && (w.of('I') || w.of('J')));
  Motion motion;
  Arc arc;
  if (moves) {
    const std::uint32_t column = w.motion ? w.motion->column : words->front().column;
    if (!next.motion_given && !probes)
      return program_error(number, column, "a place is given, but no G0, G1, G2 or G3 has said how to go there.");
    if (next.motion != MotionKind::rapid && !(next.feed > 0))
      return program_error(number, column, "this cutting move has no feed; add an F word here or before.");
    next.at = state_.at;
    for (const Axis a : all_axes)
      if (const Word* target = w.of(letter(a))) {
        next.at[a] = (next.incremental ? state_.at[a] : next.shift[a]) + target->value * unit;
        if (std::fabs(next.at[a]) > 1e6)
          return program_error(number, target->column,
                               "this place is more than a kilometre away; are the units right?");
      }
    motion = {next.at, number, static_cast<float>(next.feed), 0, next.motion, 0, static_cast<std::uint16_t>(next.tool)};
    if (is_round) {
      auto found = find_arc(w, state_.at, next.at, unit, next.motion == MotionKind::arc_clockwise, number, column);
      if (!found) return tl::make_unexpected(found.error());
      arc = *found;
    }
  }
  if (probes && !moves)
    return program_error(number, w.motion->column, "a probing move needs a place to search towards: X, Y or Z.");
  if (!is_round && (w.of('I') || w.of('J') || w.of('R'))) {
    const Word* stray = w.of('I') ? w.of('I') : w.of('J') ? w.of('J') : w.of('R');
    return program_error(number, stray->column,
                         fmt::format("{} belongs to an arc (G2 or G3), and this is none.", stray->letter));
  }

  const auto event = [&](EventKind kind, double value) {
    into.events.push_back({static_cast<std::uint32_t>(into.motions.size()), number, kind, value});
  };
  if (w.units && next.inches) into.in_inches = true;
  if (w.tool_change) event(EventKind::tool_change, next.tool);
  if (w.spindle)
    event(next.spindle_on ? EventKind::spindle_on : EventKind::spindle_off, next.speed);
  else if (w.of('S') && next.spindle_on)
    event(EventKind::spindle_on, next.speed);
  if (w.frame) event(EventKind::work_frame, next.frame);
  if (w.length) event(EventKind::tool_offset, next.tool_offset);
  if (w.dwell) event(EventKind::dwell, w.of('P')->value);
  if (probes) event(EventKind::probe, code(*w.motion) == 382 ? 1 : 0);
  if (moves) {
    if (is_cut(motion)) into.cut.include(state_.at.x, state_.at.y, state_.at.z);
    if (is_round) {
      motion.arc = static_cast<std::uint32_t>(into.arcs.size());
      into.arcs.push_back(arc);
      include_arc(into.centre, state_.at, motion, arc);
      include_arc(into.cut, state_.at, motion, arc);
    }
    into.centre.include(motion.end.x, motion.end.y, motion.end.z);
    if (is_cut(motion)) into.cut.include(motion.end.x, motion.end.y, motion.end.z);
    into.motions.push_back(motion);
  }
  if (w.stop) {
    const int m = code(*w.stop);
    next.ended = m == 20 || m == 300;
    if (next.ended) next.spindle_on = false;
    event(next.ended ? EventKind::end : m == 0 ? EventKind::stop : EventKind::optional_stop, 0);
  }
  state_ = next;
  return {};
}

Result<Program> read_program(std::string_view text, WorkPosition start, const ReadProgress& progress) {
  if (text.empty())
    return fail("empty", "The program is an empty file; export it again from where it was made.", "1:1");
  Program program;
  program.start = start;
  program.motions.reserve(static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n')) + 1);
  Interpreter interpreter(start);
  std::uint32_t number = 0;
  std::size_t at = 0;
  while (at < text.size() && !interpreter.state().ended) {
    const void* found = std::memchr(text.data() + at, '\n', text.size() - at);
    const std::size_t end =
        found ? static_cast<std::size_t>(static_cast<const char*>(found) - text.data()) : text.size();
    if (auto ok = interpreter.line(text.substr(at, end - at), ++number, program); !ok)
      return tl::make_unexpected(ok.error());
    at = end + 1;
    if (progress && number % 16384 == 0 && !progress(number, at))
      return fail("cancelled", "Reading the program was cancelled.");
  }
  program.lines = number;
  if (program.motions.size() * 2 < program.motions.capacity()) program.motions.shrink_to_fit();
  if (program.motions.empty() && program.events.empty())
    return fail("empty", "There is no move and no act in this file; is it the right one?", "1:1");
  return program;
}

}  // namespace ypsi
