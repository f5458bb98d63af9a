#include "core/calibration/limits.h"

#include <algorithm>
#include <cmath>

namespace ypsi {

double stopping_distance(double rate, double acceleration, double latency) {
  const double v = rate / 60;
  return v * latency + v * v / (2 * acceleration);
}

LimitsResult evaluate_limits(const LimitsInput& in) {
  LimitsResult out;
  out.usable = in.travel - in.clearance_home - in.clearance_far;
  const double sign = in.home_at_max ? -1 : 1;
  const double at_home = in.home_coordinate + sign * in.clearance_home;
  const double at_far = in.home_coordinate + sign * (in.travel - in.clearance_far);
  out.soft_min = std::min(at_home, at_far);
  out.soft_max = std::max(at_home, at_far);
  out.stop_distance_seek = stopping_distance(in.seek_rate, in.acceleration, in.latency);
  out.stop_distance_max = stopping_distance(in.max_rate, in.acceleration, in.latency);
  // a(-tau + sqrt(tau^2 + 2 o / a)), written so that a long latency costs no digits.
  const double over = 2 * in.overtravel_home / in.acceleration;
  const double sum = in.latency + std::sqrt(in.latency * in.latency + over);
  out.max_safe_seek = sum > 0 ? 60 * in.acceleration * over / sum : 0;

  const auto say = [&](bool problem, LimitsProblem which) {
    if (problem) out.problems.push_back(which);
  };
  say(!(out.usable > 0), LimitsProblem::no_usable_travel);
  say(out.stop_distance_seek > in.overtravel_home, LimitsProblem::seek_too_fast);
  say(in.clearance_far < stopping_distance(in.unguarded_rate, in.acceleration, in.latency),
      LimitsProblem::far_clearance_shorter_than_stop);
  say(in.pull_off && in.release && *in.pull_off <= *in.release, LimitsProblem::pull_off_shorter_than_release);
  say(in.pull_off && in.clearance_home > *in.pull_off, LimitsProblem::limit_beyond_pull_off);
  return out;
}

const char* name(LimitsProblem problem) {
  switch (problem) {
    case LimitsProblem::no_usable_travel:
      return "no_usable_travel";
    case LimitsProblem::seek_too_fast:
      return "seek_too_fast";
    case LimitsProblem::far_clearance_shorter_than_stop:
      return "far_clearance_shorter_than_stop";
    case LimitsProblem::pull_off_shorter_than_release:
      return "pull_off_shorter_than_release";
    case LimitsProblem::limit_beyond_pull_off:
      return "limit_beyond_pull_off";
  }
  return "";
}

}  // namespace ypsi
