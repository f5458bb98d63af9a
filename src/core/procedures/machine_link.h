#pragma once
// What the program asks of a machine's controller. The stand-in is one implementation; a controller on a wire another.
// Lengths mm, rates mm/min. Every call returns at once; what became of it is read from status().
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "core/geometry.h"
#include "core/result.h"

namespace ypsi {

enum class MachineState { offline, not_homed, ready, moving, cutting, held, tool_change, stopped, emergency_stop };

struct MachineStatus {
  MachineState state = MachineState::offline;
  MachinePosition position;  ///< where the controller believes to be; of a chance origin until homed
  WorkZero work_zero;        ///< G54
  std::array<bool, axis_count> homed{};
  std::uint32_t blocks_done = 0;    ///< how many blocks of the running program have ended
  std::uint32_t block_in_hand = 0;  ///< the tag given with the block that moves now, or last moved
  double feed = 0;                  ///< along the path now, mm/min
  double feed_override = 1;
  double spindle_rpm = 0;         ///< 0: off
  int tool = 0, wanted_tool = 0;  ///< in the spindle; asked for by a tool change
  std::string message;            ///< why it stands, in a sentence; empty when there is nothing to say
  bool all_homed() const { return homed[0] && homed[1] && homed[2]; }
};

class MachineLink {
 public:
  virtual ~MachineLink() = default;

  virtual MachineStatus status() const = 0;

  /// Settings by plain names: axis.x.steps_per_mm, axis.x.soft_min_mm, axis.x.soft_max_mm, axis.x.max_rate_mm_min,
  /// axis.x.accel_mm_s2, axis.x.reversed (0 or 1), axis.x.home_coordinate_mm; y and z alike.
  /// Errors: `unknown_setting`, `out_of_range`, `busy` while the machine moves.
  virtual Result<double> setting(std::string_view name) const = 0;
  virtual Result<void> set_setting(std::string_view name, double value) = 0;
  /// Work zero G54 of one axis, machine coordinates. Error: `busy`.
  virtual Result<void> set_work_zero(Axis axis, double machine_coordinate) = 0;

  /// Homes Z, then X and Y. Errors: `busy`, `stopped`.
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

  virtual void hold() = 0;                            ///< slows down along the path and stands, spindle as it is
  virtual void go_on() = 0;                           ///< after hold
  virtual void abandon() = 0;                         ///< slows down, stands, forgets what was queued; position is kept
  virtual void tool_changed(int tool) = 0;            ///< the owner says that the wanted tool is in
  virtual void set_feed_override(double factor) = 0;  ///< 0.1 to 2
};

/// What a person at the machine does with an instrument, where the machine is a simulated one.
class Bench {
 public:
  virtual ~Bench() = default;
  /// Puts a mark where the axis now is; distances are read from it.
  virtual void mark(Axis axis) = 0;
  /// The distance from the mark, as a person with this instrument reads it, mm, signed.
  /// Errors: `no_mark`, `unknown_instrument`.
  virtual Result<double> read_distance(Axis axis, std::string_view instrument) = 0;
  /// What the eye sees between the tool's tip and what is below it: the gap in mm to about half a millimetre,
  /// 0 where paper just drags, below 0 where the tool is in the material.
  virtual double gap_seen() const = 0;
  /// Where the stock lies as the eye sees it beside the tool, to about a millimetre: its front left and back right
  /// corner in the controller's machine coordinates. None when there is no stock.
  struct Outline {
    double x0 = 0, y0 = 0, x1 = 0, y1 = 0;
  };
  virtual std::optional<Outline> stock_seen() const = 0;
};

const char* axis_key(Axis axis);  ///< "x"
/// "axis.x.steps_per_mm"
std::string axis_setting(Axis axis, std::string_view what);

}  // namespace ypsi
