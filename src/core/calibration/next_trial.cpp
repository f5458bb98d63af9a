#include "core/calibration/next_trial.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ypsi {
namespace {

constexpr int fewest_looks = 15;        // before a curve is believed
constexpr int ends_looked_at = 3;       // before yes or no alone is believed of an end of the range
constexpr double near_ratio = 0.05;     // of the range: a bracket narrower than that is not halved any more
constexpr double widest_step = 0.25;    // of the range
constexpr double smallest_step = 0.03;  // of the range: nearer to the threshold a look tells nothing of sigma
constexpr double upward_step = 0.05;    // of the range
constexpr double most_telling = 1.2;    // sigmas from the threshold, where looks tell it and sigma best

double on_grid(double level, const TrialRange& range) {
  if (range.step > 0) level = range.low + std::round((level - range.low) / range.step) * range.step;
  return std::clamp(level, range.low, range.high);
}

/// As often as the range's end was tried.
auto times_at(const std::vector<TriedLevel>& tried, double level) {
  return std::count_if(tried.begin(), tried.end(), [&](const TriedLevel& t) { return t.level == level; });
}

/// Nothing but yes, or nothing but no: towards that end of the range where the other begins.
NextTrial towards(double end, double nearest, const std::vector<TriedLevel>& tried, const TrialRange& range) {
  NextTrial next;
  next.level = on_grid((end + nearest) / 2, range);
  if (next.level == nearest || std::fabs(end - nearest) < smallest_step * (range.high - range.low)) next.level = end;
  next.at_end = nearest == end && times_at(tried, end) >= ends_looked_at;
  return next;
}

}  // namespace

std::vector<LevelTrial> by_level(const std::vector<TriedLevel>& tried) {
  std::map<double, LevelTrial> all;
  for (const TriedLevel& t : tried) {
    LevelTrial& at = all[t.level];
    at.level = t.level;
    ++(t.yes ? at.yes : at.no);
  }
  std::vector<LevelTrial> levels;
  levels.reserve(all.size());
  for (const auto& [level, trial] : all) levels.push_back(trial);
  return levels;
}

NextTrial next_trial(const std::vector<TriedLevel>& tried, const TrialRange& range) {
  if (tried.empty()) return {range.upwards ? range.low : on_grid((range.low + range.high) / 2, range)};
  double lowest_yes = INFINITY, highest_no = -INFINITY;
  for (const TriedLevel& t : tried)
    if (t.yes)
      lowest_yes = std::min(lowest_yes, t.level);
    else
      highest_no = std::max(highest_no, t.level);
  if (std::isinf(highest_no)) return towards(range.low, lowest_yes, tried, range);
  if (std::isinf(lowest_yes) && range.upwards) {
    NextTrial next;
    next.level = on_grid(highest_no + std::max(range.step, upward_step * (range.high - range.low)), range);
    next.at_end = highest_no == range.high && times_at(tried, range.high) >= ends_looked_at;
    return next;
  }
  if (std::isinf(lowest_yes)) return towards(range.high, highest_no, tried, range);

  const auto found = find_threshold(by_level(tried), 0.5);
  NextTrial next;
  // A row of single looks may have a place between by luck.
  const bool looked = found && found->sigma ? std::ssize(tried) >= fewest_looks
                                            : times_at(tried, lowest_yes) >= ends_looked_at &&
                                                  times_at(tried, highest_no) >= ends_looked_at;
  next.enough = looked && found && found->threshold && found->U_threshold && found->verdict == ThresholdVerdict::ok &&
                *found->U_threshold <= told_well_ratio * std::fabs(*found->threshold);
  // What was found from nothing upwards may lie low in a wide range: it is its own measure.
  const double all = range.upwards ? std::max(lowest_yes, highest_no) - range.low : range.high - range.low;
  const double gap = lowest_yes - highest_no;
  double middle = (highest_no + lowest_yes) / 2, step = gap;
  if (gap > 0) {
    const double halved = on_grid(middle, range);
    if (halved > highest_no && halved < lowest_yes && gap > near_ratio * all) {
      next.level = halved;
      return next;
    }
  } else if (found && found->threshold && found->sigma) {
    middle = *found->threshold;
    step = most_telling * *found->sigma;
  }
  step = std::max({std::min(step, widest_step * all), range.step, smallest_step * all});
  // To both sides alike: to that where fewer looks were taken.
  const double reach = 3 * step;
  const auto between = [&](double low, double high) {
    return std::count_if(tried.begin(), tried.end(),
                         [&](const TriedLevel& t) { return t.level > low && t.level < high; });
  };
  const bool up = between(middle, middle + reach) <= between(middle - reach, middle);
  next.level = on_grid(middle + (up ? step : -step), range);
  return next;
}

}  // namespace ypsi
