#include "core/procedures/homing_repeat.h"

#include <fmt/format.h>

#include <cmath>

#include "core/procedures/readiness.h"

namespace ypsi {
namespace {
constexpr double indicator_run_up_mm = 5;  // more than any slack
constexpr int fewest_homings = 5, most_homings = 100;
}  // namespace

Result<void> HomingRepeat::start(MachineLink& link, const HomingRepeatWay& way) {
  if (way.trials < fewest_homings || way.trials > most_homings)
    return fail("out_of_range",
                fmt::format("Between {} and {} homings tell scatter from drift.", fewest_homings, most_homings),
                "trials");
  if (auto ok = ready_to_move(link.status(), "what is tested is whether it repeats."); !ok) return ok;
  if (!way.indicator_axis && !link.status().homing.tells_shift)
    return fail("untold",
                "This machine does not say where it met its switches. Set an indicator against one axis, choose that "
                "axis, and read it after each homing.");
  if (way.indicator_axis) {
    const auto home_end = link.setting(axis_setting(*way.indicator_axis, "home_at_max"));
    if (!home_end) return tl::make_unexpected(home_end.error());
    before_indicator_ = way.indicator_at + (*home_end != 0 ? indicator_run_up_mm : -indicator_run_up_mm);
    for (const double place : {way.indicator_at, before_indicator_})
      if (auto ok = inside_travel(link, *way.indicator_axis, place,
                                  fmt::format("The indicator, with {:g} mm before it,", indicator_run_up_mm),
                                  "set it up further in.");
          !ok)
        return ok;
  }
  way_ = way;
  trial_ = 1;
  met_.clear();
  begin(link);
  if (auto ok = home_again(); !ok) {
    fail_with(ok.error());
    return ok;
  }
  return {};
}

Result<void> HomingRepeat::home_again() {
  homings_before_ = link().status().homing.count;
  stage_ = Stage::homing;
  return link().home();
}

void HomingRepeat::step(const MachineStatus& now) {
  if (stage_ == Stage::homing) {
    if (now.state != MachineState::moving) homed(now);
  } else if (stage_ == Stage::approaching) {
    const auto state = legs_.tick(now);
    if (state == Legs::State::arrived) stage_ = Stage::read;
    if (state == Legs::State::ended)
      fail_with(legs_.why("The way to the indicator was ended; what was read so far stands."));
  }
}

void HomingRepeat::homed(const MachineStatus& now) {
  if (!now.all_homed() || now.homing.count != homings_before_ + 1)
    return fail_with(ended_because(now, "Homing was ended; what was found so far stands."));
  MachinePosition place = met_.empty() ? MachinePosition{} : met_.back();
  if (!met_.empty())
    for (const Axis a : all_axes) place[a] += now.homing.shift[a];
  met_.push_back(place);
  if (!way_.indicator_axis) return next_trial();
  stage_ = Stage::approaching;
  const Axis axis = *way_.indicator_axis;
  if (const auto ok =
          legs_.start(link(), {{axis, before_indicator_, way_.rate}, {axis, way_.indicator_at, way_.rate / 4}});
      !ok)
    fail_with(ok.error());
}

void HomingRepeat::next_trial() {
  if (trial_ >= way_.trials) return finish();
  ++trial_;
  if (const auto ok = home_again(); !ok) fail_with(ok.error());
}

void HomingRepeat::go_on() {
  if (waits_for() == WaitsFor::reading) next_trial();
}

}  // namespace ypsi
