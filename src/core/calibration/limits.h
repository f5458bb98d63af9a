#pragma once
// Soft limits from the measured travel, and whether the machine can stop in the room they leave. Source: handbook of
// the trade, 8; uniform deceleration after a latency.
#include <optional>
#include <string>
#include <vector>

#include "core/result.h"

namespace ypsi {

struct LimitsInput {
  bool home_at_max = false;
  double home_coordinate = 0;                    ///< machine coordinate where the switch triggers, mm
  double travel = 0;                             ///< trigger to far stop, mm, > 0
  double clearance_home = 0, clearance_far = 0;  ///< mm, >= 0
  double overtravel_home = 0;                    ///< room behind the trigger, mm, >= 0
  double seek_rate = 0, max_rate = 0,
         unguarded_rate = 0;                ///< mm/min, > 0; the last: without a limit looked at beforehand
  double acceleration = 0;                  ///< mm/s^2, > 0
  double latency = 0;                       ///< s, >= 0
  std::optional<double> pull_off, release;  ///< mm, >= 0
};

enum class LimitsProblem {
  no_usable_travel,
  seek_too_fast,
  far_clearance_shorter_than_stop,
  pull_off_shorter_than_release,
  limit_beyond_pull_off
};

struct LimitsResult {
  double soft_min = 0, soft_max = 0,
         usable = 0;  ///< mm, machine coordinates, the lower first; usable < 0 where the clearances overlap
  double stop_distance_seek = 0, stop_distance_max = 0;  ///< mm
  double max_safe_seek = 0;                              ///< mm/min
  std::vector<LimitsProblem> problems;
};

LimitsResult evaluate_limits(const LimitsInput& input);

/// What a controller needs at most from a switch's contact until its motors slow down, s.
inline constexpr double reaction_s = 0.01;

/// Way in mm until standstill from `rate` mm/min.
double stopping_distance(double rate, double acceleration, double latency);

const char* name(LimitsProblem problem);

}  // namespace ypsi
