#include "core/program/pauses.h"

#include <algorithm>
#include <cmath>

#include "core/book/tool_change.h"
#include "core/calibration/dial.h"
#include "core/program/tip.h"

namespace ypsi {
namespace {

bool needs_zero(const Book& book, int tool) {
  const auto how = zero_after_change(book, tool);
  return how != ZeroAfterChange::holds && how != ZeroAfterChange::not_set;
}

}  // namespace

std::optional<DialSetting> dial_for(const Spindle& spindle, double rpm, double standing_rpm) {
  rpm = std::fabs(rpm);
  if (spindle.controlled || spindle.dial.empty() || rpm == 0 || rpm == standing_rpm) return std::nullopt;
  const auto position = dial_position(spindle.dial, rpm);
  if (!position) return std::nullopt;
  return DialSetting{rpm, *position};
}

std::optional<Pause> next_pause(const Program& program, const Book& book, int tool, double standing_rpm,
                                std::uint32_t from) {
  const bool tools_waited_for = !brings_lengths(program);
  std::optional<Pause> found;
  std::uint32_t before = 0;  // motion that the pause comes before
  for (const Event& e : program.events) {
    if (e.line < from) continue;
    if (found && (e.before != before || e.kind == EventKind::tool_change)) break;  // the machine moves first
    if (e.kind == EventKind::tool_change) {
      const int wanted = static_cast<int>(e.value);
      if (wanted == tool) continue;
      tool = wanted;
      if (!tools_waited_for || !needs_zero(book, wanted)) continue;
      found = Pause{e.line, e.line, wanted, {}};
      before = e.before;
    } else if (e.kind == EventKind::spindle_on) {
      const auto dial = dial_for(book.machine.spindle, e.value, standing_rpm);
      if (!dial) continue;
      // With the tool, in one go; else on its own.
      if (!found) found = Pause{e.line, e.line, 0, {}};
      found->dial = dial;
      found->seen = e.line;
      break;
    }
  }
  return found;
}

std::string_view asked_at(const Program& program, std::uint32_t line) {
  const bool stops = std::any_of(program.events.begin(), program.events.end(), [&](const Event& e) {
    return e.line == line && (e.kind == EventKind::stop || e.kind == EventKind::optional_stop);
  });
  if (!stops) return {};
  std::string_view asked;
  for (const Comment& c : program.comments) {
    if (c.line == line) return c.text;
    if (c.line + 1 == line) asked = c.text;
  }
  return asked;
}

}  // namespace ypsi
