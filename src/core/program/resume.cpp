#include "core/program/resume.h"

#include <fmt/format.h>

namespace ypsi {
namespace {

constexpr double spin_up_s = 3, down_mm_min = 300;

}  // namespace

Result<ResumePlan> plan_resume(std::string_view text, std::uint32_t line, double safe_z, const Frames& frames) {
  Interpreter interpreter({}, frames);
  Program passed;
  std::size_t at = 0;
  for (std::uint32_t number = 1; number < line; ++number) {
    if (at >= text.size() || interpreter.state().ended)
      return fail("out_of_range", fmt::format("The program ends at line {}; choose a line before.", number - 1));
    const std::size_t found = text.find('\n', at), end = found == std::string_view::npos ? text.size() : found;
    if (auto ok = interpreter.line(text.substr(at, end - at), number, passed); !ok)
      return tl::make_unexpected(ok.error());
    passed.motions.clear();
    passed.arcs.clear();
    passed.events.clear();
    at = end + 1;
  }
  if (line == 0 || at >= text.size() || interpreter.state().ended)
    return fail("out_of_range", "There is no such line in the program; choose one of its lines.");
  ResumePlan plan;
  plan.modes = interpreter.state();
  const ModalState& m = plan.modes;
  if (m.at.z > safe_z)
    return fail("limit", fmt::format("Line {} begins at Z {:.2f}, above the safe height {:.2f}; raise the safe height.",
                                     line, m.at.z, safe_z));
  auto& in = plan.lead_in;
  in.push_back("G90 G21 G17 G54 G49");
  in.push_back(fmt::format("G0 Z{:.4f}", safe_z));
  if (m.tool > 0) in.push_back(fmt::format("T{} M6", m.tool));
  in.push_back(fmt::format("G0 X{:.4f} Y{:.4f}", m.at.x, m.at.y));
  if (m.spindle_on) {
    in.push_back(fmt::format("S{:g} M3", m.speed));
    in.push_back(fmt::format("G4 P{:g}", spin_up_s));
  }
  const double down = m.feed > 0 ? std::min(m.feed, down_mm_min) : down_mm_min;
  in.push_back(fmt::format("G1 Z{:.4f} F{:g}", m.at.z, down));
  if (m.feed > 0) in.push_back(fmt::format("F{:g}", m.feed));
  if (m.tool_offset != 0) in.push_back("G43");
  if (m.frame != 0) in.push_back(fmt::format("G{}", 54 + m.frame));
  if (m.inches) in.push_back("G20");
  if (m.incremental) in.push_back("G91");
  if (m.motion_given) in.push_back(fmt::format("G{}", static_cast<int>(m.motion)));
  return plan;
}

}  // namespace ypsi
