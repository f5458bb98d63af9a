#include "core/procedures/touch.h"

#include <fmt/format.h>

#include <cmath>

#include "core/metrology/spread.h"

namespace ypsi {
namespace {
constexpr double slow_search_beyond_mm = 0.5;  // a slow touch searches this much further than where it was met
constexpr int most_touches = 50;
}  // namespace

Error already_touching() {
  return {
      "touching",
      "The probe's input is on though nothing should touch yet: plate and tool touch, the clip lies on the plate, or "
      "the wire is shorted. Nothing moved; see to it first.",
      ""};
}

Result<void> Touch::start(MachineLink& link, const TouchWay& way) {
  for (const double v : {way.search, way.fast, way.slow, way.back_off})
    if (!(v > 0) || !std::isfinite(v))
      return fail("out_of_range", "Search distance, rates and the way back must be above zero.");
  if (way.touches < 1 || way.touches > most_touches)
    return fail("out_of_range", fmt::format("Between 1 and {} touches are taken.", most_touches), "touches");
  const MachineStatus now = link.status();
  if (!now.all_homed()) return fail("not_homed", "Home the machine first: what is touched has no place before.");
  if (now.state != MachineState::ready)
    return fail("busy", "The machine is not standing ready; wait, or end what it does.");
  if (now.spindle_rpm > 0) return fail("spindle_on", "The spindle turns; stop it before anything is touched.");
  if (now.inputs.probe) return tl::make_unexpected(already_touching());
  const auto limit = link.setting(axis_setting(way.axis, way.towards_plus ? "soft_max_mm" : "soft_min_mm"));
  if (!limit) return tl::make_unexpected(limit.error());
  const double end = now.position[way.axis] + (way.towards_plus ? way.search : -way.search);
  if (way.towards_plus ? end > *limit : end < *limit)
    return fail("limit", fmt::format("Searching {:g} mm would take {} to {:.2f}, beyond its limit at {:.2f}. Nothing "
                                     "moved; start nearer, or search less far.",
                                     way.search, letter(way.axis), end, *limit));
  link_ = &link;
  way_ = way;
  triggers_.clear();
  search(way.search, way.fast, Stage::searching);
  if (stage_ == Stage::failed) return tl::make_unexpected(error_);
  return {};
}

void Touch::fail_with(Error error) {
  stage_ = Stage::failed;
  error_ = std::move(error);
}

void Touch::search(double distance, double rate, Stage stage) {
  stage_ = stage;
  probes_before_ = link_->status().probe.count;
  block_ = fmt::format("G21 G91 G38.2 {}{:.4f} F{:.1f}\n", letter(way_.axis), way_.towards_plus ? distance : -distance,
                       rate);
  if (const auto ok = run_.start(*link_, block_); !ok) fail_with(ok.error());
}

void Touch::back_off(Stage stage) {
  stage_ = stage;
  const double distance = way_.towards_plus ? -way_.back_off : way_.back_off;
  wanted_ = link_->status().position[way_.axis] + distance;
  if (const auto ok = link_->jog(way_.axis, distance, way_.fast); !ok) fail_with(ok.error());
}

void Touch::tick() {
  if (!running()) return;
  if (stage_ == Stage::searching || stage_ == Stage::touching) {
    run_.tick();
    if (run_.state() == RunState::running) return;
    const MachineStatus now = link_->status();
    if (run_.state() != RunState::finished)
      return fail_with({now.refusal ? now.refusal->code : "stopped",
                        run_.why().empty() ? "The search was ended; nothing was changed." : run_.why(), ""});
    if (now.probe.count == probes_before_ || !now.probe.contact)
      return fail_with({"no_contact",
                        fmt::format("Nothing was met within {:g} mm; the machine stands and nothing was changed. See "
                                    "that the clip is on and the plate is where the tool goes.",
                                    way_.search),
                        ""});
    if (stage_ == Stage::touching) triggers_.push_back(now.probe.at[way_.axis]);
    return back_off(static_cast<int>(triggers_.size()) >= way_.touches ? Stage::leaving : Stage::backing_off);
  }
  const MachineStatus now = link_->status();
  if (now.state == MachineState::moving) return;
  if (!arrived(now, way_.axis, wanted_))
    return fail_with({"stopped", "The way back from the touch was ended; nothing was changed.", ""});
  if (now.inputs.probe)
    return fail_with({"probe_stuck",
                      fmt::format("The probe's input stayed on {:g} mm away from what was touched: it is stuck or "
                                  "shorted. Nothing was changed.",
                                  way_.back_off),
                      ""});
  if (stage_ == Stage::leaving)
    stage_ = Stage::done;
  else
    search(way_.back_off + slow_search_beyond_mm, way_.slow, Stage::touching);
}

void Touch::cancel() {
  if (!running()) return;
  if (stage_ == Stage::searching || stage_ == Stage::touching)
    run_.abandon();
  else
    link_->end_jog();
  fail_with({"cancelled", "The touch was ended; nothing was changed.", ""});
}

double Touch::mean_trigger() const {
  return mean(triggers_);
}

Result<void> CircuitCheck::start(const MachineLink& link) {
  const MachineStatus now = link.status();
  if (now.state == MachineState::offline) return fail("offline", "Connect to the machine first.");
  if (now.inputs.probe) return tl::make_unexpected(already_touching());
  stage_ = Stage::touch;
  return {};
}

void CircuitCheck::tick(const MachineStatus& now) {
  if (stage_ == Stage::touch && now.inputs.probe)
    stage_ = Stage::let_go;
  else if (stage_ == Stage::let_go && !now.inputs.probe)
    stage_ = Stage::works;
}

}  // namespace ypsi
