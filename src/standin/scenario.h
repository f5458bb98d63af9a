#pragma once
// The stand-in's scenario: the truth that only measuring can find. Contract: `ypsilograph-scenario`, version 1.
// Positions are physical, mm: X and Y on the bed, Z of the spindle's nose, up. Angles are kept in radians.
#include <array>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/book/heads.h"
#include "core/book/vacuum_bed.h"
#include "core/geometry.h"
#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi::standin {

enum class Wiring { ok, never, reversed, swapped };

struct SwitchTruth {
  bool at_max = false;
  double at = 0, s = 0.004, release = 0.6;
  Wiring wired = Wiring::ok;
};

struct ScrewError {
  double amplitude = 0, period = 5;  ///< mm
};

struct AxisTruth {
  double true_steps_per_mm = 100;  ///< of the mechanics: carriage travel = steps / this
  bool inverted = false;
  double lost_motion = 0;
  std::vector<ScrewError> screw;  ///< and pinion, and pulley: they add up
  double stop_low = -3, stop_high = 500;
  bool switch_at_max = false;
  double switch_at = 0, switch_s = 0.004, switch_release = 0.6;
  Wiring wired = Wiring::ok;
  std::optional<SwitchTruth> far;  ///< ours: a switch at the other end, on an input of its own
  SwitchTruth home() const { return {switch_at_max, switch_at, switch_s, switch_release, wired}; }
};

/// What the controller is set to when it leaves its maker: its belief, not the truth.
struct AxisBelief {
  double steps_per_mm = 100, max_rate = 6000, accel = 400, soft_min = 0, soft_max = 500, home_coordinate = 0,
         home_turn = 0, pull_off = 5, home_seek = 1800, home_latch = 120, second_switch_offset = 0;
  bool reversed = false, home_at_max = false, switch_inverted = false;
};

/// A pocket in a conductive stock to find a middle or an inner corner in.
struct PhysicalRecess {
  double u = 0, v = 0;           ///< its middle, from the stock's front left corner
  double width = 0, height = 0;  ///< along the stock's sides; height 0: round, `width` its diameter
  double depth = 10;
};

struct PhysicalStock {
  std::array<double, 3> size{0, 0, 0};
  double x = 0, y = 0;  ///< its front left corner
  double rotation = 0;  ///< rad, counter-clockwise seen from +Z, about that corner
  double thickness_variation = 0;
  bool conductive = true;
  double cap = 0;                            ///< of two layers, how thick the upper one is; 0: of one piece
  std::vector<std::array<double, 2>> marks;  ///< printed on it, from its front left corner along its sides
  bool round = false;                        ///< a disc of diameter size[0] instead of a rectangle
  std::optional<PhysicalRecess> recess;
};

struct PhysicalPlate {
  double thickness = 12, wall_x = 10, wall_y = 10;
};

struct PhysicalSetter {
  double x = 0, y = 0, height = 50, s = 0.003;
};

struct PhysicalTool {
  int number = 1;
  double diameter = 6, stickout = 30, runout = 0;  ///< runout as an indicator shows it: the cut is that much wider
  double tip = 0, angle = 0;  ///< of a point: its width, and its full angle, rad; 0: as wide at its tip as above
};

struct PhysicalPointer {
  double offset_x = 0, offset_y = 0, threshold_percent = 5;
};

/// A nose that rides on the stock beside the tool and says how deep it goes.
struct PhysicalNose {
  double mm_per_tick = 0.0254, zero_tick = 0, s = 0;
};

/// What hangs on the carriage, with what only cutting or looking can find.
struct PhysicalHead {
  std::string name;
  HeadKind kind = HeadKind::spindle;
  double offset_x = 0, offset_y = 0;         ///< of its point from the nose
  std::string lower, raise, on, off;         ///< blocks that the controller takes for it; empty: by Z, none
  double trailing = 0;                       ///< of a castor
  double blade_forward = 0, blade_left = 0;  ///< of a turned blade
  double threshold = 14, sigma = 0.8;        ///< on its gauge: half of all cuts go through
  double backing = 19;                       ///< half of them mark what lies below
  double wear_per_m = 0;                     ///< by which the threshold rises
  double focus_z = 0, spot = 0.12, rayleigh = 2;
};

/// What its owner knows of it without measuring: its name, its kind, and the blocks that work it.
Head told_head(const PhysicalHead& head);

/// What is switched on before anything moves.
struct PhysicalArming {
  std::vector<std::string> points;  ///< in their order: "air", "drives", "reset"
  double supply_bar = 6;            ///< of the air's supply
};

/// An edge against which blanks are laid.
struct PhysicalFence {
  std::string name;
  Axis along = Axis::x;
  double at = 0, turn = 0;  ///< its place across at X 0 or Y 0, mm; rad, counter-clockwise
};

enum class FaultKind : std::uint8_t {
  switch_stuck,
  probe_stuck,
  clip_off,
  lost_steps,
  estop,
  link_drop,
  link_garbage,
  brownout,
  // of the next answer alone: it never comes, comes twice, late, garbled, or with a report in its middle
  answer_lost,
  answer_twice,
  answer_late,
  answer_garbled,
  report_in_answer,
  buffer_full  ///< for a second a controller that takes G-code a line at a time has room for none
};

struct Fault {
  double at_s = 0;
  FaultKind kind{};
  Axis axis = Axis::x;
  double steps = 400;  ///< lost_steps: how many
};

struct Scenario {
  std::uint64_t seed = 1;
  std::array<AxisTruth, axis_count> axes;
  std::array<AxisBelief, axis_count> controller;
  double skew = 0, rail_spacing = 800;  ///< rad, +Y leaning towards +X; mm
  double yaw = 0;                       ///< rad, by how much the lean grows from the front of Y's travel to its back
  std::array<double, 2> z_lean{};       ///< rad, of Z's travel: going up it goes towards +X and +Y
  static constexpr double frame_right_at_K = 293;
  double temperature = frame_right_at_K, expansion = 23e-6;  ///< K, and 1/K of the frame
  double deflection_per_N = 0, cutting_force = 0;  ///< mm/N and N, of tool and frame, away from the wall that is cut
  std::array<double, 2> spindle_tilt{};            ///< rad, the top leaning to +X and +Y
  double bed_z = -140;               ///< spindle nose's Z at which a tool of no length touches, at X 0, Y 0
  std::array<double, 2> bed_tilt{};  ///< rad, rising towards +X and +Y
  double bed_waviness = 0;           ///< mm, from its deepest place to its highest
  PhysicalStock stock;
  PhysicalPlate plate;
  bool clip_on = true;
  std::optional<PhysicalSetter> setter;
  std::vector<PhysicalTool> tools;
  std::optional<PhysicalPointer> pointer;
  std::optional<PhysicalNose> nose;
  PhysicalArming arming;                     ///< nothing: it moves at once
  std::vector<std::string> emergency_stops;  ///< where each is, where there are several on that input
  VacuumBed vacuum;
  std::vector<PhysicalFence> fences;
  std::vector<PhysicalHead> heads;  ///< the first is the one that the machine counts for
  std::map<std::string, Instrument, std::less<>> instruments;
  std::vector<Fault> faults;  ///< by time

  const PhysicalTool* tool(int number) const;  ///< null where there is none of that number
  /// Of a groove that this cutter leaves, mm: running out it cuts wider, pushed away from both walls narrower.
  double cut_width(const PhysicalTool& tool) const {
    return tool.diameter + tool.runout - 2 * deflection_per_N * cutting_force;
  }
  /// Of the frame at its temperature, as a factor.
  double growth() const { return 1 + (temperature - frame_right_at_K) * expansion; }
};

/// Errors: `not_json`, `not_a_scenario`, `later_version`, `wrong_type`, `out_of_range`, with `where` as a path of keys.
Result<Scenario> read_scenario(std::string_view text);

}  // namespace ypsi::standin
