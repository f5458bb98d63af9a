#pragma once
// One straight-line speed profile: up at constant acceleration, steady, down. Units mm, s.
namespace ypsi {

class Trapezoid {
 public:
  Trapezoid() = default;
  /// `length` >= 0, speeds >= 0, `accel` > 0. An end speed that cannot be reached within the length is lowered (never
  /// the start speed: the caller makes sure that the profile can stop in time).
  Trapezoid(double length, double v_in, double v_max, double v_out, double accel);

  double duration() const { return t_up_ + t_steady_ + t_down_; }
  double length() const { return length_; }
  double v_out() const { return v_out_; }
  double distance_at(double t) const;  ///< mm from the start, 0..length, t in s
  double speed_at(double t) const;     ///< mm/s

 private:
  double length_ = 0, v_in_ = 0, v_peak_ = 0, v_out_ = 0, accel_ = 1;
  double t_up_ = 0, t_steady_ = 0, t_down_ = 0;
};

}  // namespace ypsi
