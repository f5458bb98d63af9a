#include "core/procedures/touch.h"

#include <fmt/format.h>

#include <cmath>

#include "core/metrology/spread.h"
#include "core/procedures/readiness.h"

namespace ypsi {
namespace {
constexpr double slow_search_beyond_mm = 0.5;  // a slow touch searches this much further than where it was met
constexpr int most_touches = 50;
}  // namespace

Result<void> Touch::start(MachineLink& link, const TouchWay& way) {
  for (const double v : {way.search, way.fast, way.slow, way.back_off})
    if (!(v > 0) || !std::isfinite(v))
      return fail("out_of_range", "Search distance, rates and the way back must be above zero.");
  if (way.touches < 1 || way.touches > most_touches)
    return fail("out_of_range", fmt::format("Between 1 and {} touches are taken.", most_touches), "touches");
  const MachineStatus now = link.status();
  if (auto ok = ready_to_move(now, "what is touched has no place before."); !ok) return ok;
  if (now.spindle_rpm > 0) return fail("spindle_on", "The spindle turns; stop it before anything is touched.");
  if (now.inputs.probe) return tl::make_unexpected(already_touching());
  const double end = now.position[way.axis] + (way.towards_plus ? way.search : -way.search);
  if (auto ok = inside_travel(link, way.axis, end, fmt::format("Searching {:g} mm", way.search),
                              "start nearer, or search less far.");
      !ok)
    return ok;
  way_ = way;
  triggers_.clear();
  begin(link);
  search(way.search, way.fast, Stage::searching);
  return begun();
}

void Touch::search(double distance, double rate, Stage stage) {
  stage_ = stage;
  probes_before_ = link().status().probe.count;
  block_ = fmt::format("G21 G91 G38.2 {}{:.4f} F{:.1f}\n", letter(way_.axis), way_.towards_plus ? distance : -distance,
                       rate);
  if (const auto ok = run_.start(link(), block_); !ok) fail_with(ok.error());
}

void Touch::searched(const MachineStatus& now) {
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
  stage_ = Stage::backing_off;
  const double away = now.position[way_.axis] + (way_.towards_plus ? -way_.back_off : way_.back_off);
  if (const auto ok = back_.start(link(), {{way_.axis, away, way_.fast}}); !ok) fail_with(ok.error());
}

void Touch::step(const MachineStatus& now) {
  if (stage_ != Stage::backing_off) {
    run_.tick();
    if (run_.state() != RunState::running) searched(link().status());
    return;
  }
  const auto state = back_.tick(now);
  if (state == Legs::State::walking) return;
  if (state == Legs::State::ended)
    return fail_with(back_.why("The way back from the touch was ended; nothing was changed."));
  if (now.inputs.probe)
    return fail_with({"probe_stuck",
                      fmt::format("The probe's input stayed on {:g} mm away from what was touched: it is stuck or "
                                  "shorted. Nothing was changed.",
                                  way_.back_off),
                      ""});
  if (static_cast<int>(triggers_.size()) >= way_.touches) return finish();
  search(way_.back_off + slow_search_beyond_mm, way_.slow, Stage::touching);
}

double Touch::mean_trigger() const {
  return mean(triggers_);
}

}  // namespace ypsi
