// What it cuts with, how fast and how long.
#include "core/program/checks/checker.h"

namespace ypsi {

void Checker::tools() {
  std::map<int, std::uint32_t> used;  // by number, the first line
  for (const Motion& m : program_.motions)
    if (const int n = m.tool != 0 ? m.tool : setting_.tool; is_cut(m)) used.emplace(n, m.line);
  const auto spoken = spoken_tools(program_);
  for (const auto& [n, line] : used) {
    const Tool* tool = book_.tool(n);
    if (n == 0) {
      add("no_tool", Weight::warns,
          "The program names no tool, and nobody has said which one is in the spindle. Say it on the sheet Tools.",
          line);
      continue;
    }
    if (!tool) {
      add("tool_missing", Weight::stops,
          fmt::format("T{} is not among the tools of this machine. Enter it with its diameter on the sheet Tools.", n),
          line);
      continue;
    }
    if (!(tool->diameter > 0))
      add("tool_size", Weight::warns,
          fmt::format("The diameter of T{} is not known: {} is taken for it.", n, len(usual_cutter_mm)), line);
    const auto said = spoken.find(n);
    if (said != spoken.end() && tool->diameter > 0) {
      const double off = std::fabs(said->second.diameter - tool->diameter);
      if (off > std::max(diameter_differs_mm, diameter_differs_ratio * said->second.diameter))
        add("tool_differs", Weight::stops,
            fmt::format("The program says that T{} has {}, and in the book it has {}: what it cuts would be {} off. "
                        "Put the right tool in, or mend the table.",
                        n, len(said->second.diameter, 2), len(tool->diameter, 2), len(off, 2)),
            said->second.line);
    }
  }
  const FrameZero& frame = book_.job.used();
  for (const Event& e : program_.events)
    if (e.kind == EventKind::tool_offset && e.value != 0) {
      const auto length = length_against_reference(book_, frame.z_tool);
      if (frame.z_tool != 0 && length.value_or(0) != 0)
        add("length_twice", Weight::stops,
            fmt::format("The program adds the tools' lengths (G43), but Z zero was set with T{}, which is {} longer "
                        "than the reference tool: it would be counted twice. Set Z zero with the reference tool.",
                        frame.z_tool, len(*length, 3)),
            e.line);
      break;
    }
}

void Checker::spindle() {
  bool on = false;
  std::set<double> told;
  std::size_t event = 0;
  bool off_told = false;
  for (std::size_t i = 0; i <= program_.motions.size(); ++i) {
    for (; event < program_.events.size() && program_.events[event].before <= i; ++event) {
      const Event& e = program_.events[event];
      if (e.kind == EventKind::tool_change || e.kind == EventKind::spindle_off || e.kind == EventKind::end) on = false;
      if (e.kind != EventKind::spindle_on) continue;
      on = true;
      if (const double speed = std::fabs(e.value); told.insert(speed).second) say_speed(e, speed);
    }
    if (i == program_.motions.size()) break;
    const Motion& m = program_.motions[i];
    if (!on && !off_told && is_cut(m) && !probing_.contains(i) && has_stock_ &&
        std::min(m.end.z, program_.begin_of(i).z) < top_) {
      off_told = true;
      add("spindle_off", Weight::stops,
          "The spindle is off at this cut. The program needs M3 and a speed before it, or the cutter breaks.", m.line,
          program_.begin_of(i));
    }
  }
}

void Checker::say_speed(const Event& e, double speed) {
  const Spindle& s = book_.machine.spindle;
  if (speed == 0) {
    add("no_speed", Weight::warns, "The spindle is turned on without a speed (S).", e.line);
  } else if (speed > s.max_rpm) {
    add("speed_over", Weight::warns,
        fmt::format("{:.0f} rpm are asked for, and this spindle turns {:.0f} at most.", speed, s.max_rpm), e.line);
  } else if (!s.controlled && !s.dial.empty()) {
    if (const auto position = dial_position(s.dial, speed))
      add("dial", Weight::informs, fmt::format("Set the dial to {:.1f} for {:.0f} rpm.", *position, speed), e.line);
    else
      add("dial", Weight::warns, position.error().message, e.line);
  }
}

void Checker::feeds() {
  std::size_t over = 0;
  std::uint32_t first = 0;
  double worst = 0, limit = 0;
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    const Motion& m = program_.motions[i];
    if (!is_cut(m)) continue;
    const WorkPosition from = program_.begin_of(i);
    const double length = std::hypot(m.end.x - from.x, m.end.y - from.y, m.end.z - from.z);
    double most = 1e9;
    for (const Axis a : all_axes) {
      const double share = is_arc(m) ? (a == Axis::z ? 0 : 1) : length > 0 ? std::fabs(m.end[a] - from[a]) / length : 0;
      if (share > 1e-9) most = std::min(most, book_.machine.axis(a).max_rate / share);
    }
    const auto feed = static_cast<double>(m.feed);
    if (feed <= most * 1.001) continue;
    if (over++ == 0) first = m.line;
    if (feed / most > worst) {
      worst = feed / most;
      limit = most;
    }
  }
  if (over > 0)
    add("feed_over", Weight::warns,
        fmt::format("{} moves ask for more than the machine's rate, at worst {:.0f} where {:.0f} mm/min are possible; "
                    "they will be slower, and chips finer.",
                    over, worst * limit, limit),
        first);
}

void Checker::times() {
  if (setting_.end_s.size() != program_.motions.size() || setting_.end_s.empty()) return;
  std::map<int, double> by_tool;
  float before = 0;
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    by_tool[program_.motions[i].tool] += static_cast<double>(setting_.end_s[i] - before);
    before = setting_.end_s[i];
  }
  std::string parts;
  if (by_tool.size() > 1)
    for (const auto& [tool, s] : by_tool) parts += fmt::format(", T{} {}", tool, format_duration(s));
  add("time", Weight::informs, fmt::format("About {}{}.", format_duration(static_cast<double>(before)), parts), 0);
}

}  // namespace ypsi
