#include "app/sheets/steps_words.h"

#include <QCoreApplication>
#include <algorithm>
#include <cmath>

#include "app/session/entry_text.h"
#include "app/session/phrases.h"
#include "app/session/session.h"
#include "app/to_q.h"
#include "core/calibration/scale.h"

namespace ypsi::app {
namespace {

struct StepsText {
  Q_DECLARE_TR_FUNCTIONS(steps)
};
QString fixed(double v, int d) {
  return to_q(format_number(v, d));
}

QString arithmetic(const ScaleInput& in) {
  const ScaleReading& last = in.readings.back();
  return StepsText::tr("Last reading alone: %1 × %2 / %3 = %4")
      .arg(as_short(in.current_steps), as_short(std::fabs(last.commanded)), as_short(std::fabs(last.measured)),
           fixed(in.current_steps * std::fabs(last.commanded / last.measured), 2));
}

}  // namespace

QString suspect_words(const Suspect& s, const ScaleInput& in) {
  const QString factor = as_short(s.factor);
  if (s.cause == "microsteps")
    return StepsText::tr("microsteps: the driver is set to 1/%1 of what the book says").arg(factor);
  if (s.cause == "inch_mm") return StepsText::tr("inches taken for millimetres (25.4)");
  const auto* transmission = in.transmission ? &*in.transmission : nullptr;
  if (s.cause == "screw_lead" && transmission && std::holds_alternative<Screw>(*transmission))
    return StepsText::tr("a screw of %1 mm lead instead of %2")
        .arg(as_short(std::get<Screw>(*transmission).lead_mm * s.factor),
             as_short(std::get<Screw>(*transmission).lead_mm));
  if (s.cause == "pulley_teeth" && transmission) {
    const double teeth = std::holds_alternative<Belt>(*transmission)   ? std::get<Belt>(*transmission).teeth
                         : std::holds_alternative<Rack>(*transmission) ? std::get<Rack>(*transmission).teeth
                                                                       : 0;
    return StepsText::tr("%1 teeth instead of %2").arg(as_short(teeth * s.factor), as_short(teeth));
  }
  if (s.cause == "belt_pitch" && transmission && std::holds_alternative<Belt>(*transmission))
    return StepsText::tr("a belt of %1 mm pitch instead of %2")
        .arg(as_short(std::get<Belt>(*transmission).pitch_mm * s.factor),
             as_short(std::get<Belt>(*transmission).pitch_mm));
  if (s.cause == "helical_rack") return StepsText::tr("a helical rack taken for a straight one, or the reverse");
  return to_q(s.cause);
}

StepsWords describe(const ScaleInput& in, const ScaleResult& result, char axis, double part_mm, double longest_mm,
                    LengthUnit unit) {
  StepsWords w;
  const QString name(QChar{axis});
  w.lead = StepsText::tr("%1 needs").arg(name);
  QStringList advice;
  if (!result.fit) {
    w.good = false;
    w.figure = "?";
    w.was = StepsText::tr("is %1 now").arg(as_short(in.current_steps));
    if (result.verdict == ScaleVerdict::wrong_direction)
      w.verdict = StepsText::tr("%1 runs the wrong way.").arg(name);
    else if (result.verdict == ScaleVerdict::mixed_signs) {
      QStringList rows;
      for (const auto i : result.odd_signs) rows << QString::number(i + 1);
      w.verdict = StepsText::tr("Some readings go the other way: number %1.").arg(rows.join(", "));
    } else
      w.verdict = StepsText::tr("These readings cannot tell the scale from the lost motion.");
    for (const auto a : result.advice) advice << StepsText::tr(sentence(a).c_str());
    w.explanation = advice.join("\n");
    return w;
  }
  const ScaleFit& fit = *result.fit;
  w.figure = steps_text(fit.new_steps, fit.U_new_steps);
  const auto n = in.readings.size();
  const QString was = as_short(in.current_steps);
  const bool rotary = unit == LengthUnit::degree;
  const QString per = rotary ? StepsText::tr("steps per degree") : StepsText::tr("steps per mm");
  w.was = n == 1 ? StepsText::tr("%1; was %2, from one reading").arg(per, was)
                 : StepsText::tr("%1; was %2, all %3 readings weighted").arg(per, was, QString::number(n));
  const double percent = (fit.scale - 1) * 100;
  const QString moved = percent > 0
                            ? StepsText::tr("The axis travels %1 % too far.").arg(fixed(std::fabs(percent), 2))
                            : StepsText::tr("The axis travels %1 % too short.").arg(fixed(std::fabs(percent), 2));
  const QString sure = StepsText::tr("±%1 steps, for about 95 %.")
                           .arg(fixed(fit.U_new_steps, std::min(decimals_for(fit.U_new_steps, 2), 4)));
  switch (result.verdict) {
    case ScaleVerdict::within_uncertainty:
      w.verdict = StepsText::tr("Leave it as it is.\nThe difference is within %1").arg(sure);
      break;
    case ScaleVerdict::measure_longer:
      w.verdict = StepsText::tr("Too coarse to say it is right.");
      w.good = false;
      break;
    case ScaleVerdict::gross_error:
      w.verdict = moved + "\n" + StepsText::tr("That has a cause: find it before you apply.");
      w.good = false;
      break;
    default:
      w.verdict = moved + "\n" + StepsText::tr("Sure enough to apply: %1").arg(sure);
  }
  QStringList lines;
  if (!result.suspects.empty()) {
    QStringList names;
    for (std::size_t i = 0; i < std::min<std::size_t>(3, result.suspects.size()); ++i)
      names << "• " + suspect_words(result.suspects[i], in);
    lines << StepsText::tr("It looks like") + "\n" + names.join("\n");
  }
  if (n > 1) {
    const auto [low, high] = std::minmax_element(
        in.readings.begin(), in.readings.end(),
        [](const auto& a, const auto& b) { return std::fabs(a.commanded) < std::fabs(b.commanded); });
    const QString range = StepsText::tr("%1–%2 %3")
                              .arg(to_q(format_length(std::fabs(low->commanded), unit, 0)),
                                   to_q(format_length(std::fabs(high->commanded), unit, 0)), to_q(unit_name(unit)));
    lines << (fit.coverage.scatter_exceeds_claim
                  ? StepsText::tr(
                        "%1 readings over %2 scatter more than the %3 explains; look for a slip, slack or a loose end.")
                  : StepsText::tr("%1 readings over %2 agree within what the %3 can show."))
                 .arg(n)
                 .arg(range, to_q(in.instrument.name));
  }
  const auto len = [&](double mm) { return to_q(format_length(mm, unit, 2)); };
  if (fit.lost_motion)
    lines << StepsText::tr("Lost motion found with it: %1 ± %2 %3.")
                 .arg(len(*fit.lost_motion), len(*fit.U_lost_motion), to_q(unit_name(unit)));
  lines << arithmetic(in);
  const double now_off = std::fabs(fit.scale - 1) * part_mm, then_off = fit.U_scale / fit.scale * part_mm;
  lines << (rotary
                ? StepsText::tr("Over one turn: %1° off now, below %2° after.").arg(len(now_off), len(then_off))
                : StepsText::tr("On a %1 %2 part: %3 off now, below %4 after.")
                      .arg(to_q(format_length(part_mm, unit, 0)), to_q(unit_name(unit)), len(now_off), len(then_off)));
  for (const auto a : result.advice)
    if (a == ScaleAdvice::take_three_readings || a == ScaleAdvice::check_flagged_readings ||
        a == ScaleAdvice::measure_longer)
      advice << StepsText::tr(sentence(a).c_str());
  if (result.recommended_distance && in.tolerance_per_m && fit.U_scale * 1000 > *in.tolerance_per_m)
    advice << (*result.recommended_distance <= longest_mm
                   ? StepsText::tr("For %1 one reading should be over %2 %3 or more.")
                   : StepsText::tr(
                         "For %1 add long readings, or take a finer instrument: one reading with this one would need "
                         "%2 %3."))
                  .arg(rotary ? StepsText::tr("%1° per 1000°").arg(as_short(*in.tolerance_per_m))
                              : StepsText::tr("%1 mm per m").arg(as_short(*in.tolerance_per_m)),
                       to_q(format_length(std::ceil(*result.recommended_distance / 10) * 10, unit, 0)),
                       to_q(unit_name(unit)));
  w.explanation = (lines + advice).join("\n");
  return w;
}

}  // namespace ypsi::app
