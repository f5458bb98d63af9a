#include "core/motion/trapezoid.h"

#include <algorithm>
#include <cmath>

namespace ypsi {

Trapezoid::Trapezoid(double length, double v_in, double v_max, double v_out, double accel)
    : length_(length), v_in_(v_in), accel_(accel) {
  v_out_ = std::min({v_out, v_max, std::sqrt(v_in * v_in + 2 * accel * length)});
  const double reachable = std::sqrt(accel * length + (v_in * v_in + v_out_ * v_out_) / 2);
  v_peak_ = std::max({v_in, v_out_, std::min(v_max, reachable)});
  t_up_ = (v_peak_ - v_in) / accel;
  t_down_ = (v_peak_ - v_out_) / accel;
  const double ramps = (v_in + v_peak_) / 2 * t_up_ + (v_peak_ + v_out_) / 2 * t_down_;
  t_steady_ = v_peak_ > 0 ? std::max(0.0, length - ramps) / v_peak_ : 0;
}

double Trapezoid::distance_at(double t) const {
  if (t <= 0) return 0;
  if (t >= duration()) return length_;
  if (t < t_up_) return v_in_ * t + accel_ * t * t / 2;
  const double left = duration() - t;
  if (left < t_down_) return length_ - (v_out_ * left + accel_ * left * left / 2);
  return (v_in_ + v_peak_) / 2 * t_up_ + v_peak_ * (t - t_up_);
}

double Trapezoid::speed_at(double t) const {
  if (t <= 0) return v_in_;
  if (t >= duration()) return v_out_;
  if (t < t_up_) return v_in_ + accel_ * t;
  const double left = duration() - t;
  return left < t_down_ ? v_out_ + accel_ * left : v_peak_;
}

}  // namespace ypsi
