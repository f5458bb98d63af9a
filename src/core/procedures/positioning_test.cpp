#include "core/procedures/positioning_test.h"

#include <fmt/format.h>

#include <cmath>

#include "core/calibration/positioning.h"
#include "core/procedures/readiness.h"

namespace ypsi {

Result<void> PositioningTest::start(MachineLink& link, Axis axis, std::vector<double> targets, int runs, double rate) {
  if (targets.size() < 2 || runs < 2)
    return fail("too_few", "The test needs two targets and two runs in each direction at least; five runs are usual.");
  if (auto ok = ready_to_move(link.status(), "places on the travel mean nothing before.", axis); !ok) return ok;
  const auto limits = soft_limits(link, axis);
  if (!limits) return tl::make_unexpected(limits.error());
  const double before = targets.front() - overrun_mm;
  if (!(limits->holds(before) && limits->holds(targets.back() + overrun_mm)))
    return fail("limit",
                fmt::format("{} must overrun the outer targets by {:g} mm; between the soft limits that leaves "
                            "{:.1f} to {:.1f}.",
                            letter(axis), overrun_mm, limits->low + overrun_mm, limits->high - overrun_mm));
  if (auto ok = legs_.start(link, {{axis, before, rate}, {axis, targets.front(), rate}}); !ok) return ok;
  axis_ = axis;
  targets_ = std::move(targets);
  runs_ = runs;
  rate_ = rate;
  leg_ = 0;
  at_ = 0;
  reading_ = false;
  readings_.assign(1, PositioningRun{true, {}});
  begin(link);
  return {};
}

void PositioningTest::go_to_target() {
  reading_ = false;
  if (const auto ok = legs_.start(link(), {{axis_, target(), rate_}}); !ok) fail_with(ok.error());
}

/// Beyond the outer target, and back to it from the other side.
void PositioningTest::turn_round() {
  reading_ = false;
  const double beyond = plus() ? targets_.front() - overrun_mm : targets_.back() + overrun_mm;
  if (const auto ok = legs_.start(link(), {{axis_, beyond, rate_}, {axis_, target(), rate_}}); !ok)
    fail_with(ok.error());
}

void PositioningTest::step(const MachineStatus& now) {
  if (reading_) return;
  switch (legs_.tick(now)) {
    case Legs::State::walking:
      return;
    case Legs::State::ended:
      return fail_with(legs_.why("The test was ended on the way to a target; what was read before is kept here."));
    case Legs::State::arrived:
      reading_ = true;
  }
}

void PositioningTest::read(double deviation) {
  if (waits_for() != WaitsFor::reading) return;
  auto& deviations = readings_.back().deviations;
  if (plus())
    deviations.push_back(deviation);
  else
    deviations.insert(deviations.begin(), deviation);
  if (plus() ? at_ + 1 < targets_.size() : at_ > 0) {
    at_ += plus() ? 1 : static_cast<std::size_t>(-1);
    return go_to_target();
  }
  if (++leg_ == 2 * runs_) return finish();
  readings_.push_back({plus(), {}});
  turn_round();
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
