// Lost motion, squareness, tram.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/book/worksheets/bed.h"
#include "core/calibration/lost_motion.h"
#include "core/calibration/part_causes.h"
#include "core/calibration/periodic_error.h"
#include "core/calibration/squareness.h"
#include "core/calibration/tram.h"
#include "core/procedures/mark_points.h"
#include "core/procedures/stroke_readings.h"
#include "core/procedures/two_approaches.h"
#include "core/rehearsal/parts.h"
#include "core/rehearsal/span.h"
#include "core/tasks/lost_motion.h"
#include "core/tasks/squareness.h"

namespace ypsi::rehearsal {
namespace {

constexpr double edge_mm = 8;
constexpr int lost_motion_places = 7, few_places = 3;
constexpr double usual_turn_mm = 5;  // travel of a screw, where nothing tells it
constexpr double longest_seen_mm = 30, shortest_period_mm = 2, turns_told_apart = 0.7;

Result<LostMotionResult> lost_motion_of(Workshop& w, Axis axis, const Instrument& indicator, int places_wanted) {
  const Span span = span_of(w, axis);
  const double low = span.low + run_up_mm + 0.5, high = span.high - run_up_mm - 0.5;
  if (!(high > low))
    return fail("limit", fmt::format("{} has no room to arrive at a place from both sides.", letter(axis)));
  std::uniform_real_distribution<double> somewhere(low, high);
  std::vector<TurnRound> places;
  for (int i = 0; i < places_wanted; ++i) {
    TwoApproaches approach;
    if (auto ok = approach.start(w.link, axis, somewhere(w.random), rate(axis)); !ok)
      return tl::make_unexpected(ok.error());
    TurnRound turn;
    const auto read = [&]() -> Result<void> {
      const bool plus = approach.stage() == TwoApproaches::Stage::read_plus;
      if (plus) w.bench.mark(axis);
      const auto found = w.bench.read_distance(axis, indicator.name);
      if (!found) return tl::make_unexpected(found.error());
      (plus ? turn.arriving_plus : turn.arriving_minus) = *found;
      approach.go_on();
      return {};
    };
    if (auto ok = w.run(approach, read); !ok) return tl::make_unexpected(ok.error());
    places.push_back(turn);
  }
  return evaluate_lost_motion(places, indicator);
}

struct Repeating {
  double amplitude = 0, U = 0, period = 1;  ///< mm
};

/// What the axis repeats with every turn of its screw, pinion or pulley, over two turns and a bit; where the drive was
/// never entered, over a few centimetres, for the period that explains most.
Result<Repeating> periodic_error(Workshop& w, Axis axis, const Instrument& indicator, double reach) {
  const Span span = span_of(w, axis);
  const auto drive = drive_of(w, axis, w.book.machine.axis(axis).steps_per_mm);
  const double turn = drive ? travel_per_rev(*drive) : 0;
  const double start = span.low + run_up_mm;
  const double room = std::min(span.high - start, turn > 0 ? turns_read * turn : longest_seen_mm);
  StrokeReadings strokes;
  auto stops = stroke_stops(start, room / turns_read, reach - 1);
  if (auto ok = strokes.start(w.link, axis, std::move(stops), rate(axis)); !ok) return tl::make_unexpected(ok.error());
  std::vector<PeriodicReading> readings;
  const auto read = [&]() -> Result<void> {
    if (strokes.begins_a_stroke()) w.bench.mark(axis);
    const auto shown = w.bench.read_distance(axis, indicator.name);
    if (!shown) return tl::make_unexpected(shown.error());
    readings.push_back({w.link.status().position[axis], *shown, strokes.stop().stroke});
    strokes.go_on();
    return {};
  };
  if (auto ok = w.run(strokes, read); !ok) return tl::make_unexpected(ok.error());
  std::vector<double> periods;
  if (turn > 0)
    periods.push_back(turn);
  else
    for (double turns = 2; turns <= room / shortest_period_mm; turns += turns_told_apart)
      periods.push_back(room / turns);
  Repeating out;
  double least = 1e9;
  for (const double period : periods) {
    const auto found = evaluate_periodic(readings, period, indicator);
    if (!found) continue;
    double left = 0;
    for (const double r : found->residuals) left += r * r;
    if (left >= least) continue;
    least = left;
    // What the readings' own scatter makes of it is not the screw's.
    out = {std::sqrt(std::max(0.0, found->amplitude * found->amplitude - found->U * found->U)), found->U, period};
  }
  return out;
}

Result<SquareFit> measured_square(Workshop& w) {
  if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return tl::make_unexpected(ok.error());
  const double low_x = w.low(Axis::x) + edge_mm, low_y = w.low(Axis::y) + edge_mm;
  double width = w.high(Axis::x) - edge_mm - low_x, height = w.high(Axis::y) - edge_mm - low_y;
  const double diagonal = std::hypot(width, height);
  const auto chosen = w.best_for(diagonal);
  if (!chosen) return fail("no_instrument", "No instrument here can measure a diagonal.");
  // In the middle of the travel, where the lean is its mean where it changes along Y.
  const double part = chosen->reach / diagonal;
  const double x0 = low_x + width * (1 - part) / 2, y0 = low_y + height * (1 - part) / 2;
  width *= part;
  height *= part;
  SquareInput in;
  in.points = {{"A", {x0, y0}}, {"B", {x0 + width, y0}}, {"C", {x0 + width, y0 + height}}, {"D", {x0, y0 + height}}};
  in.instrument = chosen->instrument;
  in.rail_spacing = w.book.machine.rail_spacing;
  MarkPoints marks;
  MarkingWay way;
  way.lift_z = w.safe_z();
  way.mark_z = way.lift_z - 2;
  way.rate = rate_mm_min;
  if (auto ok = marks.start(w.link, in.points, way); !ok) return tl::make_unexpected(ok.error());
  std::size_t n = 0;
  const auto mark = [&]() -> Result<void> {
    // What was told is what the controller counts: whole steps.
    const MachinePosition at = w.link.status().position;
    in.points[n++].commanded = {at.x, at.y};
    if (auto ok = w.bench.spot(marks.point().name); !ok) return ok;
    marks.go_on();
    return {};
  };
  if (auto ok = w.run(marks, mark); !ok) return tl::make_unexpected(ok.error());
  // Sides say nothing about the lean.
  for (int repeat = 0; repeat < 3; ++repeat)
    for (const auto& [from, to] : {std::pair{0U, 2U}, {1U, 3U}}) {
      const auto read = w.bench.read_between(in.points[from].name, in.points[to].name, chosen->instrument.name);
      if (!read) return tl::make_unexpected(read.error());
      in.distances.push_back({from, to, std::fabs(*read), HoleEdge::center, 0});
    }
  const auto fit = fit_square(in);
  if (!fit) return tl::make_unexpected(fit.error());
  if (!fit->fit) return fail("cannot_tell", "The distances do not tell the lean.");
  return *fit->fit;
}

/// Lost motion of an axis, into what is told of the machine, into the record, and as it is left.
Result<void> lost_motion_on(Work& work, Axis axis, const Instrument& indicator, int places) {
  Workshop& w = work.w;
  if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return ok;
  const auto found = lost_motion_of(w, axis, indicator, places);
  if (!found) return tl::make_unexpected(found.error());
  RehearsedAxis& out = work.r.axes[index(axis)];
  if (!out.lost_motion) {  // as found; what is left after a nut was adjusted is the record's
    out.lost_motion = found->mean;
    out.u_lost_motion = found->u;
    out.U_lost_motion = found->U;
  }
  work.slack[index(axis)] = Known{found->mean, found->u};
  keep(work, lost_motion_id, std::string(1, letter(axis)),
       result_of(LostMotionEntry{.lost_motion = found->mean,
                                 .U = found->U,
                                 .k = found->coverage.k,
                                 .s = found->s,
                                 .largest = found->largest,
                                 .places = static_cast<double>(found->each.size())}));
  return {};
}

/// What the axis repeats with every turn, into the record and into what a place on it is sure to.
Result<Repeating> over_a_turn_on(Work& work, Axis axis, const Instrument& indicator) {
  if (std::sqrt(indicator.variance_mm2()) > usual_periodic_mm) {
    // It would tell its own scatter; what such screws do is a better guess, and is said to be one.
    work.r.problems.push_back(
        fmt::format("Lost motion: the {} is too coarse for what {} repeats with every turn; up to {:g} mm is assumed.",
                    indicator.name, letter(axis), usual_periodic_mm));
    const Repeating assumed{.amplitude = usual_periodic_mm / std::numbers::sqrt3, .period = usual_turn_mm};
    work.r.axes[index(axis)].place_u = assumed.amplitude / std::numbers::sqrt2;
    return assumed;
  }
  const auto repeats = periodic_error(work.w, axis, indicator, reach_of(indicator.name));
  if (!repeats) return repeats;
  work.r.axes[index(axis)].place_u = repeats->amplitude / std::numbers::sqrt2;
  keep(work, lost_motion_id, over_a_turn(axis),
       result_of(PeriodicEntry{.amplitude = repeats->amplitude, .U = repeats->U, .period = repeats->period}));
  return repeats;
}

}  // namespace

Verdict lost_motion(Work& work) {
  Workshop& w = work.w;
  const auto indicator = w.finest_for(5);
  if (!indicator) return fail("no_instrument", "No instrument here can measure lost motion.");
  std::string words;
  for (const Axis a : all_axes) {
    if (auto ok = lost_motion_on(work, a, *indicator, lost_motion_places); !ok) return tl::make_unexpected(ok.error());
    const auto periodic = over_a_turn_on(work, a, *indicator);
    if (!periodic) return tl::make_unexpected(periodic.error());
    RehearsedAxis& out = work.r.axes[index(a)];
    const double k = *out.U_lost_motion / *out.u_lost_motion, lost = *out.lost_motion;
    // What is lost differs with the place on a turn: it is met on another part of the screw from either side.
    const double differs = periodic->amplitude * 2 * std::numbers::pi * std::fabs(lost) / periodic->period;
    out.u_lost_motion = std::hypot(*out.u_lost_motion, differs / std::sqrt(2.0 * lost_motion_places));
    out.U_lost_motion = k * *out.u_lost_motion;
    work.slack[index(a)] = Known{lost, *out.u_lost_motion};
    words += fmt::format("{}{} {:.3f} mm", words.empty() ? "" : ", ", letter(a), lost);
  }
  return words;
}

Verdict squareness(Work& work) {
  Workshop& w = work.w;
  const auto found = measured_square(w);
  if (!found) return tl::make_unexpected(found.error());
  work.r.skew = found->skew;
  work.r.U_skew = found->U_skew;
  const auto kept = [&](const SquareFit& fit) {
    keep(work, squareness_id, {},
         result_of(
             SquarenessEntry{.skew_mrad = fit.skew * 1000, .U_skew_mrad = fit.U_skew * 1000, .k = fit.coverage.k}));
  };
  kept(*found);
  if (std::fabs(found->skew) <= found->U_skew) return std::string("square within its uncertainty");
  if (!found->gantry) {
    work.r.problems.push_back("Squareness: the rails' distance is not known, so the beam was not moved.");
    return std::string("out of square");
  }
  const GantryMove& move = *found->gantry;
  w.bench.move_rail_end(move.right ? RailEnd::right : RailEnd::left,
                        move.towards_plus ? move.distance : -move.distance);
  if (auto ok = w.home(); !ok) return tl::make_unexpected(ok.error());
  const auto after = measured_square(w);
  if (!after) return tl::make_unexpected(after.error());
  kept(*after);
  return fmt::format("adjusted from {:+.2f} to {:+.2f} mrad", found->skew * 1000, after->skew * 1000);
}

Result<void> better_lost_motion(Work& work, const BudgetShare& cause) {
  const auto indicator = work.w.finest_for(5);
  if (!indicator) return fail("no_instrument", "No instrument here can measure lost motion.");
  if (cause.cause == periodic_cause(index(*cause.axis))) {
    if (auto ok = work.w.go(Axis::z, work.w.safe_z()); !ok) return ok;
    const auto repeats = over_a_turn_on(work, *cause.axis, *indicator);
    if (!repeats) return tl::make_unexpected(repeats.error());
    return {};
  }
  if (auto ok = lost_motion_on(work, *cause.axis, *indicator, few_places); !ok) return ok;
  if (!(work.slack[index(*cause.axis)]->value > slack_worth_mm)) return {};
  work.w.bench.adjust_nut(*cause.axis);
  return lost_motion_on(work, *cause.axis, *indicator, few_places);
}

Result<void> better_squareness(Work& work, const BudgetShare&) {
  const auto done = squareness(work);
  if (!done) return tl::make_unexpected(done.error());
  return {};
}

Verdict tram(Work& work) {
  Workshop& w = work.w;
  const auto indicator = w.finest_for(5);
  if (!indicator) return fail("no_instrument", "No instrument here can be swept over the bed.");
  TramInput in;
  in.radius = 60;
  in.bolt_spacing_x = w.book.worksheets[bed_worksheet].bolt_spacing_x_mm;
  in.bolt_spacing_y = w.book.worksheets[bed_worksheet].bolt_spacing_y_mm;
  in.cutter_diameter = w.book.worksheets[bed_worksheet].cutter_mm;
  in.stepover = w.book.worksheets[bed_worksheet].stepover_mm;
  for (int i = 0; i < 12; ++i) {
    const auto read = w.bench.read_sweep(in.radius, 30.0 * i, indicator->name);
    if (!read) return tl::make_unexpected(read.error());
    in.sweep.push_back({i * std::numbers::pi / 6, *read});
  }
  const auto found = evaluate_tram(in);
  if (!found) return tl::make_unexpected(found.error());
  return fmt::format("leans {:+.2f}, {:+.2f} mrad; shims {:.2f}, {:.2f} mm", found->tilt_x * 1000, found->tilt_y * 1000,
                     found->shim_x, found->shim_y);
}

}  // namespace ypsi::rehearsal
