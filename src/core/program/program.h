#pragma once
// A program as motions of the tool's tip in the work frame, all in mm. 32 bytes a motion, arcs 24 more.
#include <array>
#include <bit>
#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <vector>

#include "core/geometry.h"

namespace ypsi {

enum class MotionKind : std::uint8_t { rapid, line, arc_clockwise, arc_counter_clockwise };

struct Motion {
  WorkPosition end;             ///< it starts where the one before ended
  std::uint32_t line : 30 = 0;  ///< of the program, from 1
  MotionKind kind : 2 = MotionKind::rapid;
  std::uint32_t how = 0;  ///< for Program::feed_of() and arc_of(): the bits of a feed, or where an arc stands
};
static_assert(sizeof(Motion) == 32);
inline constexpr std::uint32_t most_lines = (1U << 30U) - 1;

inline bool is_arc(const Motion& m) {
  return m.kind >= MotionKind::arc_clockwise;
}
inline bool is_cut(const Motion& m) {
  return m.kind != MotionKind::rapid;
}

enum class Plane : std::uint8_t { xy, zx, yz };  ///< G17, G18, G19

struct Arc {
  /// Work frame, mm, along the plane's first and second axis: X and Y, Z and X, Y and Z.
  double centre_first = 0, centre_second = 0;
  Plane plane = Plane::xy;
  float feed = 0;  ///< mm/min
};

/// From which motion on a tool is in the spindle.
struct ToolSpan {
  std::uint32_t first = 0;
  int tool = 0;  ///< 0: the one that was in at the start
};

enum class EventKind : std::uint8_t {
  stop,
  optional_stop,
  end,
  spindle_on,
  spindle_off,
  tool_change,
  dwell,
  probe,
  work_frame,
  tool_offset,
  zero_set,  ///< of a frame, by the program (G10)
  coolant,
  reference,  ///< a way to G28's or G30's place begins
  head_act    ///< one of the owner's own blocks for a head
};

/// What happens between motions.
struct Event {
  std::uint32_t before = 0;  ///< index of the motion it comes before
  std::uint32_t line = 0;
  EventKind kind{};
  /// rpm for spindle_on, below zero where it turns counter-clockwise (M4); tool number for tool_change; seconds for
  /// dwell; 1 for a probing move that must touch, else 0; 0 to 8 for G54 to G59.3 (work_frame, zero_set); mm for
  /// tool_offset; for coolant 0: off, 1: mist, 2: flood, 3: both; 28 or 30 for reference; for
  /// head_act which of the machine's heads, from 0
  double value = 0;
  /// For tool_offset: the tool by whose number it was called; -1 for G49. For head_act: which HeadAct.
  int length_of = 0;
  std::optional<double> level{};  ///< of a head_act: what the head's gauge is set to by it, where it says that
};

/// What the program says to people.
struct Comment {
  std::uint32_t line = 0;
  std::string text;
};

/// What was read and changes nothing here.
struct PassedOver {
  std::string what;  ///< "G64", "A", "program number"
  std::uint32_t line = 0;
  std::size_t times = 0;
};

struct Extents {
  WorkPosition low{std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity(),
                   std::numeric_limits<double>::infinity()};
  WorkPosition high{-low.x, -low.y, -low.z};
  bool empty() const { return !(low.x <= high.x); }
  bool contains(const Extents& other) const {
    return low.x <= other.low.x && low.y <= other.low.y && low.z <= other.low.z && high.x >= other.high.x &&
           high.y >= other.high.y && high.z >= other.high.z;
  }
  void include(double x, double y, double z) {
    low = {x < low.x ? x : low.x, y < low.y ? y : low.y, z < low.z ? z : low.z};
    high = {x > high.x ? x : high.x, y > high.y ? y : high.y, z > high.z ? z : high.z};
  }
};

inline constexpr std::size_t most_comments = 10'000;

inline constexpr std::uint32_t never_given = std::numeric_limits<std::uint32_t>::max();

struct Program {
  WorkPosition start;  ///< where the tool is taken to be before the first motion
  std::vector<Motion> motions;
  std::vector<Arc> arcs;
  std::vector<ToolSpan> tools;  ///< in order; the first begins with the first motion
  std::vector<Event> events;
  std::vector<Comment> comments;  ///< the first most_comments
  std::vector<PassedOver> passed_over;
  Extents centre;               ///< the tool centre's, every motion, ends and the bulge of arcs; without the start
  Extents cut;                  ///< the same over cutting motions, with their starts
  std::uint32_t lines = 0;      ///< up to the end of the program
  bool unrolled = false;        ///< sub-programs were written out; lines are those of the file
  bool has_end = false;         ///< M2, M30 or a percent sign
  std::uint32_t after_end = 0;  ///< the first line after the end on which something stands; 0: none
  /// The motion in which X, Y and Z were given first, as places and not as distances: before it nobody knows where the
  /// axis stands. Past the last motion where it never was.
  std::array<std::uint32_t, axis_count> given_in{never_given, never_given, never_given};
  bool in_inches = false;           ///< it says G20 somewhere
  bool uses_machine_frame = false;  ///< G28, G30, G53 or G10: where it goes depends on work zero

  WorkPosition begin_of(std::size_t motion) const { return motion == 0 ? start : motions[motion - 1].end; }
  /// Precondition: is_arc(m).
  const Arc& arc_of(const Motion& m) const { return arcs[m.how]; }
  /// mm/min; of no meaning for a rapid.
  double feed_of(const Motion& m) const {
    return static_cast<double>(is_arc(m) ? arcs[m.how].feed : std::bit_cast<float>(m.how));
  }
  /// The tool in the spindle during a motion; `at_start`: the one that was in before the program named any.
  int tool_of(std::size_t motion, int at_start = 0) const {
    for (auto span = tools.rbegin(); span != tools.rend(); ++span)
      if (span->first <= motion) return span->tool != 0 ? span->tool : at_start;
    return at_start;
  }
  void add(const Motion& m, int tool) {
    if (tools.empty() || tools.back().tool != tool) tools.push_back({static_cast<std::uint32_t>(motions.size()), tool});
    motions.push_back(m);
  }
};

}  // namespace ypsi
