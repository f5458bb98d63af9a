#include "core/program/spoken_tools.h"

#include <charconv>
#include <optional>
#include <regex>

namespace ypsi {
namespace {

/// "1/8", "6.35", ".25" with what stands behind it.
std::optional<double> length_in(const std::string& number, const std::string& over, const std::string& unit,
                                bool inches) {
  const auto read = [](const std::string& digits) {
    double value = 0;
    std::from_chars(digits.data(), digits.data() + digits.size(), value);  // never by the locale
    return value;
  };
  double value = read(number);
  if (!over.empty()) {
    const double below = read(over);
    if (below == 0) return std::nullopt;
    value /= below;
  }
  const bool in = unit == "in" || unit == "inch" || unit == "\"" || (unit.empty() && inches);
  const double mm = in ? value * 25.4 : value;
  return mm > 0 && mm < 500 ? std::optional(mm) : std::nullopt;
}

}  // namespace

std::map<int, SpokenTool> spoken_tools(const Program& program) {
  static const std::regex tool(R"((?:\bT|\btool\s*(?:no\.?|number|#)?\s*[:=]?\s*)(\d{1,5})\b)", std::regex::icase);
  static const std::regex diameter(
      R"((?:\bD|\bdia(?:m(?:eter)?)?\.?|⌀|Ø)\s*[:=]?\s*(\d*\.?\d+)(?:\s*/\s*(\d+))?\s*(mm|inch|in|")?)",
      std::regex::icase);
  static const std::regex sized(
      R"((?:^|[\s,;(])(\d*\.?\d+)(?:\s*/\s*(\d+))?\s*(mm|inch|in\b|")[^.]*?\b(end\s?mill|mill|flat|ball|drill|cutter|bit|flute|router)\b)",
      std::regex::icase);
  std::map<int, SpokenTool> found;
  for (const Comment& c : program.comments) {
    if (c.text.size() > 200) continue;  // a person's remark on a tool is short, and a search in a long one is slow
    std::smatch m;
    std::optional<double> mm;
    if (std::regex_search(c.text, m, diameter) || std::regex_search(c.text, m, sized))
      mm = length_in(m[1], m[2], m[3], program.in_inches);
    if (!mm) continue;
    int number = 0;
    if (std::regex_search(c.text, m, tool)) {
      number = std::stoi(m[1]);
    } else {
      for (const Event& e : program.events)
        if (e.kind == EventKind::tool_change && e.line >= c.line) {
          number = static_cast<int>(e.value);
          break;
        }
    }
    if (number > 0) found.emplace(number, SpokenTool{*mm, c.line});
  }
  return found;
}

}  // namespace ypsi
