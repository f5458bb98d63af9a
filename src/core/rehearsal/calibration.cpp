// Steps per unit, lost motion, squareness, tram.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/book/changes.h"
#include "core/book/worksheets/bed.h"
#include "core/book/worksheets/scale.h"
#include "core/calibration/lost_motion.h"
#include "core/calibration/periodic_error.h"
#include "core/calibration/scale.h"
#include "core/calibration/squareness.h"
#include "core/calibration/suspects.h"
#include "core/calibration/tram.h"
#include "core/metrology/spread.h"
#include "core/procedures/mark_points.h"
#include "core/procedures/measured_move.h"
#include "core/procedures/stroke_readings.h"
#include "core/procedures/two_approaches.h"
#include "core/rehearsal/parts.h"

namespace ypsi::rehearsal {
namespace {

constexpr double rate_mm_min = 3000, z_rate_mm_min = 900, edge_mm = 8, above_mm = 6;
constexpr int first_readings = 8, readings_after = 4, lost_motion_places = 7, rounds_at_most = 3;
constexpr double longest_seen_mm = 30, shortest_period_mm = 2, turns_told_apart = 0.7;
constexpr double gross_scale = 0.05, least_rough_mm = 2;
constexpr double drive_explains = 0.02;  // the drive of the book is the machine's where it gives the setting so nearly

double rate(Axis axis) {
  return axis == Axis::z ? z_rate_mm_min : rate_mm_min;
}

/// Where an axis may be taken for measuring: within its limits, Z not down to what lies below.
struct Span {
  double low = 0, high = 0;
  double size() const { return high - low; }
};
Span span_of(Workshop& w, Axis axis) {
  Span s{w.low(axis) + 0.5, w.high(axis) - 0.5};
  if (axis == Axis::z)
    s.low = std::max(s.low, w.link.status().position.z - std::max(0.0, w.bench.gap_seen() - above_mm));
  return s;
}

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

/// The book's drive, where it gives these steps; one that was never entered gives others.
std::optional<Transmission> drive_of(const Workshop& w, Axis axis, double steps) {
  const DriveTrain& entered = w.book.machine.axis(axis).drive;
  const auto gives = steps_per_unit(entered);
  if (!gives || std::fabs(gives->steps_per_unit / steps - 1) > drive_explains) return std::nullopt;
  return entered.transmission;
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

Result<void> steps_of(Work& work, Axis axis) {
  Workshop& w = work.w;
  auto& readings = w.book.worksheets[scale_worksheets][index(axis)].readings;
  readings.clear();
  ScaleResult found;
  for (int round = 0; round < rounds_at_most; ++round) {
    if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return ok;
    const Span span = span_of(w, axis);
    const auto chosen = w.best_for(span.size() - take_up_mm - 1);
    if (!chosen || !(chosen->reach > 1)) return fail("no_instrument", "No instrument here can measure a move.");
    std::uniform_real_distribution<double> part(0.6, 1), somewhere(0, 1);
    for (int i = 0; i < (round == 0 ? first_readings : readings_after); ++i) {
      const double distance = chosen->reach * part(w.random), free = span.size() - distance - take_up_mm;
      const bool plus = axis != Axis::z && i % 2 == 0;
      const double start = plus ? span.low + somewhere(w.random) * free : span.high - somewhere(w.random) * free;
      if (auto ok = w.go(axis, start); !ok) return ok;
      const auto reading = read_move(w, axis, plus ? distance : -distance, chosen->instrument);
      if (!reading) return tl::make_unexpected(reading.error());
      readings.push_back(*reading);
    }
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
      if (round > 0) break;
      continue;  // once more after nothing was changed: the verdict is held against fresh readings
    }
    if (auto ok = set_steps(w, axis, found.fit->new_steps); !ok) return ok;
  }
  readings.clear();
  tell_gross(work, axis, *found.fit);
  return {};
}

Result<LostMotionResult> lost_motion_of(Workshop& w, Axis axis, const Instrument& indicator) {
  const Span span = span_of(w, axis);
  const double low = span.low + run_up_mm + 0.5, high = span.high - run_up_mm - 0.5;
  if (!(high > low))
    return fail("limit", fmt::format("{} has no room to arrive at a place from both sides.", letter(axis)));
  std::uniform_real_distribution<double> somewhere(low, high);
  std::vector<TurnRound> places;
  for (int i = 0; i < lost_motion_places; ++i) {
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
  double amplitude = 0, period = 1;  ///< mm
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
    out = {std::sqrt(std::max(0.0, found->amplitude * found->amplitude - found->U * found->U)), period};
  }
  return out;
}

Result<SquareFit> measured_square(Workshop& w) {
  if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return tl::make_unexpected(ok.error());
  const double x0 = w.low(Axis::x) + edge_mm, y0 = w.low(Axis::y) + edge_mm;
  double width = w.high(Axis::x) - edge_mm - x0, height = w.high(Axis::y) - edge_mm - y0;
  const double diagonal = std::hypot(width, height);
  const auto chosen = w.best_for(diagonal);
  if (!chosen) return fail("no_instrument", "No instrument here can measure a diagonal.");
  width *= chosen->reach / diagonal;
  height *= chosen->reach / diagonal;
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

}  // namespace

double relative_scale_U(const Work& work, Axis axis) {
  const RehearsedAxis& found = work.r.axes[index(axis)];
  if (!found.steps_per_mm || !found.U_steps) return 0;
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
  const auto instrument = w.finest_for(50);
  if (!instrument) return fail("no_instrument", "No instrument here can measure a short move.");
  const auto free = free_way(w, axis, inward > 0);
  if (!free) return tl::make_unexpected(free.error());
  // First short, since a wrong lead makes a short move a long one.
  for (const double wanted : {6.0, 25.0}) {
    const double longest = std::min(wanted, std::max(least_rough_mm, std::fabs(*free) / 2));
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
    if (found->verdict == ScaleVerdict::gross_error || found->verdict == ScaleVerdict::apply)
      if (auto ok = set_steps(w, axis, found->fit->new_steps); !ok) return ok;
  }
  return {};
}

Verdict steps(Work& work) {
  for (const Axis a : all_axes)
    if (auto ok = steps_of(work, a); !ok) return tl::make_unexpected(ok.error());
  return std::string("applied, and measured again");
}

Verdict lost_motion(Work& work) {
  Workshop& w = work.w;
  const auto indicator = w.finest_for(5);
  if (!indicator) return fail("no_instrument", "No instrument here can measure lost motion.");
  std::string words;
  for (const Axis a : all_axes) {
    if (auto ok = w.go(Axis::z, w.safe_z()); !ok) return tl::make_unexpected(ok.error());
    const auto found = lost_motion_of(w, a, *indicator);
    if (!found) return tl::make_unexpected(found.error());
    RehearsedAxis& out = work.r.axes[index(a)];
    out.lost_motion = found->mean;
    out.u_lost_motion = found->u;
    out.U_lost_motion = found->U;
    const auto periodic = periodic_error(w, a, *indicator, reach_of(indicator->name));
    if (!periodic) return tl::make_unexpected(periodic.error());
    out.place_u = periodic->amplitude / std::numbers::sqrt2;
    // What is lost differs with the place on a turn: it is met on another part of the screw from either side.
    const double differs = periodic->amplitude * 2 * std::numbers::pi * std::fabs(found->mean) / periodic->period;
    out.u_lost_motion = std::hypot(found->u, differs / std::sqrt(2.0 * lost_motion_places));
    out.U_lost_motion = found->coverage.k * *out.u_lost_motion;
    words += fmt::format("{}{} {:.3f} mm", words.empty() ? "" : ", ", letter(a), found->mean);
  }
  return words;
}

Verdict squareness(Work& work) {
  Workshop& w = work.w;
  const auto found = measured_square(w);
  if (!found) return tl::make_unexpected(found.error());
  work.r.skew = found->skew;
  work.r.U_skew = found->U_skew;
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
  return fmt::format("adjusted from {:+.2f} to {:+.2f} mrad", found->skew * 1000, after->skew * 1000);
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
