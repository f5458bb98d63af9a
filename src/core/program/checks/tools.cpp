// What it cuts with, how fast and how long.
#include "core/program/checks/checker.h"

namespace ypsi {

namespace {
constexpr double same_length_mm = 0.01, least_way_mm = 0.01;
constexpr double rubs_mm_min = 10, rubs_mm_a_tooth = 0.0005;
}  // namespace

void Checker::tools() {
  std::map<int, std::uint32_t> used;  // by number, the first line
  for (std::size_t i = 0; i < program_.motions.size(); ++i)
    if (cuts_by_z(i)) used.try_emplace(tool_of(i), program_.motions[i].line);
  for (const auto& [n, line] : used) {
    const Tool* tool = book_.tool(n);
    if (n == 0) {
      add("no_tool", Weight::warns,
          "The program names no tool, and nobody has said which one is in the spindle. Say it on the sheet Tools.",
          line);
    } else if (!tool) {
      add("tool_missing", Weight::stops,
          fmt::format("T{} is not among the tools of this machine. Enter it with its diameter on the sheet Tools.", n),
          line);
    } else if (!(tool->diameter > 0)) {
      add("tool_size", Weight::warns,
          fmt::format("The diameter of T{} is not known: {} is taken for it.", n, len(usual_cutter_mm)), line);
    }
  }
  spoken(used);
}

/// What comments, and the file's name, say of the tools against the book.
void Checker::spoken(const std::map<int, std::uint32_t>& used) {
  const int only = std::any_of(program_.events.begin(), program_.events.end(),
                               [](const Event& e) { return e.kind == EventKind::tool_change; })
                       ? 0
                       : setting_.tool;
  for (const SpokenTool& said : spoken_tools(program_, setting_.file_name, only)) {
    const Tool* tool = book_.tool(said.number);
    if (!tool || !used.contains(said.number) || !(tool->diameter > 0)) continue;
    const double off = std::fabs(said.diameter - tool->diameter);
    const double same = std::max(diameter_differs_mm, diameter_differs_ratio * said.diameter);
    const Tool* other = book_.tool(said.or_number);
    if (off <= same || (other && std::fabs(said.diameter - other->diameter) <= same)) continue;
    const std::string where = said.line > 0 ? "The program" : "The file's name";
    if (said.certain)
      add("tool_differs", Weight::stops,
          fmt::format("{} says that T{} has {}, and in the book it has {}: what it cuts would be {} off. Put the right "
                      "tool in, or mend the table.",
                      where, said.number, len(said.diameter, 2), len(tool->diameter, 2), len(off, 2)),
          said.line);
    else
      add("tool_spoken", Weight::informs,
          fmt::format("{} speaks of {}. Should that be T{}: in the book it has {}.", where, len(said.diameter, 2),
                      said.number, len(tool->diameter, 2)),
          said.line);
  }
}

/// Lengths that the program brings (G43): each is the book's, of the tool that is in, and measured.
void Checker::lengths() {
  if (std::none_of(program_.events.begin(), program_.events.end(),
                   [](const Event& e) { return e.kind == EventKind::tool_offset; }))
    return;
  const FrameZero& frame = book_.job.used();
  const auto reference = length_against_reference(book_, frame.z_tool);
  std::set<int> unmeasured;
  std::set<std::pair<int, int>> seen;  // tool in the spindle, tool whose length is added
  bool twice_told = false;
  int length_of = -1;
  std::uint32_t since = 0;
  std::size_t event = 0;
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    const Motion& m = program_.motions[i];
    for (; event < program_.events.size() && program_.events[event].before <= i; ++event) {
      const Event& e = program_.events[event];
      if (e.kind != EventKind::tool_offset) continue;
      length_of = e.length_of == 0 ? -1 : e.length_of;  // H0 takes none
      since = e.line;
      if (length_of < 0) continue;
      if (!length_against_reference(book_, length_of) && unmeasured.insert(length_of).second)
        add("length_unknown", Weight::stops,
            fmt::format(
                "G43 takes the length of T{}, which was not measured: what the controller would add to Z is not "
                "known, nor how deep it would cut. Measure it on the sheet Tool setter, or export without G43.",
                length_of),
            e.line);
      if (e.value != 0 && !twice_told && frame.z_tool != 0 && reference.value_or(0) != 0) {
        twice_told = true;
        add("length_twice", Weight::stops,
            fmt::format("The program adds the tools' lengths (G43), but Z zero was set with T{}, which is {} longer "
                        "than the reference tool: it would be counted twice. Set Z zero with the reference tool.",
                        frame.z_tool, len(*reference, 3)),
            e.line);
      }
    }
    // Lifts before G43 are made without it, and are judged where the tip then is.
    const int n = tool_of(i);
    if (!is_cut(m) || n == 0 || (length_of < 0 && !drop_.any()) || n == length_of || !seen.emplace(n, length_of).second)
      continue;
    const auto own = length_against_reference(book_, n);
    const auto added = length_of < 0 ? reference.value_or(0) : length_against_reference(book_, length_of);
    if (!own || !added || std::fabs(*own - *added) <= same_length_mm) continue;
    const double low = *own - *added;
    add("length_of_other", Weight::stops,
        length_of < 0
            ? fmt::format(
                  "T{} moves here without its length (G43), while other tools bring theirs: its tip would be {} "
                  "too {}.",
                  n, len(std::fabs(low), 3), low > 0 ? "deep" : "high")
            : fmt::format(
                  "T{} is in the spindle, and the length of T{} is added (line {}): its tip would be {} too {}.", n,
                  length_of, since, len(std::fabs(low), 3), low > 0 ? "deep" : "high"),
        m.line);
  }
}

/// Whether it cuts while the spindle stands: a knife, a pen, a scribe.
bool Checker::rests(const Tool* tool) const {
  const auto& heads = book_.machine.heads;
  if (heads.empty()) return false;
  const Head* head = tool && !tool->head.empty() ? book_.machine.head(tool->head) : &heads.front();
  return head && !needs_spindle(head->kind);
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
    if (on || off_told || !has_stock_ || !is_cut(program_.motions[i]) || probing_.contains(i)) continue;
    const Way w = way(i);
    if (std::min(w.from.z, w.to.z) >= top_ || rests(w.hangs.tool)) continue;
    off_told = true;
    add("spindle_off", Weight::stops,
        "The spindle is off at this cut. The program needs M3 and a speed before it, or the cutter breaks.",
        w.motion.line, w.from);
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
  std::size_t over = 0, event = 0;
  std::uint32_t first = 0;
  double worst = 0, limit = 0, rpm = 0;
  bool low_told = false;
  std::array<double, axis_count> rates{};
  for (const Axis a : all_axes) rates[index(a)] = book_.machine.axis(a).max_rate;
  const double slowest_rate = *std::min_element(rates.begin(), rates.end());
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    const Motion& m = program_.motions[i];
    for (; event < program_.events.size() && program_.events[event].before <= i; ++event)
      if (program_.events[event].kind == EventKind::spindle_on) rpm = std::fabs(program_.events[event].value);
    if (!is_cut(m) || probing_.contains(i)) continue;
    const auto feed = program_.feed_of(m);
    const Hanging& hangs = hanging(i);
    const double a_tooth = rpm > 0 ? feed / rpm / std::max(hangs.tool ? hangs.tool->flutes : 1, 1) : 1;
    const bool low = feed < rubs_mm_min || a_tooth < rubs_mm_a_tooth;
    if (feed <= slowest_rate && (!low || low_told)) continue;
    const WorkPosition from = program_.begin_of(i);
    const double dx = m.end.x - from.x, dy = m.end.y - from.y, dz = m.end.z - from.z,
                 length = std::sqrt(dx * dx + dy * dy + dz * dz);
    if (low && !low_told && length > least_way_mm && has_stock_ && std::min(from.z, m.end.z) - hangs.drop < top_) {
      low_told = true;
      add("feed_low", Weight::warns,
          fmt::format(
              "{:.4g} mm/min is so slow that the cutter rubs and burns. Was the feed meant for inches, or for a "
              "second?",
              feed),
          m.line, m.end);
    }
    double most = 1e9;
    for (const Axis a : all_axes) {
      const double share = is_arc(m) ? (a == Axis::z ? 0 : 1) : length > 0 ? std::fabs(m.end[a] - from[a]) / length : 0;
      if (share > 1e-9) most = std::min(most, rates[index(a)] / share);
    }
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
  float before = 0, begun = 0;
  int tool = program_.tool_of(0);
  const auto take = [&](int next) {
    by_tool[tool] += static_cast<double>(before - begun);
    begun = before;
    tool = next;
  };
  for (std::size_t i = 0; i < program_.motions.size(); ++i) {
    if (const int now = program_.tool_of(i); now != tool) take(now);
    before = setting_.end_s[i];
  }
  take(tool);
  std::string parts;
  if (by_tool.size() > 1)
    for (const auto& [n, s] : by_tool) parts += fmt::format(", T{} {}", n, format_duration(s));
  add("time", Weight::informs, fmt::format("About {}{}.", format_duration(static_cast<double>(before)), parts), 0);
}

}  // namespace ypsi
