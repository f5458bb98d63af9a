#pragma once
// Steps per unit from the parts of a drive train. Source: the gear train itself; ISO 54 (module) for the rack.
#include <string>
#include <variant>

#include "core/result.h"

namespace ypsi {

struct Screw {
  double lead_mm = 0;
  bool operator==(const Screw&) const = default;
};  ///< starts x pitch, > 0
struct Belt {
  double pitch_mm = 0, teeth = 0;
  bool operator==(const Belt&) const = default;
};  ///< both > 0
struct Rack {
  double module_mm = 0, teeth = 0;
  bool operator==(const Rack&) const = default;
};  ///< both > 0; teeth of the pinion
struct Rotary {
  bool operator==(const Rotary&) const = default;
};  ///< one output revolution is 360 degrees
using Transmission = std::variant<Screw, Belt, Rack, Rotary>;

struct DriveTrain {
  double full_steps_per_rev = 200;  ///< > 0
  double microsteps = 16;           ///< > 0
  double gear_ratio = 1;            ///< motor revolutions per output revolution, > 0
  Transmission transmission = Screw{4};
  bool operator==(const DriveTrain&) const = default;
};

struct DriveResult {
  double steps_per_unit = 0;  ///< steps per mm, or per degree for a rotary axis
  std::string unit;           ///< "mm" or "deg"
  double unit_per_step = 0;
};

/// Travel of one output revolution, mm or degrees.
double travel_per_rev(const Transmission& transmission);
bool is_rotary(const Transmission& transmission);

/// Errors: `out_of_range` where the parts give no finite, positive figure.
Result<DriveResult> steps_per_unit(const DriveTrain& train);

/// Highest speed in units per minute that a pulse rate (steps per second, > 0) allows.
double speed_from_pulse_rate(double pulses_per_s, double steps_per_unit);

}  // namespace ypsi
