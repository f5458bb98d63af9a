// Steps per unit: roughly after the first homing, then as finely as wanted.
#include <fmt/format.h>

#include <cmath>

#include "core/book/changes.h"
#include "core/book/worksheets/scale.h"
#include "core/calibration/next_reading.h"
#include "core/calibration/scale.h"
#include "core/calibration/suspects.h"
#include "core/procedures/measured_move.h"
#include "core/rehearsal/parts.h"
#include "core/rehearsal/span.h"
#include "core/tasks/steps_per_unit.h"

namespace ypsi::rehearsal {
namespace {

constexpr int first_readings = 8, readings_after = 4, rounds_at_most = 3;
// Where the part alone counts: what shows the scale, and that its error is gone.
constexpr int fewest_readings = 3, most_readings = 24, seen_gone = 2;
constexpr double worth_a_reading = 0.97, share_of_tolerance = 0.5;
constexpr double drive_explains = 0.02;  // the drive of the book is the machine's where it gives the setting so nearly
constexpr double gross_scale = 0.05, least_rough_mm = 2, rough_enough = 0.01, short_mm = 25;

ScaleInput scale_input(const Workshop& w, Axis axis, const Instrument& instrument, std::vector<ScaleReading> readings) {
  ScaleInput in;
  in.current_steps = w.book.machine.axis(axis).steps_per_mm;
  in.instrument = instrument;
  in.readings = std::move(readings);
  return in;
}

std::string named(const std::vector<Suspect>& suspects) {
  return suspects.empty() ? std::string("nothing usual explains it")
                          : fmt::format("it looks like {} ({:g})", suspects.front().cause, suspects.front().factor);
}

/// What an axis was off by as it was found, where that was more than a scale: told once, when it is known.
void tell_gross(Work& work, Axis axis, const ScaleFit& fit) {
  const double first = work.first_steps[index(axis)], scale = first / fit.new_steps;
  if (std::fabs(scale - 1) <= gross_scale) return;
  const auto drive = drive_of(work.w, axis, first);
  const auto suspects = scale_suspects(scale, scale * fit.U_new_steps / fit.new_steps, true, drive);
  work.r.problems.push_back(
      fmt::format("Steps per unit: {} is off by a factor of {:.4f}; {}.", letter(axis), scale, named(suspects)));
}

Result<ScaleReading> read_move(Workshop& w, Axis axis, double distance, const Instrument& instrument) {
  MeasuredMove move;
  if (auto ok = move.start(w.link, &w.bench, axis, distance, rate(axis)); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = w.run(move); !ok) return tl::make_unexpected(ok.error());
  const auto read = w.bench.read_distance(axis, instrument.name);
  if (!read) return tl::make_unexpected(read.error());
  return ScaleReading{move.told(), *read, false};
}

/// How long the next move is, of `reach` mm at most; none where another tells hardly more, or the scale is known well
/// enough.
std::optional<double> worth_reading(const ScaleInput& so_far, double reach) {
  const auto now = fit_scale(so_far);
  if (static_cast<int>(so_far.readings.size()) < fewest_readings || !now || !now->fit) return reach;
  const double U_per_m = now->fit->U_scale / now->fit->scale * 1000;
  const auto next = next_reading(so_far, reach);
  if (!next || U_per_m <= *so_far.tolerance_per_m || next->U_per_m > worth_a_reading * U_per_m) return std::nullopt;
  return next->distance;
}

/// Moves of `chosen` added to the readings: so many anywhere in the span, or as few as tell the scale to
/// `wanted_per_m`.
Result<void> read_moves(Workshop& w, Axis axis, const Chosen& chosen, std::optional<double> wanted_per_m, int round,
                        std::vector<ScaleReading>& readings) {
  const Span span = span_of(w, axis);
  std::uniform_real_distribution<double> part(0.6, 1), somewhere(0, 1);
  const int most = !wanted_per_m ? (round == 0 ? first_readings : readings_after)
                   : round == 0  ? most_readings
                                 : seen_gone;
  for (int i = 0; i < most; ++i) {
    double distance = chosen.reach * (wanted_per_m ? 1 : part(w.random));
    if (wanted_per_m && round == 0) {
      ScaleInput so_far = scale_input(w, axis, chosen.instrument, readings);
      so_far.tolerance_per_m = wanted_per_m;
      const auto next = worth_reading(so_far, chosen.reach);
      if (!next) return {};
      distance = *next;
    }
    const double free = span.size() - distance - take_up_mm;
    const bool plus = axis != Axis::z && i % 2 == 0;
    const double start = plus ? span.low + somewhere(w.random) * free : span.high - somewhere(w.random) * free;
    if (auto ok = w.go(axis, start); !ok) return ok;
    const auto reading = read_move(w, axis, plus ? distance : -distance, chosen.instrument);
    if (!reading) return tl::make_unexpected(reading.error());
    readings.push_back(*reading);
  }
  return {};
}

}  // namespace

std::optional<Transmission> drive_of(const Workshop& w, Axis axis, double steps) {
  const DriveTrain& entered = w.book.machine.axis(axis).drive;
  const auto gives = steps_per_unit(entered);
  if (!gives || std::fabs(gives->steps_per_unit / steps - 1) > drive_explains) return std::nullopt;
  return entered.transmission;
}

Result<void> steps_of(Work& work, Axis axis, std::optional<double> wanted_per_m) {
  Workshop& w = work.w;
  auto& readings = w.book.worksheets[scale_worksheets][index(axis)].readings;
  readings.clear();
  const double before = w.book.machine.axis(axis).steps_per_mm;
  ScaleResult found;
  for (int round = 0; round < rounds_at_most; ++round) {
    if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return ok;
    const auto chosen = w.best_for(span_of(w, axis).size() - take_up_mm - 1);
    if (!chosen || !(chosen->reach > 1)) return fail("no_instrument", "No instrument here can measure a move.");
    if (auto ok = read_moves(w, axis, *chosen, wanted_per_m, round, readings); !ok) return ok;
    const auto fit = fit_scale(scale_input(w, axis, chosen->instrument, readings));
    if (!fit) return tl::make_unexpected(fit.error());
    found = *fit;
    if (!found.fit)
      return fail(name(found.verdict), fmt::format("{}'s moves and their lengths do not tell its scale ({}).",
                                                   letter(axis), name(found.verdict)));
    if (found.fit->coverage.scatter_exceeds_claim && round == 0)
      work.r.problems.push_back(
          fmt::format("Steps per unit: the readings of {} scatter more than the {} explains; look for a screw's "
                      "periodic error, slack, a loose end.",
                      letter(axis), chosen->instrument.name));
    RehearsedAxis& out = work.r.axes[index(axis)];
    out.steps_per_mm = found.fit->new_steps;
    out.U_steps = found.fit->U_new_steps;
    if (found.verdict != ScaleVerdict::apply && found.verdict != ScaleVerdict::gross_error) {
      if (round > 0 || wanted_per_m) break;
      continue;  // once more after nothing was changed: the verdict is held against fresh readings
    }
    if (auto ok = set_steps(w, axis, found.fit->new_steps); !ok) return ok;
  }
  readings.clear();
  tell_gross(work, axis, *found.fit);
  keep_steps(work, axis, result_of(steps_entry(found)), before, w.book.machine.axis(axis).steps_per_mm);
  return {};
}

double relative_scale_U(const Work& work, Axis axis) {
  const RehearsedAxis& found = work.r.axes[index(axis)];
  if (!found.steps_per_mm || !found.U_steps) return work.rough_U[index(axis)];
  return *found.U_steps / *found.steps_per_mm +
         std::fabs(work.w.book.machine.axis(axis).steps_per_mm / *found.steps_per_mm - 1);
}

Result<void> set_steps_unhomed(Workshop& w, Axis axis, double steps) {
  if (auto ok = w.link.set_setting(axis_setting(axis, "steps_per_mm"), steps); !ok) return ok;
  change_steps_per_mm(w.book, axis, steps);
  return {};
}

Result<void> set_steps(Workshop& w, Axis axis, double steps) {
  if (auto ok = set_steps_unhomed(w, axis, steps); !ok) return ok;
  if (const AxisSetup& now = w.book.machine.axis(axis); now.soft_min && now.soft_max)
    if (auto ok = w.set_soft_limits(axis, *now.soft_min, *now.soft_max); !ok) return ok;
  return w.home();
}

Result<void> rough_steps(Work& work, Axis axis) {
  Workshop& w = work.w;
  const double inward = w.book.machine.axis(axis).home_at_max ? -1 : 1;
  const auto free = free_way(w, axis, inward > 0);
  if (!free) return tl::make_unexpected(free.error());
  // First short, since a wrong lead makes a short move a long one; last long, where a coarse rule needs it.
  for (const double wanted : {6.0, short_mm, 200.0}) {
    if (wanted > short_mm && work.rough_U[index(axis)] <= rough_enough) break;
    const double longest = std::min(wanted, std::max(least_rough_mm, std::fabs(*free) / 2));
    const auto instrument = w.finest_for(std::max(longest, 2 * short_mm));
    if (!instrument) return fail("no_instrument", "No instrument here can measure a short move.");
    std::vector<ScaleReading> readings;
    const double start = w.link.status().position[axis];  // by its switch, where there is room ahead
    for (const double part : {0.8, 0.9, 1.0}) {
      if (auto ok = w.go(axis, start); !ok) return ok;
      const auto reading = read_move(w, axis, inward * longest * part, *instrument);
      if (!reading) return tl::make_unexpected(reading.error());
      readings.push_back(*reading);
    }
    const auto found = fit_scale(scale_input(w, axis, *instrument, readings));
    if (!found) return tl::make_unexpected(found.error());
    if (!found->fit)
      return fail(name(found->verdict),
                  fmt::format("{}'s first moves do not tell its scale ({}).", letter(axis), name(found->verdict)));
    const bool applies = found->verdict == ScaleVerdict::gross_error || found->verdict == ScaleVerdict::apply;
    const double left = applies ? 0 : std::fabs(found->fit->scale - 1);
    work.rough_U[index(axis)] = found->fit->U_scale / found->fit->scale + left;
    if (applies)
      if (auto ok = set_steps(w, axis, found->fit->new_steps); !ok) return ok;
  }
  return {};
}

Verdict steps(Work& work) {
  for (const Axis a : all_axes)
    if (auto ok = steps_of(work, a); !ok) return tl::make_unexpected(ok.error());
  return std::string("applied, and measured again");
}

Result<void> better_steps(Work& work, const BudgetShare& cause) {
  const double part = *cause.axis == Axis::x ? work.w.book.job.part_width : work.w.book.job.part_height;
  const double tolerance = work.w.book.job.part_tolerance.value_or(usual_part_tolerance);
  return steps_of(work, *cause.axis, share_of_tolerance * tolerance / part * 1000);
}

}  // namespace ypsi::rehearsal
