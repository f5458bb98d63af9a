#pragma once
// What the program asks of a machine's controller. The stand-in is one implementation; a controller on a wire another.
// Lengths mm, rates mm/min. Every call returns at once, whatever lies between: a controller on a line takes it on
// trust, and what it then refuses is read from status() (motions) or refusals() (all else).
#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/geometry.h"
#include "core/result.h"

namespace ypsi {

/// What the controller sees at its inputs, as wired and after its own inversion: true is on.
struct MachineInputs {
  std::array<bool, axis_count> home_switch{};
  std::array<bool, axis_count> far_switch{};  ///< at the other end, where there is one
  bool probe = false, emergency_stop = false;
  bool operator==(const MachineInputs&) const = default;
};

/// What became of the last G38 block.
struct ProbeResult {
  std::uint32_t count = 0;  ///< how many have ended since power-up
  bool contact = false;
  MachinePosition at;  ///< where the input changed; where the move ended when it never did
  bool operator==(const ProbeResult&) const = default;
};

/// What homing found, for whoever asks how well it repeats.
struct HomingFound {
  std::uint32_t count = 0;  ///< homings that ended well since power-up
  /// Of the last: how far from where it was counted each switch was met, mm; 0 where the axis had not been homed
  /// before.
  MachinePosition shift;
  bool tells_shift = true;  ///< whether the controller can say that
  bool operator==(const HomingFound&) const = default;
};

/// Before homing, where nobody knows how near the ends are, a move is no longer and no faster.
inline constexpr double unhomed_distance_mm = 10, unhomed_rate_mm_min = 300;

enum class MachineState { offline, not_homed, ready, moving, cutting, held, tool_change, stopped, emergency_stop };

struct MachineStatus {
  MachineState state = MachineState::offline;
  MachinePosition position;  ///< where the controller believes to be; of a chance origin until homed
  WorkZero work_zero;        ///< of the frame in use, G54 unless a program chose another
  int work_frame = 0;        ///< 0: G54 .. 5: G59, 6: G59.1 .. 8: G59.3
  std::array<bool, axis_count> homed{};
  std::uint32_t block_in_hand = 0;  ///< the tag given with the block that moves now, or last moved
  double feed = 0;                  ///< along the path now, mm/min
  double feed_override = 1;
  double spindle_rpm = 0;         ///< 0: off
  bool beam_on = false;           ///< one shines now
  int tool = 0, wanted_tool = 0;  ///< in the spindle; asked for by a tool change
  double tool_offset = 0;         ///< on Z by G43, mm
  MachineInputs inputs;
  ProbeResult probe;
  HomingFound homing;
  std::uint32_t ran_dry = 0;  ///< how often the look-ahead of this program ran out before its end
  /// A motion has been asked for and not been answered yet; the state is then what it will be.
  bool asked = false;
  /// Of the last motion asked for, or of a block of its program, where refusals come later than the asking; gone at the
  /// next start.
  std::optional<Error> refusal;
  std::string message;  ///< why it stands, in a sentence; empty when there is nothing to say
  bool all_homed() const { return homed[0] && homed[1] && homed[2]; }
  bool operator==(const MachineStatus&) const = default;
};

/// Something other than a motion that was asked for on trust and then refused.
struct Refusal {
  std::string setting;  ///< its name, where it was one
  Error why;
};

class MachineLink {
 public:
  virtual ~MachineLink() = default;

  virtual MachineStatus status() const = 0;

  /// Settings by plain names, listed with their units and ranges in docs/link.md: axis.x.steps_per_mm,
  /// axis.y.soft_max_mm, axis.z.reversed (0 or 1), work.g55.z_mm, work.frame, tool.3.offset_mm, limits.hard and so on.
  /// Errors: `unknown_setting`, `out_of_range`, `busy` while the machine moves, `offline`.
  virtual Result<double> setting(std::string_view name) const = 0;
  /// A motion that is asked for after it begins only once it was taken, and not at all where it was refused.
  virtual Result<void> set_setting(std::string_view name, double value) = 0;
  /// All settings by name; of tools those that were ever set.
  virtual std::map<std::string, double> settings() const { return {}; }
  /// What was refused since this was last asked.
  virtual std::vector<Refusal> refusals() { return {}; }
  /// Work zero of one axis in G54, machine coordinates. Errors as for a setting.
  Result<void> set_work_zero(Axis axis, double machine_coordinate);

  /// Homes Z, then X and Y. Errors: `busy`, `stopped` while the emergency stop is pressed.
  virtual Result<void> home() = 0;
  /// Moves one axis by `distance`, at `rate` at most. A move that would pass a soft limit is refused before it starts
  /// (`limit`); before homing only short, slow moves are taken (`not_homed`). Errors also: `busy`, `stopped`.
  virtual Result<void> jog(Axis axis, double distance, double rate) = 0;
  /// Ends a jog with the machine's own deceleration. Never fails: it only stops.
  virtual void end_jog() = 0;

  /// Starts taking blocks of a program. Errors: `not_homed`, `busy`, `stopped`.
  virtual Result<void> begin_program() = 0;
  /// One block of G-code; `tag` comes back as block_in_hand. Errors: `full` (try again later: the look-ahead is
  /// bounded), `limit` and what the interpreter refuses; a refusal leaves the program running up to the block before.
  virtual Result<void> send(std::string_view block, std::uint32_t tag) = 0;
  /// No further block will come; the program ends when the last is done.
  virtual void end_program() = 0;

  virtual void stop() = 0;                  ///< stands at once and forgets everything; the position is lost
  virtual void hold() = 0;                  ///< slows down along the path and stands, spindle as it is
  virtual void go_on() = 0;                 ///< after hold
  virtual void abandon() = 0;               ///< slows down, stands, forgets what was queued; position is kept
  virtual void tool_changed(int tool) = 0;  ///< the owner says that the wanted tool is in, or while it stands, which is
  virtual void set_feed_override(double factor) = 0;  ///< 0.1 to 2
};

/// Whether a move of one axis ended at `place` (machine coordinate, mm): standing ready, and not ended by somebody
/// before.
bool arrived(const MachineLink& link, const MachineStatus& status, Axis axis, double place);
/// Why a motion is over that should not be: it was refused, or the controller says why it stands, or `sentence`.
Error ended_because(const MachineStatus& status, std::string_view sentence);

const char* axis_key(Axis axis);  ///< "x"
/// "axis.x.steps_per_mm"
std::string axis_setting(Axis axis, std::string_view what);
/// "work.g54.x_mm" for frame 0
std::string work_zero_setting(int frame, Axis axis);
/// Whose zero a setting is: frame 1 and X of "work.g55.x_mm"; none of another setting.
std::optional<std::pair<int, Axis>> work_zero_of_setting(std::string_view name);
/// Whose length a setting is: 3 of "tool.3.offset_mm"; none of another setting, or of no tool there can be.
std::optional<int> tool_of_setting(std::string_view name);

}  // namespace ypsi
