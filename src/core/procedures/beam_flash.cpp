#include "core/procedures/beam_flash.h"

#include <fmt/format.h>

#include "core/procedures/readiness.h"
#include "core/program/own_blocks.h"

namespace ypsi {
namespace {
constexpr double aside_mm_min = 1500;
}

Result<void> may_shine(const Head& beam, double level) {
  if (beam.on.empty() || beam.off.empty())
    return fail(
        "no_blocks",
        fmt::format("What switches the {} on and off is not said yet; say it on Build, under Heads.", beam.name));
  if (!says_level(beam, HeadAct::on))
    return fail("no_level",
                fmt::format("The block that switches the {} on does not say how strongly; write {} where its number "
                            "stands (Build, Heads).",
                            beam.name, level_mark));
  if (!(beam.cap > 0))
    return fail("no_cap",
                fmt::format("The most that the {} may ever have is not said; nothing shines before that is said on "
                            "Build, under Heads.",
                            beam.name));
  if (!(level >= 0)) return fail("out_of_range", "A level must not be below zero.", "level");
  if (above_cap(beam, level))
    return fail("over_cap",
                fmt::format("{:g} is above the {:g} that the {} may have at most (Build, Heads); it was not switched "
                            "on.",
                            level, beam.cap, beam.name),
                "level");
  return {};
}

Result<void> BeamFlash::start(MachineLink& link, const Head& beam, double level, double seconds, double aside) {
  if (auto ok = may_shine(beam, level); !ok) return ok;
  if (!(seconds > 0) || seconds > longest_flash_s)
    return fail("out_of_range", fmt::format("A flash lasts {:g} s at most.", longest_flash_s), "seconds");
  const MachineStatus now = link.status();
  if (auto ok = ready_to_move(now, "where fresh ground is, nobody knows before."); !ok) return ok;
  target_ = now.position.x + aside;
  if (aside != 0)
    if (auto ok = inside_travel(link, Axis::x, target_, "Going aside for the next flash",
                                "go back to fresh ground and begin another row.");
        !ok)
      return ok;
  const std::string off = own_block(beam, HeadAct::off, 0);
  text_ = fmt::format("{}\n{}\nG4 P{:.3f}\n{}\nM2\n", off, own_block(beam, HeadAct::on, level), seconds, off);
  aside_ = aside;
  moving_aside_ = false;
  run_ = {};
  run_.watch_beams({beam});
  if (auto ok = run_.start(link, text_); !ok) return ok;
  begin(link);
  run_.tick();
  return begun();
}

void BeamFlash::step(const MachineStatus& now) {
  if (moving_aside_) {
    if (now.asked || now.state == MachineState::moving) return;
    if (arrived(link(), now, Axis::x, target_)) return finish();
    return fail_with(ended_because(now, "The beam is off, and the machine did not get to fresh ground."));
  }
  run_.tick();
  if (run_.state() == RunState::running) return;
  if (run_.state() != RunState::finished)
    return fail_with({"ended", run_.why().empty() ? "The flash was ended; the beam is off." : run_.why(), ""});
  if (aside_ == 0) return finish();
  moving_aside_ = true;
  if (auto ok = link().jog(Axis::x, aside_, aside_mm_min); !ok) fail_with(ok.error());
}

}  // namespace ypsi
