#pragma once
// Steps per unit from moves that were told and measured.
//
// What can go wrong with the question first: readings that were all taken with the slack in them (reversed) over one
// distance cannot tell the scale from the lost motion (`cannot_tell`); readings whose signs disagree say that the axis
// runs the wrong way, which no scale mends. Source: handbook of the trade, 4 and 5; JCGM 100:2008, 5.2 and annex G.
#include <optional>
#include <string>
#include <vector>

#include "core/calibration/drive.h"
#include "core/geometry.h"
#include "core/metrology/coverage.h"
#include "core/metrology/instrument.h"

namespace ypsi {

struct ScaleReading {
  CountedLength commanded;  ///< mm (degrees for a rotary axis), signed, not 0
  double measured = 0;      ///< the same unit, signed, not 0
  bool reversed = false;    ///< the move started opposite to the axis's previous motion, so its slack is in the reading
};

struct ScaleInput {
  double current_steps = 0;  ///< steps per unit in the controller now, > 0
  Instrument instrument;
  std::vector<ScaleReading> readings;     ///< at least 1
  std::optional<double> tolerance_per_m;  ///< wanted, mm per m, > 0
  std::optional<Transmission> transmission;
};

enum class ScaleVerdict {
  wrong_direction,
  mixed_signs,
  cannot_tell,
  within_uncertainty,
  measure_longer,
  gross_error,
  apply
};

struct Suspect {
  std::string cause;  ///< microsteps, inch_mm, screw_lead, pulley_teeth, belt_pitch, helical_rack
  double factor = 1;  ///< the true ratio this cause would give
  bool operator==(const Suspect&) const = default;
};

struct ScaleReadingResult {
  double residual = 0;   ///< measured - fitted, mm
  double u = 0;          ///< sqrt(V_ii), mm
  bool flagged = false;  ///< |residual| > 3 u; never dropped on its own
};

struct ScaleFit {
  double scale = 1, u_scale = 0, U_scale = 0;
  double new_steps = 0, U_new_steps = 0;
  std::optional<double> lost_motion, U_lost_motion;  ///< mm, where it could be told
  double chi2 = 0;
  Coverage coverage;
  std::vector<ScaleReadingResult> readings;  ///< in the order given
};

enum class ScaleAdvice {
  reverse_the_axis,
  check_the_signs,
  read_from_the_same_side,
  use_a_second_distance,
  take_three_readings,
  measure_longer,
  look_for_a_slip,
  check_flagged_readings,
  check_the_drive,
  measure_again_after_applying,
  leave_it_alone
};

struct ScaleResult {
  ScaleVerdict verdict = ScaleVerdict::cannot_tell;
  std::optional<ScaleFit> fit;                 ///< none with wrong_direction, mixed_signs, cannot_tell
  std::vector<Suspect> suspects;               ///< nearest first
  std::optional<double> recommended_distance;  ///< mm for which one reading reaches the tolerance
  std::vector<std::size_t> odd_signs;          ///< with mixed_signs: the readings in the minority
  std::vector<ScaleAdvice> advice;
};

/// Errors: `too_few` without readings; `out_of_range` for zero lengths, a current setting or tolerance not above zero;
/// `degenerate` where the fitted scale is not positive; `where` names the reading.
Result<ScaleResult> fit_scale(const ScaleInput& input);

/// Distance in mm over which one reading with `instrument` tells the scale to `tolerance_per_m` (mm per m, > 0); none
/// where no distance does.
std::optional<double> recommended_distance(const Instrument& instrument, double tolerance_per_m);

const char* name(ScaleVerdict verdict);
/// A sentence for a person.
std::string sentence(ScaleAdvice advice);

}  // namespace ypsi
