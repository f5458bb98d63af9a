#pragma once
// From G-code lines to motions. Understood: G0 G1 G2 G3 (I J or R, helical in Z) G4 G17 G20 G21 G38.2 G38.3 G43 G49
// G54 to G59 G90 G91, M0 M1 M2 M3 M5 M6 M30, F S T N H P. All else is refused by name. Source: NIST RS274/NGC version 3
// (NISTIR 6556), 3.5 to 3.8.
#include <array>
#include <functional>
#include <map>
#include <string_view>

#include "core/program/program.h"
#include "core/program/reader.h"

namespace ypsi {

/// How far the two radii of an arc may differ: RS274/NGC leaves it to the machine; CAM output is rounded to 0.001 or
/// so.
inline constexpr double arc_radius_tolerance_mm = 0.01;
inline constexpr double arc_radius_tolerance_ratio = 0.001;

/// What a controller holds and a program calls up by number. Nothing but zeros when a file is read to be drawn: then
/// every frame is drawn as G54.
struct Frames {
  std::array<WorkZero, work_frame_count> zeros{};  ///< of G54 to G59
  std::map<int, double> tool_offsets;              ///< by tool number, mm, longer is above zero
};

struct ModalState {
  WorkPosition at;     ///< in G54, whichever frame is in use
  WorkPosition shift;  ///< of the frame in use and the tool's length, in G54
  int frame = 0;       ///< 0: G54
  double tool_offset = 0;
  MotionKind motion = MotionKind::rapid;
  bool motion_given = false;  ///< some G0 to G3 has been seen
  bool inches = false, incremental = false;
  double feed = 0;   ///< mm/min
  double speed = 0;  ///< rpm
  int selected_tool = 0, tool = 0;
  bool spindle_on = false, ended = false;
};

/// Interprets line after line and appends to a program. A line that is refused changes nothing.
class Interpreter {
 public:
  explicit Interpreter(WorkPosition start = {}, Frames frames = {}) : frames_(std::move(frames)) { state_.at = start; }
  /// Errors: `syntax` or `unknown_word` or `arc`, with line and column.
  Result<void> line(std::string_view text, std::uint32_t number, Program& into);
  const ModalState& state() const { return state_; }
  ModalState& state() { return state_; }

 private:
  LineReader reader_;
  Frames frames_;
  ModalState state_;
};

/// Called now and then with lines done and bytes done; returning false cancels.
using ReadProgress = std::function<bool(std::uint32_t lines, std::size_t bytes)>;

/// The whole program or the first error: nothing is loaded half. Errors besides the interpreter's: `empty`,
/// `cancelled`.
Result<Program> read_program(std::string_view text, WorkPosition start = {}, const ReadProgress& progress = {});

/// Sweep of an arc from `from` to `motion.end` about its centre, radians, > 0 counter-clockwise, never 0: equal ends
/// make a full circle.
double arc_sweep(const WorkPosition& from, const Motion& motion, const Arc& arc);

}  // namespace ypsi
