#include "core/program/interpreter.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/program/line.h"

namespace ypsi {
namespace {

constexpr double pi = std::numbers::pi;

/// Centre of an arc given by its radius: of the two, the one that makes the shorter sweep for R > 0
/// (RS274/NGC 3.5.3.1).
Result<Arc> centre_from_radius(const WorkPosition& from, const WorkPosition& to, Plane plane, double radius,
                               bool clockwise, const Word& word, std::uint32_t line, double tolerance) {
  const PlaneAxes axes = axes_of(plane);
  const double du = to[axes.first] - from[axes.first], dv = to[axes.second] - from[axes.second];
  const double chord = std::hypot(du, dv);
  if (chord == 0)
    return program_error(line, word.column,
                         "an arc by its radius needs an end apart from its start; give the centre (I, J, K) for a full "
                         "circle.",
                         "arc");
  const double half = chord / 2, r = std::fabs(radius);
  if (half > r + tolerance)
    return program_error(line, word.column,
                         fmt::format("the radius {:g} mm is too small for ends {:.4g} mm apart.", r, chord), "arc");
  const double height = std::sqrt(std::max(0.0, r * r - half * half));
  const double side = (clockwise == (radius > 0)) ? -1 : 1;
  return Arc{(from[axes.first] + to[axes.first]) / 2 - side * height * dv / chord,
             (from[axes.second] + to[axes.second]) / 2 + side * height * du / chord, plane};
}

/// `feed` in mm/min; an arc's goes where the arc does.
Motion motion_to(const WorkPosition& end, std::uint32_t line, MotionKind kind, double feed) {
  Motion m;
  m.end = end;
  m.line = line & most_lines;
  m.kind = kind;
  m.how = std::bit_cast<std::uint32_t>(static_cast<float>(feed));
  return m;
}

/// The letters that give an arc's centre along the plane's first and second axis, and the one that has no place in it.
struct CentreLetters {
  char first, second, stray;
};
constexpr CentreLetters centre_letters(Plane plane) {
  return plane == Plane::xy   ? CentreLetters{'I', 'J', 'K'}
         : plane == Plane::zx ? CentreLetters{'K', 'I', 'J'}
                              : CentreLetters{'J', 'K', 'I'};
}

}  // namespace

// ------------------------------------------------------------------------------------------------- a line's own things

void ProgramLine::add(MotionKind kind, const WorkPosition& end, double feed) {
  motions->push_back(motion_to(end, number, kind, feed));
  next.at = end;
}

void ProgramLine::act(EventKind kind, double value, int length_of) {
  acts->push_back({static_cast<std::uint32_t>(motions->size()), number, kind, value, length_of});
}

Result<double> ProgramLine::feed_for(double length, std::uint32_t column) const {
  if (!next.inverse_time) {
    if (!(next.feed > 0))
      return program_error(number, column, "this cutting move has no feed; add an F word here or before.");
    return next.feed;
  }
  const Word* f = words.of('F');
  if (!f)
    return program_error(number, column, "with G93 every cutting move needs an F of its own, one over its minutes.");
  return std::max(length, 1e-6) * f->value;
}

// ---------------------------------------------------------------------------------------------------------- the modes

Interpreter::Interpreter(WorkPosition start, Frames frames, int frame, std::optional<WorkZero> base)
    : frames_(std::move(frames)), base_(base.value_or(frames_.zeros[0])) {
  state_.at = start;
  state_.frame = frame;
  state_.shift = shift_of(state_, frames_.zeros[static_cast<std::size_t>(frame)]);
}

WorkPosition Interpreter::shift_of(const ModalState& s, const WorkZero& zero) const {
  WorkPosition shift{zero.x - base_.x, zero.y - base_.y, zero.z - base_.z + s.tool_offset};
  if (s.g92_active)
    for (const Axis a : all_axes) shift[a] += s.g92[a];
  return shift;
}

/// Everything that holds from here on, in the order of RS274/NGC table 8.
Result<void> Interpreter::modes(ProgramLine& l) {
  const SortedWords& w = l.words;
  ModalState& next = l.next;
  const std::uint32_t number = l.number;
  if (w.units) next.inches = code_of(*w.units) == 200 || code_of(*w.units) == 700;
  l.unit = next.inches ? 25.4 : 1;
  if (w.distance) next.incremental = code_of(*w.distance) == 910;
  if (w.arc_distance) next.arc_absolute = code_of(*w.arc_distance) == 901;
  if (w.return_level) next.return_to_r = code_of(*w.return_level) == 990;
  if (w.plane) next.plane = code_of(*w.plane) == 170 ? Plane::xy : code_of(*w.plane) == 180 ? Plane::zx : Plane::yz;
  if (w.feed_mode) {
    const bool inverse = code_of(*w.feed_mode) == 930;
    if (inverse != next.inverse_time) next.feed = 0;  // what it meant before means nothing now
    next.inverse_time = inverse;
  }
  if (const Word* f = w.of('F')) {
    if (!(f->value > 0)) return program_error(number, f->column, "the feed must be above zero.");
    if (!next.inverse_time) next.feed = f->value * l.unit;
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
    l.act(EventKind::tool_change, next.tool);
  }
  if (w.spindle) {
    next.spindle_on = code_of(*w.spindle) != 50;
    next.spindle_reverse = code_of(*w.spindle) == 40;
  }
  if (w.spindle || (w.of('S') && next.spindle_on))
    l.act(next.spindle_on ? EventKind::spindle_on : EventKind::spindle_off,
          next.spindle_reverse && next.spindle_on ? -next.speed : next.speed);
  if (w.coolant) {
    const int m = code_of(*w.coolant);
    next.coolant = m == 90 ? 0 : w.both_coolants ? 3 : next.coolant | (m == 70 ? 1 : 2);
    l.act(EventKind::coolant, next.coolant);
  }
  const Word* h = w.of('H');
  if (h && (!w.length || (code_of(*w.length) == 490 && h->value != 0))) return unknown_word(*h, number);
  if (w.frame) {
    const int g = code_of(*w.frame);
    next.frame = g <= 590 ? g / 10 - 54 : 5 + g - 590;
    l.act(EventKind::work_frame, next.frame);
  }
  if (w.length) {
    next.tool_offset = 0;
    next.tool_offset_of = -1;
    if (code_of(*w.length) == 430) {
      const double tool = h ? h->value : next.tool;
      if (tool < 0 || tool > 65535 || tool != std::floor(tool))
        return program_error(number, h->column, "H names a tool by its number, a whole number from 0 to 65535.");
      next.tool_offset_of = static_cast<int>(tool);
      const auto found = frames_.tool_offsets.find(static_cast<int>(tool));
      next.tool_offset = found == frames_.tool_offsets.end() ? 0 : found->second;
    }
    l.act(EventKind::tool_offset, next.tool_offset, next.tool_offset_of);
  }
  if (w.frame || w.length) next.shift = shift_of(next, frames_.zeros[static_cast<std::size_t>(next.frame)]);
  return {};
}

// -------------------------------------------------------------------------------------------------------------- moves

Result<void> Interpreter::move(ProgramLine& l) {
  const SortedWords& w = l.words;
  ModalState& next = l.next;
  const int g = w.motion ? code_of(*w.motion) : -1;
  const bool probes = g == 382 || g == 383;
  if (w.ends_cycle) next.cycle = {};
  if (g >= 0) {
    if (g >= 730 && g != 800) {
      if (next.cycle.number != g / 10) {
        // A chain of cycles keeps the level from which it came down.
        const double initial = next.cycle.number != 0 ? next.cycle.initial_z : next.at.z;
        next.cycle = {};
        next.cycle.number = g / 10;
        next.cycle.initial_z = initial;
      }
    } else {
      next.cycle = {};
      // A probing move does not stay: the next place without a G word would be one more (RS274/NGC 3.5.5 leaves it
      // open).
      next.motion = probes ? MotionKind::line : g == 800 ? MotionKind::rapid : static_cast<MotionKind>(g / 10);
      next.motion_given = !probes && g != 800;
    }
  }
  const bool has_place = !l.places_taken && (w.of('X') || w.of('Y') || w.of('Z'));
  if (next.cycle.number != 0 && !l.in_machine) {
    if (auto ok = stray_words(l, "R", "QPL"); !ok) return ok;
    return has_place || g >= 0 ? drill(l) : Result<void>{};
  }
  const bool is_round = next.motion >= MotionKind::arc_clockwise && !probes && !l.places_taken;
  const bool moves = has_place || (is_round && (w.of('I') || w.of('J') || w.of('K')));
  if (auto ok = stray_words(l, is_round && moves ? "IJKR" : "", ""); !ok) return ok;
  if (probes && !moves)
    return program_error(l.number, w.motion->column, "a probing move needs a place to search towards: X, Y or Z.");
  if (l.in_machine && (!moves || is_round || probes))
    return program_error(l.number, w.once->column, "G53 goes with G0 or G1 and a place: X, Y or Z.");
  if (probes) l.act(EventKind::probe, g == 382 ? 1 : 0);
  if (!moves) return {};

  const std::uint32_t column = w.motion ? w.motion->column : l.first_column;
  if (!next.motion_given && !probes)
    return program_error(l.number, column, "a place is given, but no G0, G1, G2 or G3 has said how to go there.");
  const WorkPosition from = next.at;
  WorkPosition to = from;
  for (const Axis a : all_axes)
    if (const Word* target = w.of(letter(a))) {
      to[a] = target->value * l.unit + (l.in_machine ? -base_[a] : next.incremental ? from[a] : next.shift[a]);
      if (std::fabs(to[a]) > farthest_mm) return too_far(*target, l.number);
    }
  if (is_round) {
    int& decimals = next.arc_decimals[next.inches ? 1 : 0];
    for (const Word& v : reader_.words())
      if (std::strchr("XYZIJKR", v.letter)) decimals = std::max(decimals, static_cast<int>(v.decimals));
    auto arc = find_arc(l, from, to, column);
    if (!arc) return tl::make_unexpected(arc.error());
    l.arc = *arc;
    l.has_arc = true;
  }
  double feed = next.feed;
  if (next.motion != MotionKind::rapid) {
    Motion way;
    way.end = to;
    way.kind = next.motion;
    const double length = !next.inverse_time ? 0  // only that feed hangs on it
                          : is_round         ? arc_way(from, way, l.arc).length()
                                             : std::hypot(to.x - from.x, to.y - from.y, to.z - from.z);
    const auto found = l.feed_for(length, column);
    if (!found) return tl::make_unexpected(found.error());
    feed = *found;
  }
  l.add(next.motion, to, feed);
  return {};
}

Result<Arc> Interpreter::find_arc(const ProgramLine& l, const WorkPosition& from, const WorkPosition& to,
                                  std::uint32_t column) const {
  const SortedWords& w = l.words;
  const bool clockwise = l.next.motion == MotionKind::arc_clockwise;
  const CentreLetters letters = centre_letters(l.next.plane);
  const PlaneAxes axes = axes_of(l.next.plane);
  const Word *i = w.of(letters.first), *j = w.of(letters.second), *r = w.of('R');
  if (const Word* stray = w.of(letters.stray); stray && (stray->value != 0 || l.next.arc_absolute))
    return program_error(
        l.number, stray->column,
        fmt::format("{} is no direction of the plane that holds here; see to G17, G18 and G19.", stray->letter), "arc");
  for (const Word* v : {i, j, r})
    if (v && std::fabs(v->value * l.unit) > farthest_mm) return too_far(*v, l.number);
  if (r) {
    if (i || j)
      return program_error(
          l.number, r->column,
          fmt::format("an arc has either R or {} and {}; keep one of them.", std::min(letters.first, letters.second),
                      std::max(letters.first, letters.second)),
          "arc");
    return centre_from_radius(from, to, l.next.plane, r->value * l.unit, clockwise, *r, l.number,
                              arc_tolerance(l, std::fabs(r->value * l.unit)));
  }
  if (!i && !j)
    return program_error(l.number, column,
                         fmt::format("an arc needs its centre ({}, {}) or its radius (R).",
                                     std::min(letters.first, letters.second), std::max(letters.first, letters.second)),
                         "arc");
  if (l.next.arc_absolute && (!i || !j))
    return program_error(l.number, (i ? i : j)->column, "with G90.1 both words of an arc's centre are needed.", "arc");
  const auto origin = [&](Axis a) { return l.next.arc_absolute ? l.next.shift[a] : from[a]; };
  const Arc arc{origin(axes.first) + (i ? i->value * l.unit : 0), origin(axes.second) + (j ? j->value * l.unit : 0),
                l.next.plane};
  const double at_start = std::hypot(from[axes.first] - arc.centre_first, from[axes.second] - arc.centre_second);
  const double at_end = std::hypot(to[axes.first] - arc.centre_first, to[axes.second] - arc.centre_second);
  const std::uint32_t where = (i ? i : j)->column;
  if (at_start == 0) return program_error(l.number, where, "this arc has no radius: its centre is its start.", "arc");
  if (std::fabs(at_start - at_end) > arc_tolerance(l, at_start))
    return program_error(
        l.number, where,
        fmt::format("the radius does not fit: {:.4f} mm at the start of the arc, {:.4f} mm at its end.", at_start,
                    at_end),
        "arc");
  return arc;
}

/// How far an arc's two radii may differ, mm.
double Interpreter::arc_tolerance(const ProgramLine& l, double radius) const {
  const int fewest = l.next.inches ? 3 : 2;
  const double last = l.unit * std::pow(10.0, -std::max(fewest, l.next.arc_decimals[l.next.inches ? 1 : 0]));
  return std::max({arc_radius_tolerance_mm, radius * arc_radius_tolerance_ratio, 2 * std::numbers::sqrt2 * last});
}

tl::unexpected<Error> Interpreter::too_far(const Word& word, std::uint32_t line) {
  return program_error(line, word.column, "this place is more than a kilometre away; are the units right?");
}

// -------------------------------------------------------------------------------------------------------------- a line

/// Most lines of most programs: G0 or G1, or none, places and a feed. Does such a line at once; false, with nothing
/// changed, where it is anything else or anything is wrong with it.
bool Interpreter::plain_move(std::uint32_t number, Program& into) {
  ModalState& s = state_;
  if (s.cycle.number != 0 || s.inverse_time || s.incremental || reader_.words().empty()) return false;
  const double unit = s.inches ? 25.4 : 1;
  MotionKind kind = s.motion;
  bool given = s.motion_given;
  WorkPosition to = s.at;
  double feed = s.feed;
  std::uint32_t seen = 0;
  for (const Word& w : reader_.words()) {
    const std::uint32_t bit = 1U << (w.letter - 'A');
    if ((seen & bit) != 0) return false;
    seen |= bit;
    switch (w.letter) {
      case 'G':
        if (w.value != 0 && w.value != 1) return false;
        kind = w.value == 0 ? MotionKind::rapid : MotionKind::line;
        given = true;
        break;
      case 'X':
      case 'Y':
      case 'Z': {
        const auto a = static_cast<Axis>(w.letter - 'X');
        to[a] = w.value * unit + s.shift[a];
        if (!(std::fabs(to[a]) <= farthest_mm)) return false;
        break;
      }
      case 'F':
        if (!(w.value > 0)) return false;
        feed = w.value * unit;
        break;
      case 'N':
        break;
      default:
        return false;
    }
  }
  constexpr auto places = SortedWords::bits("XYZ");
  if ((seen & places) == 0 || !given || kind >= MotionKind::arc_clockwise) return false;
  const bool cuts = kind == MotionKind::line;
  if (cuts && !(feed > 0)) return false;
  const auto index_of_motion = static_cast<std::uint32_t>(into.motions.size());
  for (const Axis a : all_axes)
    if (auto& first = into.given_in[index(a)]; first == never_given && ((seen >> (letter(a) - 'A')) & 1U) != 0)
      first = index_of_motion;
  if (cuts) {
    into.cut.include(s.at.x, s.at.y, s.at.z);
    into.cut.include(to.x, to.y, to.z);
  }
  into.centre.include(to.x, to.y, to.z);
  into.add(motion_to(to, number, kind, feed), s.tool);
  s.at = to;
  s.feed = feed;
  s.motion = kind;
  s.motion_given = true;
  begun_ = true;
  closed_ = false;
  return true;
}

Result<void> Interpreter::line(std::string_view text, std::uint32_t number, Program& into) {
  if (const auto own = find_own_act(frames_.own_blocks, text)) {
    into.events.push_back({static_cast<std::uint32_t>(into.motions.size()), number, EventKind::head_act,
                           static_cast<double>(own->head), static_cast<int>(own->act), own->level});
    begun_ = true;
    closed_ = false;
    return {};
  }
  const auto words = reader_.read(text, number, parameters_);
  if (!words) return tl::make_unexpected(words.error());
  if (reader_.tape_mark()) {
    // Where one begins the program the next one ends it; one alone is an end only where nothing follows.
    closed_ = begun_;
    opened_ = opened_ || !begun_;
    state_.ended = closed_ && opened_;
    return {};
  }
  text_ends_ = reader_.text_ends();
  const bool silent = reader_.comments().empty() && reader_.assignments().empty() && reader_.passed_over().empty();
  if (words->empty() && silent) return {};
  if (silent && plain_move(number, into)) return {};
  // Everything that can be refused comes before the first change to the program.
  moved_.clear();
  acts_.clear();
  ProgramLine l{number, words->empty() ? 1 : words->front().column, state_, &moved_, &acts_};
  if (!words->empty()) {
    if (auto ok = sort_words(*words, number, l.words); !ok) return ok;
    if (auto ok = modes(l); !ok) return ok;
    if (auto ok = rotary_words(l); !ok) return ok;
    if (auto ok = act_once(l); !ok) return ok;
    if (auto ok = move(l); !ok) return ok;
    if (l.words.stop) {
      const int m = code_of(*l.words.stop);
      l.next.ended = m == 20 || m == 300;
      if (l.next.ended) l.next.spindle_on = false;
      l.act(l.next.ended ? EventKind::end : m == 0 ? EventKind::stop : EventKind::optional_stop, 0);
    }
  }
  commit(l, into);
  return {};
}

void Interpreter::commit(const ProgramLine& l, Program& into) {
  const auto before = static_cast<std::uint32_t>(into.motions.size());
  for (Event& e : acts_) {
    e.before += before;
    into.events.push_back(e);
  }
  WorkPosition from = state_.at;
  if (!moved_.empty() && (!l.next.incremental || l.uses_machine)) {
    const bool names_none = !l.words.of('X') && !l.words.of('Y') && !l.words.of('Z');  // G28 alone: all of them
    for (const Axis a : all_axes)
      if (auto& given = into.given_in[index(a)]; given == never_given && (names_none || l.words.of(letter(a))))
        given = before;
  }
  for (Motion& m : moved_) {
    const bool cuts = is_cut(m);
    if (cuts) into.cut.include(from.x, from.y, from.z);
    if (l.has_arc) {
      into.arcs.push_back(l.arc);
      into.arcs.back().feed = std::bit_cast<float>(m.how);
      m.how = static_cast<std::uint32_t>(into.arcs.size() - 1);
      if (const Extents around = around_arc(from, m, l.arc);
          !into.centre.contains(around) || !into.cut.contains(around)) {
        const ArcWay way = arc_way(from, m, l.arc);
        include_arc(into.centre, way);
        include_arc(into.cut, way);
      }
    }
    into.centre.include(m.end.x, m.end.y, m.end.z);
    if (cuts) into.cut.include(m.end.x, m.end.y, m.end.z);
    from = m.end;
    into.add(m, l.next.tool);
  }
  begun_ = begun_ || !reader_.words().empty();
  closed_ = closed_ && reader_.words().empty();
  if (l.words.units && l.next.inches) into.in_inches = true;
  if (l.uses_machine) into.uses_machine_frame = true;
  note_passed_over(l, into);
  for (const auto& comment : reader_.comments())
    if (into.comments.size() < most_comments) into.comments.push_back({l.number, std::string(comment)});
  for (const auto& a : reader_.assignments())
    if (a.to.text.empty())
      parameters_.set(a.to.number, a.value);
    else
      parameters_.set(a.to.text, a.value);
  if (l.new_zero) frames_.zeros[static_cast<std::size_t>(l.new_zero->first)] = l.new_zero->second;
  state_ = l.next;
}

void Interpreter::note_passed_over(const ProgramLine& l, Program& into) const {
  const auto note = [&](std::string_view what) {
    const auto known = std::find_if(into.passed_over.begin(), into.passed_over.end(),
                                    [&](const PassedOver& p) { return p.what == what; });
    if (known == into.passed_over.end())
      into.passed_over.push_back({std::string(what), l.number, 1});
    else
      ++known->times;
  };
  for (const char* what : reader_.passed_over()) note(what);
  if (l.words.any_passed_over)
    for (const Word& w : reader_.words())
      if (passed_over(w)) note(fmt::format("{}{:g}", w.letter, w.value));
  if (!l.words.any_of("ABCD")) return;
  for (const char axis : {'A', 'B', 'C', 'D'})
    if (l.words.of(axis)) note(std::string(1, axis));
}

}  // namespace ypsi
