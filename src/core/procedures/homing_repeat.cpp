#include "core/procedures/homing_repeat.h"

#include <fmt/format.h>

#include <cmath>

namespace ypsi {
namespace {
constexpr double indicator_run_up_mm = 5;  // more than any slack
constexpr int fewest_trials = 5, most_trials = 100;
}  // namespace

Result<void> HomingRepeat::start(MachineLink& link, const HomingRepeatWay& way) {
  if (way.trials < fewest_trials || way.trials > most_trials)
    return fail("out_of_range",
                fmt::format("Between {} and {} homings tell scatter from drift.", fewest_trials, most_trials),
                "trials");
  const MachineStatus now = link.status();
  if (!now.all_homed()) return fail("not_homed", "Home the machine first: what is tested is whether it repeats.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  if (way.indicator_axis) {
    const Axis axis = *way.indicator_axis;
    const auto low = link.setting(axis_setting(axis, "soft_min_mm")),
               high = link.setting(axis_setting(axis, "soft_max_mm")),
               home_end = link.setting(axis_setting(axis, "home_at_max"));
    for (const auto* s : {&low, &high, &home_end})
      if (!*s) return tl::make_unexpected(s->error());
    const double before = way.indicator_at + (*home_end != 0 ? indicator_run_up_mm : -indicator_run_up_mm);
    if (!std::isfinite(way.indicator_at) || std::min(before, way.indicator_at) < *low ||
        std::max(before, way.indicator_at) > *high)
      return fail("limit", fmt::format("The indicator at {} {:.1f} and the {:g} mm before it are not inside the soft "
                                       "limits {:.1f} and {:.1f}; set it up further in.",
                                       letter(axis), way.indicator_at, indicator_run_up_mm, *low, *high));
  }
  link_ = &link;
  way_ = way;
  trial_ = 1;
  met_.clear();
  home_again();
  if (stage_ == Stage::failed) return tl::make_unexpected(error_);
  return {};
}

void HomingRepeat::fail_with(Error error) {
  stage_ = Stage::failed;
  error_ = std::move(error);
}

void HomingRepeat::home_again() {
  homings_before_ = link_->status().homing.count;
  if (const auto ok = link_->home(); !ok) return fail_with(ok.error());
  stage_ = Stage::homing;
}

void HomingRepeat::approach() {
  if (legs_.empty()) {
    stage_ = Stage::read;
    return;
  }
  wanted_ = legs_.back();
  const bool last = legs_.size() == 1;
  legs_.pop_back();
  stage_ = Stage::approaching;
  const Axis axis = *way_.indicator_axis;
  const double distance = wanted_ - link_->status().position[axis];
  if (distance == 0) return;
  if (const auto moved = link_->jog(axis, distance, last ? way_.rate / 4 : way_.rate); !moved) fail_with(moved.error());
}

void HomingRepeat::tick() {
  if (stage_ != Stage::homing && stage_ != Stage::approaching) return;
  const MachineStatus now = link_->status();
  if (now.state == MachineState::moving) return;
  if (stage_ == Stage::approaching) {
    if (!arrived(now, *way_.indicator_axis, wanted_))
      return fail_with({"stopped", "The way to the indicator was ended; what was read so far stands.", ""});
    return approach();
  }
  if (!now.all_homed() || now.homing.count != homings_before_ + 1)
    return fail_with(
        {"stopped", now.message.empty() ? "Homing was ended; what was found so far stands." : now.message, ""});
  MachinePosition place = met_.empty() ? MachinePosition{} : met_.back();
  if (!met_.empty())
    for (const Axis a : all_axes) place[a] += now.homing.shift[a];
  met_.push_back(place);
  if (!way_.indicator_axis) return go_on();
  const auto home_end = link_->setting(axis_setting(*way_.indicator_axis, "home_at_max"));
  const bool from_above = home_end && *home_end != 0;
  legs_ = {way_.indicator_at, way_.indicator_at + (from_above ? indicator_run_up_mm : -indicator_run_up_mm)};
  approach();
}

void HomingRepeat::go_on() {
  if (stage_ != Stage::read && stage_ != Stage::homing) return;
  if (trial_ >= way_.trials) {
    stage_ = Stage::done;
    return;
  }
  ++trial_;
  home_again();
}

void HomingRepeat::cancel() {
  if (running() && stage_ != Stage::read) link_->hold();
  stage_ = Stage::idle;
}

}  // namespace ypsi
