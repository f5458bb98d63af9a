#include "core/calibration/scale.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/calibration/suspects.h"
#include "core/metrology/common_errors.h"
#include "core/metrology/readings_fit.h"

namespace ypsi {
namespace {

constexpr double gross_share = 0.05;

Result<void> check(const ScaleInput& in) {
  if (!(in.current_steps > 0) || !std::isfinite(in.current_steps))
    return fail("out_of_range", "The steps per unit in the controller must be above zero.", "current_steps_per_mm");
  if (in.readings.empty()) return fail("too_few", "There is no reading yet; move the axis and measure.", "readings");
  if (in.tolerance_per_m && !(*in.tolerance_per_m > 0))
    return fail("out_of_range", "The tolerance must be above zero.", "tolerance_mm_per_m");
  for (std::size_t i = 0; i < in.readings.size(); ++i) {
    const auto& r = in.readings[i];
    const auto where = [i](const char* key) { return fmt::format("readings[{}].{}", i, key); };
    if (r.commanded == 0 || !std::isfinite(r.commanded))
      return fail("out_of_range", "A move over no distance tells nothing; give the distance that was commanded.",
                  where("commanded_mm"));
    if (r.measured == 0 || !std::isfinite(r.measured))
      return fail("out_of_range", "A measured length of zero tells nothing; measure how far the axis really went.",
                  where("measured_mm"));
  }
  return {};
}

/// Readings whose sign is not that of the command; all of them, none, or the smaller party.
std::vector<std::size_t> disagreeing(const std::vector<ScaleReading>& readings) {
  std::vector<std::size_t> against, with;
  for (std::size_t i = 0; i < readings.size(); ++i)
    ((readings[i].commanded > 0) == (readings[i].measured > 0) ? with : against).push_back(i);
  return against.size() == readings.size() || against.size() <= with.size() ? against : with;
}

bool tells_lost_motion(const std::vector<ScaleReading>& readings, bool& cannot_tell) {
  const auto reversed = std::count_if(readings.begin(), readings.end(), [](const auto& r) { return r.reversed; });
  if (reversed == 0) return false;
  const bool all = reversed == static_cast<std::ptrdiff_t>(readings.size());
  const double first = std::fabs(readings.front().commanded);
  const bool one_distance =
      std::all_of(readings.begin(), readings.end(), [&](const auto& r) { return std::fabs(r.commanded) == first; });
  cannot_tell = all && one_distance;
  return !cannot_tell;
}

ReadingsModel model_of(const std::vector<ScaleReading>& readings, const Instrument& instrument, bool with_lost_motion) {
  const auto n = static_cast<Eigen::Index>(readings.size());
  ReadingsModel model{Eigen::MatrixXd::Zero(n, with_lost_motion ? 2 : 1),
                      Eigen::VectorXd(n),
                      Eigen::VectorXd::Constant(n, instrument.own_part_mm2()),
                      {},
                      {}};
  std::vector<std::pair<double, bool>> distance;
  std::vector<double> told;
  for (Eigen::Index i = 0; i < n; ++i) {
    const ScaleReading& r = readings[static_cast<std::size_t>(i)];
    told.push_back(std::fabs(r.commanded));
    distance.emplace_back(told.back(), r.reversed);
    model.design(i, 0) = told.back();
    if (with_lost_motion && r.reversed) model.design(i, 1) = -1;
    model.observed(i) = std::fabs(r.measured);
  }
  model.common = common_errors(instrument, distance, told);
  return model;
}

ScaleVerdict verdict_of(const ScaleFit& fit, const std::optional<double>& tolerance_per_m) {
  const double off = std::fabs(fit.scale - 1);
  if (off <= fit.U_scale)
    return tolerance_per_m && fit.U_scale * 1000 > *tolerance_per_m ? ScaleVerdict::measure_longer
                                                                    : ScaleVerdict::within_uncertainty;
  return off > gross_share ? ScaleVerdict::gross_error : ScaleVerdict::apply;
}

std::vector<ScaleAdvice> advice_for(const ScaleResult& result, std::size_t readings) {
  using enum ScaleAdvice;
  std::vector<ScaleAdvice> advice;
  if (readings < 3) advice.push_back(take_three_readings);
  const ScaleFit& fit = *result.fit;
  if (fit.coverage.scatter_exceeds_claim) advice.push_back(look_for_a_slip);
  if (std::any_of(fit.readings.begin(), fit.readings.end(), [](const auto& r) { return r.flagged; }))
    advice.push_back(check_flagged_readings);
  switch (result.verdict) {
    case ScaleVerdict::within_uncertainty:
      advice.push_back(leave_it_alone);
      break;
    case ScaleVerdict::measure_longer:
      advice.push_back(measure_longer);
      break;
    case ScaleVerdict::gross_error:
      advice.push_back(check_the_drive);
      break;
    default:
      advice.push_back(measure_again_after_applying);
  }
  return advice;
}

}  // namespace

std::optional<double> recommended_distance(const Instrument& instrument, double tolerance_per_m) {
  const double k1 = t95(claim_degrees_of_freedom);
  const double u0 = std::sqrt(instrument.variance_mm2() + instrument.u_cal_mm * instrument.u_cal_mm);
  const double wanted = tolerance_per_m / 1000;
  const double left = wanted * wanted - k1 * k1 * instrument.u_rel * instrument.u_rel;
  if (!(left > 0)) return std::nullopt;
  return k1 * u0 / std::sqrt(left);
}

Result<ScaleResult> fit_scale(const ScaleInput& in) {
  if (auto ok = check(in); !ok) return tl::make_unexpected(ok.error());
  ScaleResult result;
  if (in.tolerance_per_m) result.recommended_distance = recommended_distance(in.instrument, *in.tolerance_per_m);

  const auto odd = disagreeing(in.readings);
  if (odd.size() == in.readings.size()) {
    result.verdict = ScaleVerdict::wrong_direction;
    result.advice = {ScaleAdvice::reverse_the_axis};
    return result;
  }
  if (!odd.empty()) {
    result.verdict = ScaleVerdict::mixed_signs;
    result.odd_signs = odd;
    result.advice = {ScaleAdvice::check_the_signs};
    return result;
  }

  bool cannot_tell = false;
  const bool with_lost_motion = tells_lost_motion(in.readings, cannot_tell);
  if (cannot_tell) {
    result.verdict = ScaleVerdict::cannot_tell;
    result.advice = {ScaleAdvice::read_from_the_same_side, ScaleAdvice::use_a_second_distance};
    return result;
  }
  const auto solved = fit_readings(model_of(in.readings, in.instrument, with_lost_motion));
  if (!solved) return tl::make_unexpected(solved.error());
  if (solved->fit.rank < solved->fit.parameters.size()) {  // distances alike to within the rank threshold
    result.verdict = ScaleVerdict::cannot_tell;
    result.advice = {ScaleAdvice::read_from_the_same_side, ScaleAdvice::use_a_second_distance};
    return result;
  }

  ScaleFit fit;
  fit.chi2 = solved->chi2;
  fit.coverage = solved->coverage;
  fit.scale = solved->fit.parameters(0);
  if (!(fit.scale > 0))
    return fail("degenerate", "These readings shrink as the commanded distance grows; check what was typed for each.",
                "readings");
  fit.u_scale = solved->u(0);
  fit.U_scale = solved->expanded(0);
  fit.new_steps = in.current_steps / fit.scale;
  fit.U_new_steps = fit.new_steps * fit.U_scale / fit.scale;
  if (with_lost_motion) {
    fit.lost_motion = solved->fit.parameters(1);
    fit.U_lost_motion = solved->expanded(1);
  }
  for (const auto& r : in.readings) {
    const double told = std::fabs(r.commanded);
    const double fitted = fit.scale * told - (r.reversed ? fit.lost_motion.value_or(0) : 0);
    const double residual = std::fabs(r.measured) - fitted, u = in.instrument.u_mm(told);
    fit.readings.push_back({residual, u, std::fabs(residual) > 3 * u});
  }
  result.verdict = verdict_of(fit, in.tolerance_per_m);
  if (result.verdict == ScaleVerdict::gross_error || result.verdict == ScaleVerdict::apply)
    result.suspects =
        scale_suspects(fit.scale, fit.u_scale, result.verdict == ScaleVerdict::gross_error, in.transmission);
  result.fit = std::move(fit);
  result.advice = advice_for(result, in.readings.size());
  return result;
}

const char* name(ScaleVerdict verdict) {
  switch (verdict) {
    case ScaleVerdict::wrong_direction:
      return "wrong_direction";
    case ScaleVerdict::mixed_signs:
      return "mixed_signs";
    case ScaleVerdict::cannot_tell:
      return "cannot_tell";
    case ScaleVerdict::within_uncertainty:
      return "within_uncertainty";
    case ScaleVerdict::measure_longer:
      return "measure_longer";
    case ScaleVerdict::gross_error:
      return "gross_error";
    case ScaleVerdict::apply:
      return "apply";
  }
  return "";
}

std::string sentence(ScaleAdvice advice) {
  switch (advice) {
    case ScaleAdvice::reverse_the_axis:
      return "Every reading went the other way: reverse the axis first. That is not a matter of scale.";
    case ScaleAdvice::check_the_signs:
      return "Some readings went the other way: check their signs, or measure them again.";
    case ScaleAdvice::read_from_the_same_side:
      return "Add a reading whose mark is approached from the same side.";
    case ScaleAdvice::use_a_second_distance:
      return "Or add a reading over a second, much longer distance.";
    case ScaleAdvice::take_three_readings:
      return "Take at least three readings.";
    case ScaleAdvice::measure_longer:
      return "Measure over a longer distance, or with a finer instrument.";
    case ScaleAdvice::look_for_a_slip:
      return "The readings scatter more than this instrument explains; look for a slip, slack or a loose end.";
    case ScaleAdvice::check_flagged_readings:
      return "Measure the marked readings again; they fit the others badly.";
    case ScaleAdvice::check_the_drive:
      return "Check the drive before scaling this away: so large an error has a cause.";
    case ScaleAdvice::measure_again_after_applying:
      return "Apply, then measure again; stop when nothing is left to correct.";
    case ScaleAdvice::leave_it_alone:
      return "Leave it alone: the difference from 1 is within what the readings can tell.";
  }
  return "";
}

}  // namespace ypsi
