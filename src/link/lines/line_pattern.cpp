#include "link/lines/line_pattern.h"

#include <fmt/format.h>
#include <re2/re2.h>

#include <vector>

namespace ypsi::link {
namespace {

constexpr int most_memory = 1 << 20;
constexpr std::size_t longest_pattern = 2000;
constexpr int most_groups = 64;

re2::RE2::Options options() {
  re2::RE2::Options how;
  how.set_log_errors(false);
  how.set_max_mem(most_memory);
  how.set_encoding(re2::RE2::Options::EncodingLatin1);  // what comes down a wire need not be UTF-8
  return how;
}

}  // namespace

struct LinePattern::Compiled {
  explicit Compiled(const std::string& text) : expression(text, options()) {}
  re2::RE2 expression;
};

LinePattern::LinePattern() = default;

Result<LinePattern> LinePattern::from(const std::string& text) {
  const auto bad = [](const std::string& why) {
    return fail("bad_pattern", fmt::format("The pattern cannot be used: {}. Mend it, or leave it out.", why));
  };
  if (text.empty()) return LinePattern();
  if (text.size() > longest_pattern) return bad(fmt::format("it is longer than {} characters", longest_pattern));
  auto compiled = std::make_shared<const Compiled>(text);
  if (!compiled->expression.ok()) return bad(compiled->expression.error());
  if (compiled->expression.NumberOfCapturingGroups() > most_groups)
    return bad(fmt::format("it has more than {} groups", most_groups));
  LinePattern pattern;
  pattern.compiled_ = std::move(compiled);
  return pattern;
}

std::optional<LinePattern::Found> LinePattern::find(std::string_view line) const {
  if (none()) return std::nullopt;
  const re2::RE2& expression = compiled_->expression;
  const int groups = expression.NumberOfCapturingGroups();
  std::vector<re2::StringPiece> parts(static_cast<std::size_t>(groups) + 1);
  const re2::StringPiece text(line.data(), line.size());
  if (!expression.Match(text, 0, line.size(), re2::RE2::UNANCHORED, parts.data(), groups + 1)) return std::nullopt;
  Found found;
  found.begin = static_cast<std::size_t>(parts[0].data() - line.data());
  found.end = found.begin + parts[0].size();
  for (const auto& [name, number] : expression.NamedCapturingGroups())
    if (const re2::StringPiece& part = parts[static_cast<std::size_t>(number)]; part.data() != nullptr)
      found.groups[name] = std::string(part.data(), part.size());
  return found;
}

bool LinePattern::has_group(const std::string& name) const {
  return !none() && compiled_->expression.NamedCapturingGroups().contains(name);
}

}  // namespace ypsi::link
