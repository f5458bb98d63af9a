#include "core/procedures/positioning_test.h"

#include <fmt/format.h>

#include <cmath>

namespace ypsi {

Result<void> PositioningTest::start(MachineLink& link, Axis axis, std::vector<double> targets, int runs, double rate) {
  if (targets.size() < 2 || runs < 2)
    return fail("too_few", "The test needs two targets and two runs in each direction at least; five runs are usual.");
  const MachineStatus now = link.status();
  if (!now.homed[index(axis)])
    return fail("not_homed", "Home the machine first: places on the travel mean nothing before.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  const auto low = link.setting(axis_setting(axis, "soft_min_mm")),
             high = link.setting(axis_setting(axis, "soft_max_mm"));
  if (!low || !high) return tl::make_unexpected(low ? high.error() : low.error());
  if (!(targets.front() - overrun_mm >= *low && targets.back() + overrun_mm <= *high))
    return fail("limit",
                fmt::format("{} must overrun the outer targets by {:g} mm; between the soft limits that leaves "
                            "{:.1f} to {:.1f}.",
                            letter(axis), overrun_mm, *low + overrun_mm, *high - overrun_mm));
  link_ = &link;
  axis_ = axis;
  targets_ = std::move(targets);
  runs_ = runs;
  rate_ = rate;
  leg_ = 0;
  at_ = 0;
  turning_ = true;
  readings_.assign(1, PositioningRun{true, {}});
  go_to(targets_.front() - overrun_mm);
  if (stage_ == Stage::failed) return tl::make_unexpected(error_);
  return {};
}

void PositioningTest::go_to(double place) {
  stage_ = Stage::moving;
  wanted_ = place;
  const double distance = place - link_->status().position[axis_];
  if (distance == 0) return;
  if (const auto moved = link_->jog(axis_, distance, rate_); !moved) {
    stage_ = Stage::failed;
    error_ = moved.error();
  }
}

void PositioningTest::tick() {
  if (stage_ != Stage::moving) return;
  const MachineStatus now = link_->status();
  if (now.state == MachineState::moving) return;
  if (!ypsi::arrived(now, axis_, wanted_)) {
    stage_ = Stage::failed;
    error_ = Error{"stopped", "The test was ended on the way to a target; what was read before is kept here.", ""};
    return;
  }
  if (std::exchange(turning_, false))
    go_to(target());
  else
    stage_ = Stage::reading;
}

void PositioningTest::read(double deviation) {
  if (stage_ != Stage::reading) return;
  auto& deviations = readings_.back().deviations;
  if (plus())
    deviations.push_back(deviation);
  else
    deviations.insert(deviations.begin(), deviation);
  if (plus() ? at_ + 1 < targets_.size() : at_ > 0) {
    at_ += plus() ? 1 : static_cast<std::size_t>(-1);
    go_to(target());
    return;
  }
  if (++leg_ == 2 * runs_) {
    stage_ = Stage::finished;
    return;
  }
  readings_.push_back({plus(), {}});
  turning_ = true;
  go_to(plus() ? targets_.front() - overrun_mm : targets_.back() + overrun_mm);
}

std::size_t PositioningTest::done() const {
  std::size_t n = 0;
  for (const auto& r : readings_) n += r.deviations.size();
  return n;
}

std::string positioning_program(Axis axis, const std::vector<double>& targets, int runs, double rate, double dwell_s) {
  std::string text = fmt::format(
      "(Positioning test of {} after ISO 230-2: {} targets, {} runs each way)\n"
      "(Set the work zero of {} at the first target before the start; read at each dwell)\nG21 G90 F{:g}\n",
      letter(axis), targets.size(), runs, letter(axis), rate);
  if (targets.empty()) return text + "M2\n";
  const auto go = [&](double place) { text += fmt::format("G1 {}{:.3f}\n", letter(axis), place - targets.front()); };
  const auto stop = [&](double place) {
    go(place);
    text += fmt::format("G4 P{:g}\n", dwell_s);
  };
  for (int run = 1; run <= runs; ++run) {
    text += fmt::format("(run {}, towards +)\n", run);
    go(targets.front() - overrun_mm);
    for (const double t : targets) stop(t);
    text += fmt::format("(run {}, towards -)\n", run);
    go(targets.back() + overrun_mm);
    for (auto t = targets.rbegin(); t != targets.rend(); ++t) stop(*t);
  }
  return text + "M2\n";
}

}  // namespace ypsi
