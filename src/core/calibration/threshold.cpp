#include "core/calibration/threshold.h"

#include <Eigen/LU>
#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <cmath>

#include "core/metrology/normal.h"

namespace ypsi {
namespace {

constexpr double same_level = 1e-9;      // of the range
constexpr int looked_at_well = 3;        // an end of a bracket
constexpr double almost_never = 1e-300;  // keeps logarithms and quotients finite

/// Equal levels in one, untried ones dropped, rising.
std::vector<LevelTrial> pooled(std::vector<LevelTrial> trials) {
  std::erase_if(trials, [](const LevelTrial& t) { return t.yes + t.no == 0; });
  std::stable_sort(trials.begin(), trials.end(), [](const auto& a, const auto& b) { return a.level < b.level; });
  std::vector<LevelTrial> out;
  for (const LevelTrial& t : trials) {
    if (out.empty() || out.back().level != t.level) {
      out.push_back(t);
      continue;
    }
    out.back().yes += t.yes;
    out.back().no += t.no;
  }
  return out;
}

/// Chances of yes and no at z standard deviations above the threshold, and the density there.
struct Chances {
  double yes, no, density;
};
Chances chances(double z) {
  const boost::math::normal normal;
  return {std::max(boost::math::cdf(normal, z), almost_never),
          std::max(boost::math::cdf(boost::math::complement(normal, z)), almost_never), boost::math::pdf(normal, z)};
}

/// What the looks at one level tell of a chance whose z depends on parameters by `x`.
Eigen::Matrix2d information_of(const LevelTrial& t, const Chances& at, const Eigen::Vector2d& x) {
  return (t.yes + t.no) * at.density * at.density / (at.yes * at.no) * x * x.transpose();
}

struct Slopes {
  Eigen::Vector2d score;
  Eigen::Matrix2d information;
  double log_likelihood = 0;
};

/// Of P(yes) = Phi(p0 + p1·x), in which the likelihood has one top.
Slopes slopes(const std::vector<LevelTrial>& trials, double middle, double size, const Eigen::Vector2d& p) {
  Slopes out{Eigen::Vector2d::Zero(), Eigen::Matrix2d::Zero()};
  for (const LevelTrial& t : trials) {
    const Eigen::Vector2d x(1, (t.level - middle) / size);
    const Chances at = chances(p.dot(x));
    out.log_likelihood += t.yes * std::log(at.yes) + t.no * std::log(at.no);
    out.score += at.density * (t.yes / at.yes - t.no / at.no) * x;
    out.information += information_of(t, at, x);
  }
  return out;
}

void probit(const std::vector<LevelTrial>& trials, double fraction, Threshold& out) {
  const double middle = (trials.front().level + trials.back().level) / 2,
               size = (trials.back().level - trials.front().level) / 2;
  Eigen::Vector2d p(0, 1);
  Slopes now = slopes(trials, middle, size, p);
  for (int turn = 0; turn < 500; ++turn) {
    Eigen::Vector2d step = now.information.inverse() * now.score;
    if (!step.allFinite()) break;
    Slopes next = slopes(trials, middle, size, p + step);
    for (int half = 0; half < 60 && !(next.log_likelihood >= now.log_likelihood - 1e-12); ++half) {
      step /= 2;
      next = slopes(trials, middle, size, p + step);
    }
    p += step;
    now = next;
    if (step.norm() <= 1e-13 * (1 + p.norm())) break;
  }
  const double sigma = size / p(1), mu = middle - size * p(0) / p(1);
  Eigen::Matrix2d information = Eigen::Matrix2d::Zero();
  for (const LevelTrial& t : trials) {
    const double z = (t.level - mu) / sigma;
    information += information_of(t, chances(z), Eigen::Vector2d(1, z) / sigma);
  }
  const Eigen::Matrix2d covariance = information.inverse();
  const double z = normal_quantile(fraction), k = normal_quantile(0.975);
  const Eigen::Vector2d at(1, z);
  out.method = ThresholdMethod::probit;
  out.threshold = mu;
  out.U_threshold = k * std::sqrt(std::max(0.0, covariance(0, 0)));
  out.sigma = sigma;
  out.setting = mu + z * sigma;
  out.U_setting = k * std::sqrt(std::max(0.0, at.dot(covariance * at)));
}

void bracket(const std::vector<LevelTrial>& trials, double lowest_yes, double highest_no, Threshold& out) {
  const LevelTrial *low = nullptr, *high = nullptr;
  for (const LevelTrial& t : trials) {
    if (t.level < lowest_yes) low = &t;
    if (t.level > highest_no && !high) high = &t;
  }
  out.method = ThresholdMethod::bracket;
  if (low) out.low = low->level;
  if (high) out.high = high->level;
  if (!low || !high) {
    out.verdict = ThresholdVerdict::open;
    return;
  }
  const double width = high->level - low->level;
  const bool well = low->yes + low->no >= looked_at_well && high->yes + high->no >= looked_at_well;
  out.threshold = low->level + width / 2;
  out.U_threshold = well ? width / 2 : width;
}

}  // namespace

Result<Threshold> find_threshold(std::vector<LevelTrial> all, double fraction) {
  const std::vector<LevelTrial> trials = pooled(std::move(all));
  if (trials.empty()) return fail("too_few", "Nothing was tried yet; look at one trial at least.", "trials");
  Threshold out;
  std::optional<double> lowest_yes, highest_no;
  double yes = 0, no = 0, yes_levels = 0, no_levels = 0;
  for (const LevelTrial& t : trials) {
    if (t.yes > 0 && !lowest_yes) lowest_yes = t.level;
    if (t.no > 0) highest_no = t.level;
    if (t.no == 0) out.proven.push_back({t.level, 1 - std::pow(0.05, 1.0 / t.yes)});
    yes += t.yes;
    no += t.no;
    yes_levels += t.yes * t.level;
    no_levels += t.no * t.level;
  }
  if (!lowest_yes || !highest_no) {
    out.verdict = lowest_yes ? ThresholdVerdict::only_yes : ThresholdVerdict::only_no;
    return out;
  }
  const double range = trials.back().level - trials.front().level;
  if (*lowest_yes < *highest_no && yes_levels / yes - no_levels / no > same_level * range)
    probit(trials, fraction, out);
  else
    bracket(trials, *lowest_yes, *highest_no, out);
  return out;
}

}  // namespace ypsi
