#pragma once
// The stand-in's scenario: the truth that only measuring can find. Contract: `ypsilograph-scenario`, version 1.
// Positions are physical, mm: X and Y on the bed, Z of the spindle's nose, up.
#include <array>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/geometry.h"
#include "core/metrology/instrument.h"
#include "core/result.h"

namespace ypsi::standin {

struct AxisTruth {
  double true_steps_per_mm = 100;  ///< of the mechanics: carriage travel = steps / this
  bool inverted = false;
  double lost_motion = 0;
  double screw_amplitude = 0, screw_period = 5;
  double stop_low = -3, stop_high = 500;
  bool switch_at_max = false;
  double switch_at = 0, switch_s = 0.004, switch_release = 0.6;
};

/// What the controller is set to when it leaves its maker: its belief, not the truth.
struct AxisBelief {
  double steps_per_mm = 100, max_rate = 6000, accel = 400, soft_min = 0, soft_max = 500, home_coordinate = 0,
         pull_off = 5;
  bool reversed = false;
};

struct PhysicalTool {
  int number = 1;
  double diameter = 6, stickout = 30;
};

struct Scenario {
  std::uint64_t seed = 1;
  std::array<AxisTruth, axis_count> axes;
  std::array<AxisBelief, axis_count> controller;
  double bed_z = -140;  ///< spindle nose's Z at which a tool of no length touches
  std::array<double, 3> stock_size{0, 0, 0};
  double stock_x = 0, stock_y = 0;  ///< its front left corner
  std::vector<PhysicalTool> tools;
  std::map<std::string, Instrument, std::less<>> instruments;
};

/// Errors: `not_json`, `not_a_scenario`, `later_version`, `wrong_type`.
Result<Scenario> read_scenario(std::string_view text);

}  // namespace ypsi::standin
