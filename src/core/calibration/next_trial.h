#pragma once
// At which level the next try tells most about where yes begins: the bracket is halved first, then looks are taken
// about a sigma to both sides of the threshold as it is told so far. (Stepping from look to look by the sigma that was
// told gives a U that is too small: a sigma that once came out small stays so.) Source: handbook of the trade, 21;
// Abdelbasit and Plackett, Experimental Design for Binary Data (1983), for where looks tell most.
#include <vector>

#include "core/calibration/threshold.h"

namespace ypsi {

/// A try that was looked at; in the order in which they were made.
struct TriedLevel {
  double level = 0;
  bool yes = false;
};

/// Levels that can be set.
struct TrialRange {
  double low = 0, high = 0;  ///< low < high
  double step = 0;           ///< finest that the gauge can be set to; 0: any
  bool upwards = false;      ///< from the low end on by small steps until the first yes: more would be dangerous
};

struct NextTrial {
  double level = 0;     ///< within the range, a whole number of steps above its low end
  bool enough = false;  ///< U of the threshold is a tenth of it or less: more tries tell little
  bool at_end = false;  ///< yes or no alone as far as the range goes: it begins outside
};

inline constexpr int most_tries_worth = 30;     ///< within which a threshold is told to a tenth
inline constexpr double told_well_ratio = 0.1;  ///< of the threshold

/// Precondition: range.low < range.high.
///   next_trial({}, {8, 24, 0.5}).level == 16
///   next_trial({{16, true}}, {8, 24, 0.5}).level == 12
NextTrial next_trial(const std::vector<TriedLevel>& tried, const TrialRange& range);

/// Tries by level, as find_threshold() takes them.
std::vector<LevelTrial> by_level(const std::vector<TriedLevel>& tried);

}  // namespace ypsi
