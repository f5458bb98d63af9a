// Feeds changed scenarios to their reader and lets those that are taken run a little. A finding is a crash, a
// sanitizer's report, an error without code or sentence, or a position that is no number.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <sstream>

#include "fuzz/door.h"
#include "json_mutator.h"
#include "standin/standin.h"

namespace ypsi {
namespace fuzz_scenario {
namespace {

using nlohmann::json;

json richest() {
  std::ifstream file(std::string(YPSI_DEMO_DATA) + "/oriel.scenario.json");
  json s = json::parse(file);
  s["axes"]["X"]["screw_error"] = {{"amplitude_mm", 0.02}, {"period_mm", 5.0}};
  s["axes"]["Y"]["inverted"] = true;
  s["spindle_tilt_mrad"] = {0.8, -0.3};
  s["bed"]["tilt_mrad"] = {0.4, 0.2};
  s["bed"]["waviness_mm"] = 0.15;
  s["stock"]["rotation_mrad"] = 2.0;
  s["stock"]["thickness_variation_mm"] = 0.3;
  s["plate"] = {{"thickness_mm", 12.07}, {"wall_x_mm", 9.95}, {"wall_y_mm", 10.02}};
  s["clip_on"] = true;
  s["setter"] = {{"at_mm", {790, 12}}, {"height_mm", 48.2}, {"s_mm", 0.003}};
  s["pointer"] = {{"offset_mm", {-42.3, 11.8}}, {"threshold_percent", 7.4}};
  s["faults"] =
      json::array({{{"at_s", 0.2}, {"kind", "lost_steps"}, {"axis", "X"}}, {{"at_s", 0.3}, {"kind", "estop"}}});
  return s;
}

int run(double seconds, std::uint64_t seed) {
  fuzz::Mutator mutator(seed);
  const auto begin = std::chrono::steady_clock::now();
  const json good = richest();
  std::size_t read = 0, taken = 0;
  while (std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count() < seconds) {
    json changed = good;
    for (auto n = 1 + mutator.below(4); n-- > 0;) mutator.change(changed);
    std::string text = changed.dump();
    if (mutator.below(10) == 0) text.resize(mutator.below(text.size()));
    const auto scenario = standin::read_scenario(text);
    ++read;
    if (!scenario) {
      if (scenario.error().code.empty() || scenario.error().message.empty())
        return std::fprintf(stderr, "refused without words: %s\n", text.c_str()), 1;
      continue;
    }
    ++taken;
    standin::StandIn machine(*scenario);
    (void)machine.link().home();
    machine.advance(0.5);
    (void)machine.bench().read_blade(Axis::x, 100, true, "indicator");
    (void)machine.bench().read_sweep(50, 30, "indicator");
    const auto at = machine.link().status().position;
    if (!std::isfinite(at.x) || !std::isfinite(at.y) || !std::isfinite(machine.bench().gap_seen()))
      return std::fprintf(stderr, "a position that is no number: %s\n", text.c_str()), 1;
  }
  std::printf("scenario: %zu read, %zu taken and run, no finding\n", read, taken);
  return 0;
}

const fuzz::Door door("scenario", run);

}  // namespace
}  // namespace fuzz_scenario
}  // namespace ypsi
