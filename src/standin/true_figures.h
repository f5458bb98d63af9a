#pragma once
// What a rehearsal told, beside what is true of the machine. For whoever judges a calibration afterwards, never for
// whoever makes it. `ypsilo rehearse` prints it as `truth`.
#include <string>
#include <vector>

#include "core/rehearsal/rehearsal.h"
#include "standin/served_machine.h"

namespace ypsi::standin {

struct TrueFigure {
  std::string figure;      ///< "steps of X", "lost motion of Y", "lean", "plate", "tool 2", "cutter", "pen, X"
  std::string unit;        ///< "a mm", "mm", "mrad"
  double told = 0, U = 0;  ///< U > 0
  double truth = 0;
  /// Of a normal law 1 in 22 lies beyond its U (k = 2), 3 in 1000 beyond one and a half.
  bool far_off() const;
};

/// Of all that the rehearsal gave a U for. A lean that grows along the travel is that of its middle.
std::vector<TrueFigure> true_figures(const Rehearsal& told, ServedMachine& machine);

/// "steps of X came out as 80.352 a mm ±0.011, and 80.310 is true: …".
std::string far_off_words(const TrueFigure& figure);

}  // namespace ypsi::standin
