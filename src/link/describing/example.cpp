#include "link/describing/example.h"

#include <algorithm>
#include <set>

#include "core/ascii.h"

namespace ypsi::link {
namespace {

bool is_in_words(char c) {
  return is_letter(c) || c == '_';
}

/// The end of the number that begins here; `at` where none does.
std::size_t end_of_number(std::string_view line, std::size_t at) {
  std::size_t end = at;
  if (end < line.size() && (line[end] == '-' || line[end] == '+')) ++end;
  const std::size_t digits = end;
  bool point = false, any = false;
  for (; end < line.size() && (is_digit(line[end]) || (line[end] == '.' && !point)); ++end) {
    any = any || is_digit(line[end]);
    point = point || line[end] == '.';
  }
  while (end > digits && line[end - 1] == '.') --end;  // the end of a sentence
  return any ? end : at;
}

std::string literal(std::string_view text) {
  std::string out;
  for (const char c : text) {
    if (std::string_view("\\.+*?()|[]{}^$").find(c) != std::string_view::npos) out += '\\';
    out += c;
  }
  return out;
}

constexpr const char* any_number = "-?[0-9.]+";

/// What may stand in place of a word.
std::string any_word(std::string_view word) {
  std::string of;
  if (std::any_of(word.begin(), word.end(), is_digit)) of += "0-9";
  if (std::any_of(word.begin(), word.end(), is_in_words)) of += "A-Za-z_";
  for (const char sign : {'.', '+'})
    if (word.find(sign) != std::string_view::npos) of += sign;
  if (of != "0-9" || word.find('-') != std::string_view::npos) of += '-';
  return "[" + of + "]+";
}

/// Several words or letters, or none, up to what comes behind them.
std::string any_words(std::string_view taken, std::string_view behind) {
  std::string of = "A-Za-z0-9_ ,-";
  for (const char sign : {'.', '+'})
    if (taken.find(sign) != std::string_view::npos) of.insert(0, 1, sign);
  if (!behind.empty() && taken.find(behind.front()) == std::string_view::npos)
    if (const std::size_t at = of.find(behind.front()); at != std::string::npos && !is_in_words(behind.front()))
      of.erase(at, 1);
  return "[" + of + "]*";
}

std::string group(const std::string& name, const std::string& what) {
  return "(?P<" + name + ">" + what + ")";
}

}  // namespace

std::vector<Token> tokens_of(std::string_view line) {
  std::vector<Token> tokens;
  for (std::size_t at = 0; at < line.size();) {
    if (is_in_words(line[at])) {
      std::size_t end = at + 1;
      const auto goes_on = [&](char c) { return is_in_words(c) || is_digit(c); };
      while (end < line.size() &&
             (goes_on(line[end]) || (line[end] == '-' && end + 1 < line.size() && is_in_words(line[end + 1]))))
        ++end;
      tokens.push_back({at, end, false});
      at = end;
    } else if (const std::size_t end = end_of_number(line, at); end > at) {
      tokens.push_back({at, end, true});
      at = end;
    } else {
      ++at;
    }
  }
  return tokens;
}

std::string pattern_of(std::string_view line, const std::vector<Mark>& marks, bool whole) {
  std::string out = whole ? "^" : "";
  std::set<std::string> used;
  std::size_t at = 0;
  for (const Token& token : tokens_of(line)) {
    if (token.begin < at) continue;  // within what `why` or `inputs` took
    out += literal(line.substr(at, token.begin - at));
    at = token.end;
    const std::string_view text = line.substr(token.begin, token.end - token.begin);
    const auto mark = std::find_if(marks.begin(), marks.end(), [&](const Mark& m) { return m.token == token; });
    if (mark == marks.end() || mark->group.empty() || !used.insert(mark->group).second) {
      out += token.number ? any_number : literal(text);
    } else if (mark->group == "why" && !token.number) {
      out += group("why", ".*");
      at = line.size();
    } else if (mark->group == "why" || mark->group == "state") {
      out += group(mark->group, any_word(text));
    } else if (mark->group == "contact") {
      out += "(?:" + group("contact", literal(text)) + "|" + any_word(text) + ")";
    } else if (mark->group == "inputs") {
      // All that are on stand there, as far as the line goes on like this.
      while (at < line.size() &&
             (is_in_words(line[at]) || is_digit(line[at]) || line[at] == '-' || line[at] == ',' || line[at] == ' '))
        ++at;
      out += group("inputs", any_words(line.substr(token.begin, at - token.begin), line.substr(at)));
    } else {
      out += group(mark->group, any_number);
    }
  }
  out += literal(line.substr(at));
  return whole ? out + "$" : out;
}

}  // namespace ypsi::link
