// Build to Homing repeat: what is done before anything is measured finely.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/calibration/homing.h"
#include "core/calibration/limits.h"
#include "core/procedures/direction_check.h"
#include "core/procedures/homing_repeat.h"
#include "core/procedures/input_watch.h"
#include "core/procedures/travel.h"
#include "core/rehearsal/parts.h"

namespace ypsi::rehearsal {
namespace {

constexpr double press_s = 0.1, clearance_mm = 2, homing_tolerance_mm = 0.05;
constexpr double first_seek_mm_min = 300;
constexpr int homing_trials = 10;
// A wrong lead makes a short nudge a long move, or a long one hardly any.
constexpr std::array nudges_mm{0.5, nudge_mm, 10.0, 10.0, 10.0, 10.0, 10.0};
constexpr double others_seen_mm = 1.2, moved_seen_mm = 2, least_seen_mm = 1;  // by eye
constexpr double seen_short = 0.6, seen_long = 1.6;
constexpr double anywhere_mm = 20000, along_an_axis_mm = 1000;

void press(Bench& bench, InputId input, bool on) {
  switch (input) {
    case InputId::probe:
      bench.lay_plate(on ? PlatePlace::at_cutter : PlatePlace::away);
      break;
    case InputId::emergency_stop:
      bench.press_emergency_stop(on);
      break;
    default:
      bench.hold_switch(all_axes[static_cast<std::size_t>(input)], on);
  }
}

std::string words(InputId input) {
  return input == InputId::probe ? "the probe"
         : input == InputId::emergency_stop
             ? "the emergency stop"
             : fmt::format("the switch of {}", letter(all_axes[static_cast<std::size_t>(input)]));
}

InputVerdict try_input(Workshop& w, InputWatch& watch, InputId input) {
  const auto look = [&] {
    w.wait(press_s);
    watch.see(w.link.status().inputs);
  };
  look();
  watch.ask(input);
  press(w.bench, input, true);
  look();
  press(w.bench, input, false);
  look();
  if (watch.asked()) watch.pressed();
  return watch[input].verdict;
}

/// Limits as they follow from where the stops are seen, `spare` mm more off the far one.
Result<LimitsInput> seen_travel(Workshop& w, Axis axis) {
  const AxisSetup& setup = w.book.machine.axis(axis);
  const double at = w.link.status().position[axis];
  const auto far = free_way(w, axis, !setup.home_at_max), near = free_way(w, axis, setup.home_at_max);
  if (!far) return tl::make_unexpected(far.error());
  if (!near) return tl::make_unexpected(near.error());
  LimitsInput in;
  in.home_at_max = setup.home_at_max;
  in.home_coordinate = setup.home_coordinate;
  const double from_switch = std::fabs(at - in.home_coordinate);
  in.travel = from_switch + std::fabs(*far);
  in.overtravel_home = std::max(0.0, std::fabs(*near) - from_switch);
  in.pull_off = w.setting(axis, "pull_off_mm");
  in.clearance_home = std::min(1.0, *in.pull_off / 2);
  in.seek_rate = w.setting(axis, "home_seek_mm_min");
  in.max_rate = setup.max_rate;
  in.unguarded_rate = in.seek_rate;
  in.acceleration = setup.acceleration;
  in.latency = reaction_s;
  in.clearance_far = clearance_mm + stopping_distance(in.unguarded_rate, in.acceleration, in.latency);
  return in;
}

/// Sets soft limits in the controller and the book; `spare` mm are left out at the far end besides.
Result<LimitsResult> set_limits(Workshop& w, Axis axis, LimitsInput in, double spare) {
  in.clearance_far += spare;
  const LimitsResult found = evaluate_limits(in);
  if (!(found.usable > 0))
    return fail("no_usable_travel", fmt::format("{} has no usable travel between its stops.", letter(axis)));
  if (auto ok = w.set_soft_limits(axis, found.soft_min, found.soft_max); !ok) return tl::make_unexpected(ok.error());
  AxisSetup& setup = w.book.machine.axis(axis);
  setup.travel = in.travel;
  setup.soft_min = found.soft_min;
  setup.soft_max = found.soft_max;
  return found;
}

/// What the eye sees of a nudge.
struct Seen {
  double told = 0, went = 0;  ///< mm, went in the direction told
  bool moved = false, others = false;
};

/// Nudges an axis a little, then further, until it is seen to move.
Result<Seen> nudged(Workshop& w, DirectionCheck& check, Axis axis) {
  Seen seen;
  const auto before = w.bench.tool_seen();
  for (const double length : nudges_mm) {
    if (auto ok = check.nudge(w.link, axis, length); !ok) return tl::make_unexpected(ok.error());
    if (auto ok = w.settle(); !ok) return tl::make_unexpected(ok.error());
    const auto after = w.bench.tool_seen();
    seen.told += length;
    seen.went = (after[index(axis)] - before[index(axis)]) * check.way();
    for (const Axis a : all_axes)
      if (a != axis && std::fabs(after[index(a)] - before[index(a)]) > others_seen_mm) seen.others = true;
    if (std::fabs(seen.went) > moved_seen_mm || seen.others) break;
  }
  seen.moved = std::fabs(seen.went) > least_seen_mm;
  return seen;
}

}  // namespace

Result<double> free_way(Workshop& w, Axis axis, bool towards_plus) {
  const auto ruler = w.finest_for(along_an_axis_mm);
  if (!ruler) return fail("no_instrument", "There is no ruler or tape to measure the travel with.");
  return w.bench.read_free_way(axis, towards_plus, ruler->name);
}

Verdict inputs(Work& work) {
  Workshop& w = work.w;
  InputWatch watch;
  std::string turned;
  for (const InputId input : all_inputs) {
    InputVerdict verdict = try_input(w, watch, input);
    if (verdict == InputVerdict::reversed && !inverting_setting(input).empty()) {
      const std::string setting = inverting_setting(input);
      const auto now = w.link.setting(setting);
      if (!now) return tl::make_unexpected(now.error());
      if (auto ok = w.link.set_setting(setting, *now != 0 ? 0 : 1); !ok) return tl::make_unexpected(ok.error());
      work.r.problems.push_back(fmt::format("Inputs: {} was on at rest; its polarity was turned round.", words(input)));
      turned = ", polarity turned round where it was on at rest";
      verdict = try_input(w, watch, input);
    }
    if (verdict == InputVerdict::works) continue;
    if (verdict == InputVerdict::swapped)
      return fail("swapped", fmt::format("When {} was pressed, {} answered; change their wires round.", words(input),
                                         watch[input].answered_by ? words(*watch[input].answered_by) : "another"));
    if (verdict == InputVerdict::stuck_on)
      return fail("stuck_on",
                  fmt::format("{} is on and does not go off; look for a short or a jammed contact.", words(input)));
    if (input == InputId::probe)
      return fail("never_changes",
                  w.bench.surroundings().clip_on
                      ? "The probe never changed when plate and cutter touched; look at its wires."
                      : "The probe never changed when plate and cutter touched: its clip is not on the cutter.");
    return fail("never_changes",
                fmt::format("{} never changed when it was pressed; look at its wire and plug.", words(input)));
  }
  // What was pressed last was the emergency stop: it takes off what was on.
  if (auto ok = w.arm(); !ok) return tl::make_unexpected(ok.error());
  return "all seen on and off" + turned;
}

Verdict directions(Work& work) {
  Workshop& w = work.w;
  DirectionCheck check;
  std::string turned;
  while (const auto axis = check.asking() ? check.asking() : check.next()) {
    const auto seen = nudged(w, check, *axis);
    if (!seen) return tl::make_unexpected(seen.error());
    if (!seen->moved || seen->others)
      return fail("wrong_axis",
                  seen->moved
                      ? fmt::format("When {} was told to move, another axis moved too; look at the motors' plugs.",
                                    letter(*axis))
                      : fmt::format("{} was told to move {:g} mm and did not; look at its motor and its plug.",
                                    letter(*axis), seen->told));
    // A lead or a setting that is another altogether is seen by eye, and would send it homing much too fast.
    if (const double scale = std::fabs(seen->went) / seen->told; scale < seen_short || scale > seen_long)
      if (auto ok = set_steps_unhomed(w, *axis, w.book.machine.axis(*axis).steps_per_mm / scale); !ok)
        return tl::make_unexpected(ok.error());
    if (auto ok = check.answer(w.link, true, seen->went > 0); !ok) return tl::make_unexpected(ok.error());
  }
  for (const Axis a : all_axes) {
    work.r.axes[index(a)].reversed = check[a].reversed_here;
    if (!check[a].reversed_here) continue;
    work.r.problems.push_back(fmt::format("Directions: {} ran the wrong way and was reversed.", letter(a)));
    turned += fmt::format(", {} reversed", letter(a));
  }
  return "all go the right way" + turned;
}

Verdict first_homing(Work& work) {
  Workshop& w = work.w;
  // No limit was ever measured here, so none refuses the first short moves.
  for (const Axis a : all_axes) {
    if (auto ok = w.set_soft_limits(a, -anywhere_mm, anywhere_mm); !ok) return tl::make_unexpected(ok.error());
    AxisSetup& setup = w.book.machine.axis(a);
    setup.soft_min.reset();
    setup.soft_max.reset();
  }
  // Slowly, until it is seen how much room is behind each switch.
  std::array<double, axis_count> sought{};
  const auto seek = [&](Axis a, double rate) { return w.link.set_setting(axis_setting(a, "home_seek_mm_min"), rate); };
  for (const Axis a : all_axes) {
    sought[index(a)] = w.setting(a, "home_seek_mm_min");
    if (auto ok = seek(a, std::min(sought[index(a)], first_seek_mm_min)); !ok) return tl::make_unexpected(ok.error());
  }
  if (auto ok = w.home(); !ok) return tl::make_unexpected(ok.error());
  for (const Axis a : all_axes)
    if (auto ok = rough_steps(work, a); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = w.home(); !ok) return tl::make_unexpected(ok.error());
  for (const Axis a : all_axes) {
    auto seen = seen_travel(w, a);
    if (!seen) return tl::make_unexpected(seen.error());
    const double wanted = sought[index(a)],
                 safe = std::max(first_seek_mm_min, std::floor(0.8 * evaluate_limits(*seen).max_safe_seek));
    seen->seek_rate = seen->unguarded_rate = std::min(wanted, safe);
    // The scale is only roughly right yet: a hundredth of the travel is kept free, or what is not known of it.
    const double open = std::max(0.01, work.rough_U[index(a)]);
    if (const auto set = set_limits(w, a, *seen, open * seen->travel); !set) return tl::make_unexpected(set.error());
    if (auto ok = seek(a, seen->seek_rate); !ok) return tl::make_unexpected(ok.error());
    if (wanted <= safe) continue;
    work.r.problems.push_back(fmt::format(
        "Homing: {} was to seek its switch at {:.0f} mm/min, too fast for the {:.1f} mm behind it; set to {:.0f}.",
        letter(a), wanted, seen->overtravel_home, seen->seek_rate));
  }
  return std::string("homed");
}

Verdict limits(Work& work) {
  Workshop& w = work.w;
  if (auto ok = w.home(); !ok) return tl::make_unexpected(ok.error());
  for (const Axis a : all_axes) {
    const auto seen = seen_travel(w, a);
    if (!seen) return tl::make_unexpected(seen.error());
    const auto set = set_limits(w, a, *seen, 0);
    if (!set) return tl::make_unexpected(set.error());
    work.r.axes[index(a)].soft_min = set->soft_min;
    work.r.axes[index(a)].soft_max = set->soft_max;
    for (const LimitsProblem p : set->problems)
      work.r.problems.push_back(fmt::format("Travel and limits: {}: {}.", letter(a), name(p)));
    LimitProof proof;
    if (auto ok = proof.start(w.link, a, set->soft_min, set->soft_max); !ok) return tl::make_unexpected(ok.error());
    if (auto ok = w.run(proof); !ok) return tl::make_unexpected(ok.error());
  }
  return std::string("set, and moves beyond them refused");
}

Verdict homing_repeat(Work& work) {
  Workshop& w = work.w;
  HomingRepeat repeat;
  HomingRepeatWay way;
  way.trials = homing_trials;
  if (!w.link.status().homing.tells_shift) {
    // An indicator against one axis after another would tell; hands and an afternoon.
    work.r.problems.push_back(
        "Homing repeat: this controller does not say where it met its switches; see with an indicator how well it "
        "repeats.");
    return std::string("not told by this controller");
  }
  if (auto ok = repeat.start(w.link, way); !ok) return tl::make_unexpected(ok.error());
  if (auto ok = w.run(repeat); !ok) return tl::make_unexpected(ok.error());
  bool repeats = true;
  for (const Axis a : all_axes) {
    std::vector<double> readings;
    for (const auto& m : repeat.met()) readings.push_back(m[a]);
    const auto found = evaluate_homing(readings, homing_tolerance_mm, 1 / w.book.machine.axis(a).steps_per_mm);
    if (!found) return tl::make_unexpected(found.error());
    work.r.axes[index(a)].homing_s = found->s;
    if (found->verdict == HomingVerdict::repeatable) continue;
    repeats = false;
    work.r.problems.push_back(fmt::format("Homing repeat: {} is {}.", letter(a), name(found->verdict)));
  }
  return std::string(repeats ? "repeatable" : "not repeatable");
}

}  // namespace ypsi::rehearsal
