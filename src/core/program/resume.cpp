#include "core/program/resume.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/program/head_lines.h"
#include "core/program/own_blocks.h"
#include "core/program/program_head.h"
#include "core/program/text_lines.h"

namespace ypsi {
namespace {

constexpr double plunge_mm_min = 300, aside_mm = 1;

/// An owner's block for a head whose doing still holds.
struct HeldBlock {
  OwnAct does;
  std::string block;
};

/// What the lines before the chosen one have left.
struct Passed {
  ModalState modes;
  Parameters parameters;
  WorkPosition came;               ///< along each axis the sense of its last way: -1, 0 or 1
  std::vector<HeldBlock> heads{};  ///< lowered or switched on, in the order in which they were
  bool changes_tool = false;       ///< the line itself does, so that no other needs to be put in before
  std::uint32_t line = 0;
};

int sense(double way) {
  return way > 1e-9 ? 1 : way < -1e-9 ? -1 : 0;
}

void follow(const Program& program, const WorkPosition& start, WorkPosition& came) {
  WorkPosition from = start;
  for (const Motion& m : program.motions) {
    WorkPosition before = from;
    // At an arc's end each axis may turn: its last thousandth says which way it came.
    if (is_arc(m)) before = arc_way(from, m, program.arc_of(m)).at(0.999);
    for (const Axis a : all_axes)
      if (const int s = sense(m.end[a] - before[a]); s != 0) came[a] = s;
    from = m.end;
  }
}

/// Of each head that was lowered or switched on and not raised or switched off since the newest block holds.
void take(std::vector<HeldBlock>& heads, const OwnAct& act, std::string_view block) {
  const bool lowering = act.act == HeadAct::lower || act.act == HeadAct::raise;
  std::erase_if(
      heads, [&](const HeldBlock& h) { return h.does.head == act.head && (h.does.act == HeadAct::lower) == lowering; });
  if (act.act == HeadAct::lower || act.act == HeadAct::on) heads.push_back({act, std::string(block)});
}

Result<Passed> pass(std::string_view text, std::uint32_t line, const ReadSetting& setting) {
  Interpreter interpreter(setting.start, setting.frames, setting.frame, setting.base);
  Passed passed;
  Program scratch;
  std::size_t at = 0;
  std::optional<Passed> chain;  // as it was before the cycles began that hold now
  for (std::uint32_t number = 1; number < line; ++number) {
    if (at >= text.size() || interpreter.state().ended)
      return fail("out_of_range", fmt::format("The program ends at line {}; choose a line before.", number - 1));
    const std::string_view words = take_line(text, at);
    const ModalState before = interpreter.state();
    const Parameters known = interpreter.parameters();
    if (auto ok = interpreter.line(words, number, scratch); !ok) return tl::make_unexpected(ok.error());
    if (interpreter.state().cycle.number != 0 && before.cycle.number == 0)
      chain = Passed{before, known, passed.came, passed.heads, false, number};
    if (interpreter.state().cycle.number == 0) chain.reset();
    for (const Event& e : scratch.events) {
      if (e.kind == EventKind::head_act) take(passed.heads, own_act_of(e), words);
      if (e.kind == EventKind::probe)
        return fail("probing",
                    fmt::format("Line {} searches with the probe, and where that ends only the machine knows: "
                                "start the program from its beginning.",
                                number));
    }
    follow(scratch, before.at, passed.came);
    scratch.motions.clear();
    scratch.arcs.clear();
    scratch.events.clear();
    scratch.comments.clear();
  }
  if (line == 0 || at >= text.size() || interpreter.state().ended)
    return fail("out_of_range", "There is no such line in the program; choose one of its lines.");
  if (chain) return *chain;
  passed.modes = interpreter.state();
  passed.parameters = interpreter.parameters();
  passed.line = line;
  if (interpreter.line(take_line(text, at), line, scratch))
    for (const Event& e : scratch.events) passed.changes_tool = passed.changes_tool || e.kind == EventKind::tool_change;
  return passed;
}

}  // namespace

Result<ResumePlan> plan_resume(std::string_view text, std::uint32_t line, double safe_z, const ReadSetting& setting,
                               int tool, const std::optional<Extents>& room) {
  const auto passed = pass(text, line, setting);
  if (!passed) return tl::make_unexpected(passed.error());
  ResumePlan plan;
  plan.line = passed->line;
  plan.modes = passed->modes;
  const ModalState& m = plan.modes;
  if (m.at.z > safe_z + 1e-6)
    return fail("limit", fmt::format("Line {} begins at Z {:.2f}, above the safe height {:.2f}; raise the safe height.",
                                     plan.line, m.at.z, safe_z));
  auto& in = plan.lead_in;
  for (const auto& [number, value] : passed->parameters.numbered())
    in.push_back(fmt::format("#{}={:.9f}", number, value));
  for (const auto& [name, value] : passed->parameters.named()) in.push_back(fmt::format("#<{}>={:.9f}", name, value));
  const std::string plain = fmt::format("G90 G21 G17 G94 G80 {} G49", frame_name(setting.frame)),
                    lift = fmt::format("G0 Z{:.4f}", safe_z);
  in.insert(in.end(), {plain, "G92.1", lift});
  if (m.tool > 0 && m.tool != tool && !passed->changes_tool) in.push_back(fmt::format("T{} M6", m.tool));
  if (m.selected_tool > 0 && m.selected_tool != m.tool) in.push_back(fmt::format("T{}", m.selected_tool));
  WorkPosition aside{m.at.x - passed->came.x * aside_mm, m.at.y - passed->came.y * aside_mm, 0};
  if (room)
    for (const Axis a : {Axis::x, Axis::y})
      aside[a] = std::clamp(aside[a], std::min(room->low[a], m.at[a]), std::max(room->high[a], m.at[a]));
  const std::string beside = fmt::format("G0 X{:.4f} Y{:.4f}", aside.x, aside.y),
                    over = fmt::format("G0 X{:.4f} Y{:.4f}", m.at.x, m.at.y);
  in.insert(in.end(), {beside, over});
  plan.over = {plain, lift, beside, over};
  if (m.coolant & 1) in.emplace_back("M7");
  if (m.coolant & 2) in.emplace_back("M8");
  if (m.spindle_on) {
    in.push_back(fmt::format("S{:g} {}", m.speed, m.spindle_reverse ? "M4" : "M3"));
    in.push_back(fmt::format("G4 P{:g}", usual_spin_up_s));
  } else if (m.speed > 0) {
    in.push_back(fmt::format("S{:g}", m.speed));
  }
  const double down = m.feed > 0 ? std::min(m.feed, plunge_mm_min) : plunge_mm_min;
  in.push_back(fmt::format("G1 Z{:.4f} F{:g}", m.at.z, down));
  for (const HeldBlock& h : passed->heads) {
    in.push_back(h.block);
    if (h.does.act == HeadAct::lower) in.push_back(fmt::format("G4 P{:g}", holder_dwell_s));
  }
  if (m.tool_offset != 0) in.push_back(m.tool_offset_of == m.tool ? "G43" : fmt::format("G43 H{}", m.tool_offset_of));
  if (m.frame != setting.frame) in.push_back(frame_name(m.frame));
  if (m.g92_active) {
    // Here the place is to be called as it was.
    in.push_back(
        fmt::format("G92 X{:.6f} Y{:.6f} Z{:.6f}", m.at.x - m.shift.x, m.at.y - m.shift.y, m.at.z - m.shift.z));
  }
  if (m.plane != Plane::xy) in.emplace_back(m.plane == Plane::zx ? "G18" : "G19");
  if (m.arc_absolute) in.emplace_back("G90.1");
  if (m.return_to_r) in.emplace_back("G99");
  if (m.inverse_time)
    in.emplace_back("G93");
  else if (m.feed > 0)
    in.push_back(fmt::format("F{:.6g}", m.feed));
  if (m.inches) in.emplace_back("G20");
  if (m.incremental) in.emplace_back("G91");
  if (m.motion_given) in.push_back(fmt::format("G{}", static_cast<int>(m.motion)));
  return plan;
}

}  // namespace ypsi
