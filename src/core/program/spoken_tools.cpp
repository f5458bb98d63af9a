#include "core/program/spoken_tools.h"

#include <algorithm>
#include <charconv>
#include <optional>
#include <regex>
#include <set>

namespace ypsi {
namespace {

constexpr std::size_t longest_remark = 200;  // a person's remark on a tool is short, and a search in a long one is slow
constexpr std::size_t most_doubtful = 3;

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
  const bool in = (!unit.empty() && (unit[0] == 'i' || unit[0] == 'I' || unit[0] == '"')) || (unit.empty() && inches);
  const double mm = in ? value * 25.4 : value;
  return mm > 0 && mm < 500 ? std::optional(mm) : std::nullopt;
}

const std::regex& number_of_tool() {
  static const std::regex r(R"((?:\bT|\btool\s*(?:no\.?|number|#)?\s*[:=]?\s*)(\d{1,5})\b)", std::regex::icase);
  return r;
}
/// A diameter by name: a D alone needs its sign, its point or its unit, else it numbers an offset.
const std::regex& named_diameter() {
  static const std::regex r(
      R"((?:(?:\bdia(?:m(?:eter)?)?\b\.?|⌀|Ø)\s*[:=]?\s*(\d*\.?\d+)|\bD\s*[:=]\s*(\d*\.?\d+)|\bD\s*(\d+\.\d*|\.\d+|\d+(?=\s*(?:mm|in|"))))(?:\s*/\s*(\d+))?\s*(mm|inch|in|")?)",
      std::regex::icase);
  return r;
}
constexpr const char* tool_word_text =
    R"(\b(?:end\s?mills?|endmills?|mill|cutters?|bits?|flutes?|ball\s?nose|v[ -]?bit|slot\s?drills?|engraver|burr|router)\b)";
const std::regex& tool_word() {
  static const std::regex r(tool_word_text, std::regex::icase);
  return r;
}
/// A size before a word for a tool, with little between.
const std::regex& sized_tool() {
  static const std::regex r(
      R"((?:^|[\s,;:(=⌀Ø])(\d*\.?\d+)(?:\s*/\s*(\d+))?\s*(mm|inch|in\b|")?((?:[\s-]+(?:\d|two|three|four|single|flat|ball|square|carbide|straight|up-?cut|down-?cut|compression|spiral|hss|long|flute|fl|degree|deg|°)[\w.-]*){0,4})[\s-]*(end\s?mills?\b|endmills?\b|mill\b|cutters?\b|bits?\b|flutes?\b|ball\s?nose\b|flat\b|ball\b|drill\b|v[ -]?bit\b|engraver\b|burr\b))",
      std::regex::icase);
  return r;
}
/// What else has a size.
const std::regex& other_thing() {
  static const std::regex r(
      R"(\b(?:pockets?|holes?|stock|bores?|boss(?:es)?|step-?\s?overs?|step-?\s?downs?|depths?|deep|plates?|discs?|disks?|boards?|sheets?|tabs?|slots?(?!\s?drill)|rings?|circles?|materials?|blanks?|recess(?:es)?|contours?|profiles?|parts?|clearance|thick(?:ness)?|wide|width|long|length|spacing|pitch|offset|radius|lead|allowance|dowels?|screws?|inlay|arcs?|rough(?:ing)?|finish(?:ing)?)\b)",
      std::regex::icase);
  return r;
}

/// The part of `text` round `at`, up to a comma, colon, semicolon or dash between blanks.
std::string clause(const std::string& text, std::size_t at, std::size_t size) {
  const auto ends = [&](std::size_t i) {
    return text[i] == ',' || text[i] == ';' || text[i] == ':' ||
           (text[i] == '-' && i > 0 && text[i - 1] == ' ' && i + 1 < text.size() && text[i + 1] == ' ');
  };
  std::size_t first = at, last = at + size;
  while (first > 0 && !ends(first - 1)) --first;
  while (last < text.size() && !ends(last)) ++last;
  return text.substr(first, last - first);
}

struct ToolSaid {
  double diameter = 0;
  bool certain = false;
  int number = 0;
};

std::optional<ToolSaid> said_in(const std::string& text, bool inches) {
  if (text.size() > longest_remark) return std::nullopt;
  std::smatch m, n;
  ToolSaid said;
  const bool numbered = std::regex_search(text, n, number_of_tool());
  if (numbered) said.number = std::stoi(n[1]);
  if (std::regex_search(text, m, sized_tool())) {
    const std::string word = m[5];
    // "drill" and "flat" are verbs and adjectives, too: only with a unit before them.
    const bool weak = !std::regex_search(word, tool_word()) && !m[3].matched && !m[2].matched && !numbered;
    // "2 flutes" says how many.
    const bool counts = (word[0] == 'f' || word[0] == 'F') && !m[3].matched && !m[2].matched;
    if (!weak && !counts)
      if (const auto mm = length_in(m[1], m[2], m[3], inches)) {
        said.diameter = *mm;
        said.certain = true;
        return said;
      }
  }
  if (!std::regex_search(text, m, named_diameter())) return std::nullopt;
  const std::string digits = m[1].matched ? m[1] : m[2].matched ? m[2] : m[3];
  const auto mm = length_in(digits, m[4], m[5], inches);
  if (!mm) return std::nullopt;
  said.diameter = *mm;
  const std::string round =
      clause(text, static_cast<std::size_t>(m.position(0)), static_cast<std::size_t>(m.length(0)));
  said.certain = (numbered || std::regex_search(text, tool_word())) && !std::regex_search(round, other_thing());
  return said;
}

}  // namespace

std::vector<SpokenTool> spoken_tools(const Program& program, const std::string& file_name, int only) {
  std::vector<SpokenTool> found;
  std::set<int> told;
  std::size_t doubtful = 0;
  const auto take = [&](const SpokenTool& s) {
    if (s.number <= 0 || (s.certain ? !told.insert(s.number).second : ++doubtful > most_doubtful)) return;
    found.push_back(s);
  };
  for (const Comment& c : program.comments) {
    const auto said = said_in(c.text, program.in_inches);
    if (!said) continue;
    SpokenTool tool{said->number, 0, said->diameter, c.line, said->certain};
    if (tool.number == 0) {
      tool.number = only;
      for (const Event& e : program.events) {
        if (e.kind != EventKind::tool_change) continue;
        (e.line >= c.line ? tool.number : tool.or_number) = static_cast<int>(e.value);
        if (e.line >= c.line) break;
      }
      if (tool.number == 0) std::swap(tool.number, tool.or_number);
    }
    take(tool);
  }
  std::string name = file_name;
  for (char& c : name)
    if (c == '_' || c == '-') c = ' ';
  if (const auto said = said_in(name, program.in_inches); said && said->certain) {
    // A name speaks of one tool: of a job with several nobody knows which.
    std::set<int> used;
    for (const Event& e : program.events)
      if (e.kind == EventKind::tool_change) used.insert(static_cast<int>(e.value));
    if (used.empty()) used.insert(only);
    if (used.size() == 1) take({*used.begin(), 0, said->diameter, 0, true});
  }
  return found;
}

}  // namespace ypsi
