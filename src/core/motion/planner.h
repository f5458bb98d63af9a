#pragma once
// Speeds along a chain of moves: each axis keeps its rate and acceleration, and at a corner no axis changes its speed
// by more than it can within `corner_time_s`. Units mm, s.
#include <array>
#include <deque>

#include "core/geometry.h"
#include "core/motion/trapezoid.h"
#include "core/program/program.h"

namespace ypsi {

struct AxisMotionLimits {
  double max_rate = 50;       ///< mm/s, > 0
  double acceleration = 200;  ///< mm/s^2, > 0
};
using Kinematics = std::array<AxisMotionLimits, axis_count>;

inline constexpr double corner_time_s = 0.005;

/// What of a move tells how long it takes.
struct Pace {
  double length = 0;                                      ///< mm
  std::array<double, 3> direction_in{}, direction_out{};  ///< unit vectors
  double v_max = 1, accel = 1;                            ///< along the path, mm/s and mm/s^2
};

/// A move's geometry in one frame: a straight line, or an arc in a plane with the third axis rising evenly.
struct Segment : Pace {
  std::array<double, 3> start{}, end{};
  /// Arc only; along its plane's first and second axis, whose numbers are `first` and `second`; sweep 0: a line.
  double centre_first = 0, centre_second = 0, radius = 0, start_angle = 0, sweep = 0;
  std::uint8_t first = 0, second = 1;
  std::array<double, 3> at(double distance) const;  ///< place after `distance` mm, 0..length
};

/// Segment of a program's motion that starts at `from`. A rapid runs at the axes' rates.
Segment make_segment(const Program& program, const WorkPosition& from, const Motion& motion,
                     const Kinematics& kinematics);
/// A straight segment at `speed` mm/s at most.
Segment make_line(const std::array<double, 3>& from, const std::array<double, 3>& to, double speed,
                  const Kinematics& kinematics);

/// Highest speed at the corner between two segments, mm/s; 0 where they meet at rest.
double corner_speed(const Pace& before, const Pace& after, const Kinematics& kinematics);

/// Look-ahead over a queue of segments; the machine is to stand still after the last. `take` hands out the first with
/// its profile and lets it enter at `v_in`; look-ahead covers at most `window` segments.
class LookAhead {
 public:
  explicit LookAhead(const Kinematics& kinematics, std::size_t window = 128)
      : kinematics_(kinematics), window_(window) {}
  void set_kinematics(const Kinematics& kinematics) { kinematics_ = kinematics; }
  void add(Segment segment) { queue_.push_back(segment); }
  bool empty() const { return queue_.empty(); }
  std::size_t size() const { return queue_.size(); }
  void clear() { queue_.clear(); }
  struct Planned {
    Segment segment;
    Trapezoid profile;
  };
  /// Precondition: not empty.
  Planned take(double v_in);

 private:
  Kinematics kinematics_;
  std::size_t window_;
  std::deque<Segment> queue_;
};

struct TimeEstimate {
  double total_s = 0;
  double cutting_s = 0;
  std::vector<float> end_s;  ///< for each motion, when it ends; for progress and time left
};
/// Time a program takes with look-ahead and acceleration, stopping at every event.
TimeEstimate estimate_time(const Program& program, const Kinematics& kinematics);

}  // namespace ypsi
