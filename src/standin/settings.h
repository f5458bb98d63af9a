#pragma once
// What the controller is set to, by plain names; docs/link.md lists them all. Lengths mm, rates mm/min.
#include <functional>

#include "core/program/interpreter.h"
#include "standin/scenario.h"

namespace ypsi::standin {

struct Settings {
  std::array<AxisBelief, axis_count> axes;
  Frames frames;
  int frame = 0;  ///< the work frame of a program that names none, 0: G54
  bool hard_limits = true, probe_inverted = false;

  /// Error: `unknown_setting`.
  Result<double> get(std::string_view name) const;
  /// The axis whose positions mean another place, or none, once this setting is another.
  static std::optional<Axis> whose_place_is_lost(std::string_view name);
  /// Errors: `unknown_setting`, `out_of_range`; then nothing is changed.
  Result<void> set(std::string_view name, double value);
  /// Every name that has a value now.
  std::vector<std::string> names() const;
};

}  // namespace ypsi::standin
