#pragma once
// From G-code lines to motions. Understood: G0 G1 G2 G3 (I J K or R, helical, in G17 G18 G19), G4, G10 L2 L20, G20 G21,
// G28 G30, G38.2 G38.3, G40, G43 G49, G53, G54 to G59.3, G61, G70 G71 (as G20 G21), G73 G80 to G83 G85 G89, G90 G91,
// G90.1 G91.1, G92 to G92.3, G93 G94, G98 G99, M0 to M9, M30, F S T N, parameters and expressions. Passed over with a
// note: G64, G61.1, words that switch off what never is on, program numbers, A B C that never change. Sub-programs
// without loops are written out. All else is refused by name, with what the CAM program must be told. Source: NIST
// RS274/NGC version 3 (NISTIR 6556), 3.3 to 3.8.
#include <array>
#include <functional>
#include <map>
#include <optional>
#include <string_view>

#include "core/program/arc.h"
#include "core/program/own_blocks.h"
#include "core/program/reader.h"

namespace ypsi {

struct ProgramLine;

/// How far the two radii of an arc may differ: RS274/NGC leaves it to the machine; CAM output is rounded to 0.001 or
/// so. Where it writes fewer digits, what those can do counts: start, end and centre each off by half of the last.
inline constexpr double arc_radius_tolerance_mm = 0.01;
inline constexpr double arc_radius_tolerance_ratio = 0.001;
inline constexpr int most_pecks = 1000;     ///< of one hole
inline constexpr int most_repeats = 10000;  ///< L of a cycle

/// What a controller holds and a program calls up by number. Nothing but zeros when a file is read to be drawn: then
/// every frame is drawn as G54.
struct Frames {
  std::array<WorkZero, work_frame_count> zeros{};     ///< of G54 to G59.3
  std::map<int, double> tool_offsets;                 ///< by tool number, mm, longer is above zero
  MachinePosition first_reference, second_reference;  ///< of G28 and G30
  std::vector<OwnBlock> own_blocks;                   ///< of the machine's heads
  bool operator==(const Frames&) const = default;
};

/// A canned cycle and what stays of it from line to line (RS274/NGC 3.5.16).
struct Cycle {
  int number = 0;                         ///< 81 for G81; 0: none
  double z = 0, r = 0, q = 0, dwell = 0;  ///< as given, mm and s; z and r are places, or distances with G91
  bool has_z = false, has_r = false, has_q = false;
  double initial_z = 0;  ///< where Z stood when the cycles began, in G54
};

struct ModalState {
  WorkPosition at;     ///< in G54 as it was at the start, whichever frame is in use
  WorkPosition shift;  ///< of the frame in use, the tool's length and G92, in G54
  int frame = 0;       ///< 0: G54
  double tool_offset = 0;
  int tool_offset_of = 0;   ///< whose length that is
  WorkPosition g92;         ///< what G92 has shifted by
  bool g92_active = false;  ///< else it is kept for G92.3
  MotionKind motion = MotionKind::rapid;
  bool motion_given = false;  ///< some G0 to G3 has been seen
  Cycle cycle;
  Plane plane = Plane::xy;
  bool inches = false, incremental = false, arc_absolute = false, inverse_time = false, return_to_r = false;
  double feed = 0;   ///< mm/min
  double speed = 0;  ///< rpm
  int selected_tool = 0, tool = 0;
  bool spindle_on = false, spindle_reverse = false, ended = false;
  int coolant = 0;                              ///< 1: mist, 2: flood, 3: both
  std::array<std::optional<double>, 3> rotary;  ///< what A, B and C were said to be
  std::array<int, 2> arc_decimals{};            ///< most that were written in an arc, of mm and of inches
};

/// Interprets line after line and appends to a program. A line that is refused changes nothing.
class Interpreter {
 public:
  /// `start` in G54; `frame` in use until the program names another, 0: G54.
  /// `base`: the zero in which motions are told where that is not G54's.
  explicit Interpreter(WorkPosition start = {}, Frames frames = {}, int frame = 0, std::optional<WorkZero> base = {});
  /// Errors: `syntax`, `unknown_word`, `arc`, `expression`, `o_word`, with line and column.
  Result<void> line(std::string_view text, std::uint32_t number, Program& into);
  const ModalState& state() const { return state_; }
  ModalState& state() { return state_; }
  const Frames& frames() const { return frames_; }
  const Parameters& parameters() const { return parameters_; }
  bool has_end() const { return state_.ended || closed_; }  ///< by M2, M30 or a percent sign
  bool text_ends() const { return text_ends_; }             ///< by a control character; no end of the program

 private:
  bool plain_move(std::uint32_t number, Program& into);
  Result<void> modes(ProgramLine& l);
  Result<void> act_once(ProgramLine& l);
  Result<void> set_zero(ProgramLine& l);
  Result<void> go_to_reference(ProgramLine& l);
  Result<void> move(ProgramLine& l);
  Result<void> drill(ProgramLine& l);
  Result<Arc> find_arc(const ProgramLine& l, const WorkPosition& from, const WorkPosition& to,
                       std::uint32_t column) const;
  Result<void> rotary_words(ProgramLine& l) const;
  double arc_tolerance(const ProgramLine& l, double radius) const;
  void note_passed_over(const ProgramLine& l, Program& into) const;
  Result<void> stray_words(const ProgramLine& l, std::string_view centre, std::string_view cycle) const;
  static tl::unexpected<Error> too_far(const Word& word, std::uint32_t line);
  void commit(const ProgramLine& l, Program& into);
  WorkPosition shift_of(const ModalState& s, const WorkZero& zero) const;

  LineReader reader_;
  Frames frames_;
  WorkZero base_;  ///< G54's zero at the start: the frame in which motions are told
  Parameters parameters_;
  ModalState state_;
  bool begun_ = false, opened_ = false, closed_ = false, text_ends_ = false;  ///< opened, closed: by percent signs
  std::vector<Motion> moved_;                                                 ///< by the line in hand
  std::vector<Event> acts_;
};

/// Called now and then with lines done and bytes done; returning false cancels.
using ReadProgress = std::function<bool(std::uint32_t lines, std::size_t bytes)>;

/// What is known of the machine when a file is read.
struct ReadSetting {
  WorkPosition start;  ///< in G54
  Frames frames;
  int frame = 0;                 ///< in use where the program names none
  std::optional<WorkZero> base;  ///< the zero in which motions are told; G54's where there is none
  bool operator==(const ReadSetting&) const = default;
};

/// The whole program or the first error: nothing is loaded half. Sub-programs are written out on the way, their motions
/// with the lines on which they stand. Errors besides the interpreter's and unroll()'s: `empty`, `cancelled`.
Result<Program> read_program(std::string_view text, const ReadSetting& setting = {}, const ReadProgress& progress = {});

}  // namespace ypsi
