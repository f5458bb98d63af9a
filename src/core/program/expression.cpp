#include "core/program/expression.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>
#include <numbers>
#include <optional>
#include <vector>

#include "core/ascii.h"
#include "core/program/reader.h"

namespace ypsi {
namespace {

constexpr int deepest_nesting = 60;
constexpr double degree = std::numbers::pi / 180;
constexpr double equal_within = 1e-6;  // as controllers compare: the last digits of a sum are chance

constexpr char upper(char c) {
  return c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
}

void skip_blanks(const char*& at, const char* end) {
  while (at < end && (*at == ' ' || *at == '\t')) ++at;
}

/// Takes `word` (upper case) where it stands at `at`.
bool take(const char*& at, const char* end, std::string_view word) {
  if (static_cast<std::size_t>(end - at) < word.size()) return false;
  for (std::size_t i = 0; i < word.size(); ++i)
    if (upper(at[i]) != word[i]) return false;
  at += word.size();
  return true;
}

struct Operator {
  std::string_view word;
  int binds;  ///< the higher, the tighter (RS274/NGC 3.3.2.3)
};
constexpr std::array<Operator, 15> operators{{{"**", 5},
                                              {"*", 4},
                                              {"/", 4},
                                              {"MOD", 4},
                                              {"+", 3},
                                              {"-", 3},
                                              {"EQ", 2},
                                              {"NE", 2},
                                              {"GT", 2},
                                              {"GE", 2},
                                              {"LT", 2},
                                              {"LE", 2},
                                              {"AND", 1},
                                              {"OR", 1},
                                              {"XOR", 1}}};

std::optional<double> apply(std::string_view op, double a, double b) {
  if (op == "**") return std::pow(a, b);
  if (op == "*") return a * b;
  if (op == "/") return b == 0 ? std::nullopt : std::optional(a / b);
  if (op == "MOD") return b == 0 ? std::nullopt : std::optional(a - b * std::floor(a / b));
  if (op == "+") return a + b;
  if (op == "-") return a - b;
  if (op == "EQ") return std::fabs(a - b) < equal_within ? 1 : 0;
  if (op == "NE") return std::fabs(a - b) < equal_within ? 0 : 1;
  if (op == "GT") return a > b ? 1 : 0;
  if (op == "GE") return a >= b ? 1 : 0;
  if (op == "LT") return a < b ? 1 : 0;
  if (op == "LE") return a <= b ? 1 : 0;
  if (op == "AND") return a != 0 && b != 0 ? 1 : 0;
  if (op == "OR") return a != 0 || b != 0 ? 1 : 0;
  return (a != 0) != (b != 0) ? 1 : 0;
}

constexpr std::array<std::string_view, 12> functions{"ABS", "ACOS", "ASIN",  "COS", "EXP",  "FIX",
                                                     "FUP", "LN",   "ROUND", "SIN", "SQRT", "TAN"};

double apply(std::string_view function, double a) {
  if (function == "ABS") return std::fabs(a);
  if (function == "ACOS") return std::acos(a) / degree;
  if (function == "ASIN") return std::asin(a) / degree;
  if (function == "COS") return std::cos(a * degree);
  if (function == "EXP") return std::exp(a);
  if (function == "FIX") return std::floor(a);
  if (function == "FUP") return std::ceil(a);
  if (function == "LN") return std::log(a);
  if (function == "ROUND") return std::round(a);
  if (function == "SIN") return std::sin(a * degree);
  if (function == "SQRT") return std::sqrt(a);
  return std::tan(a * degree);
}

}  // namespace

const char* read_number(const char* at, const char* end, double& value, int* decimals_read) {
  const char* const start = at;
  bool negative = false;
  if (at < end && (*at == '-' || *at == '+')) negative = *at++ == '-';
  const char* const first = at;
  std::uint64_t digits = 0;
  int count = 0, decimals = 0;
  for (; at < end && is_digit(*at); ++at, ++count) digits = digits * 10 + static_cast<std::uint64_t>(*at - '0');
  if (at < end && *at == '.')
    for (++at; at < end && is_digit(*at); ++at, ++count, ++decimals)
      digits = digits * 10 + static_cast<std::uint64_t>(*at - '0');
  if (count == 0) return nullptr;
  if (decimals_read) *decimals_read = decimals;
  if (count <= 15) {
    // Up to 15 digits the quotient of two exact doubles is the correctly rounded value (Clinger 1990).
    static constexpr double powers[] = {1,   1e1, 1e2,  1e3,  1e4,  1e5,  1e6,  1e7,
                                        1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15};
    value = static_cast<double>(digits) / powers[decimals];
  } else {
    const auto read =
        std::from_chars(*start == '+' || *start == '-' ? first : start, at, value, std::chars_format::fixed);
    if (read.ec != std::errc{}) return nullptr;
  }
  if (negative) value = -value;
  return at;
}

const char* read_spaced_number(const char* at, const char* end, double& value, int* decimals) {
  constexpr std::size_t longest = 64;  // characters of a number; a longer one is none
  char together[longest];
  std::size_t size = 0;
  bool point = false;
  const char* behind = at;
  for (; at < end && size < longest; ++at) {
    if (*at == ' ' || *at == '\t') continue;
    const bool sign = size == 0 && (*at == '-' || *at == '+'), first_point = *at == '.' && !point;
    if (!sign && !first_point && !is_digit(*at)) break;
    point = point || first_point;
    together[size++] = *at;
    behind = at + 1;
  }
  return read_number(together, together + size, value, decimals) == together + size ? behind : nullptr;
}

double Parameters::get(int number) const {
  const auto found = numbered_.find(number);
  return found == numbered_.end() ? 0 : found->second;
}

double Parameters::get(const std::string& name) const {
  const auto found = named_.find(name);
  return found == named_.end() ? 0 : found->second;
}

tl::unexpected<Error> ValueReader::error(const char* at, const std::string& sentence, const char* code) const {
  return program_error(line_, static_cast<std::uint32_t>(at - begin_) + 1, sentence, code);
}

Result<ValueReader::Name> ValueReader::name(const char*& at) {
  const char* const start = at;
  if (at < end_ && *at == '#') ++at;
  skip_blanks(at, end_);
  if (at < end_ && *at == '<') {
    std::string text;
    for (++at; at < end_ && *at != '>'; ++at)
      if (*at != ' ' && *at != '\t') text += static_cast<char>(std::tolower(static_cast<unsigned char>(*at)));
    if (at == end_ || text.empty()) return error(start, "a parameter's name is written as #<name>.");
    ++at;
    return Name{0, text};
  }
  auto number = value(at);
  if (!number) return tl::make_unexpected(number.error());
  if (!(*number >= 1 && *number <= most_parameters) || std::fabs(*number - std::round(*number)) > 1e-6)
    return error(start, fmt::format("a parameter has a whole number from 1 to {}.", most_parameters));
  return Name{static_cast<int>(std::lround(*number)), {}};
}

Result<double> ValueReader::value(const char*& at) {
  skip_blanks(at, end_);
  if (at == end_) return error(at, "a number is expected here.");
  if (double number = 0; const char* after = read_number(at, end_, number)) {
    at = after;
    return number;
  }
  const char* const start = at;
  if (++depth_ > deepest_nesting)
    return error(start, "this expression is nested too deeply; split it into parameters.");
  struct Leave {
    int& depth;
    ~Leave() { --depth; }
  } leave{depth_};
  if (*at == '-' || *at == '+') {
    const bool negative = *at == '-';
    ++at;
    auto inner = value(at);
    if (inner && negative) *inner = -*inner;
    return inner;
  }
  if (*at == '[') return expression(++at, ']');
  if (*at == '#') {
    const auto named = name(at);
    if (!named) return tl::make_unexpected(named.error());
    if (named->text.empty()) return parameters_.get(named->number);
    if (!parameters_.has(named->text))
      return error(start, fmt::format("#<{}> was never given a value.", named->text), "expression");
    return parameters_.get(named->text);
  }
  return function(at);
}

bool ValueReader::function_at(const char* at, const char* end) {
  const auto starts = [&](std::string_view word) {
    const char* copy = at;
    return take(copy, end, word);
  };
  return starts("EXISTS") || starts("ATAN") || std::any_of(functions.begin(), functions.end(), starts);
}

Result<double> ValueReader::function(const char*& at) {
  const char* const start = at;
  if (take(at, end_, "EXISTS")) {
    skip_blanks(at, end_);
    if (at == end_ || *at != '[') return error(at, "EXISTS is written as EXISTS[#<name>].");
    ++at;
    skip_blanks(at, end_);
    const auto named = name(at);
    if (!named) return tl::make_unexpected(named.error());
    skip_blanks(at, end_);
    if (at == end_ || *at != ']') return error(at, "EXISTS is written as EXISTS[#<name>].");
    ++at;
    return !named->text.empty() && !parameters_.has(named->text) ? 0 : 1;
  }
  if (take(at, end_, "ATAN")) {
    double part[2] = {};
    for (int i = 0; i < 2; ++i) {
      skip_blanks(at, end_);
      if (i == 1) {
        if (at == end_ || *at != '/') return error(at, "ATAN takes two values: ATAN[y]/[x].");
        ++at;
        skip_blanks(at, end_);
      }
      if (at == end_ || *at != '[') return error(at, "ATAN takes two values: ATAN[y]/[x].");
      auto inner = expression(++at, ']');
      if (!inner) return inner;
      part[i] = *inner;
    }
    return std::atan2(part[0], part[1]) / degree;
  }
  for (const auto f : functions)
    if (take(at, end_, f)) {
      skip_blanks(at, end_);
      if (at == end_ || *at != '[') return error(at, fmt::format("a value in square brackets must follow {}.", f));
      auto inner = expression(++at, ']');
      if (!inner) return inner;
      const double found = apply(f, *inner);
      if (!std::isfinite(found)) return error(start, fmt::format("{} of {:g} has no value.", f, *inner), "expression");
      return found;
    }
  return error(at, "a number, a parameter or an expression in square brackets is expected here.");
}

/// Operands and operators up to `close`; the tighter binds first, equals from the left.
Result<double> ValueReader::expression(const char*& at, char close) {
  const char* const start = at - 1;
  std::vector<double> values;
  std::vector<const Operator*> open;
  const auto reduce = [&] {
    const double b = values.back();
    values.pop_back();
    const auto found = apply(open.back()->word, values.back(), b);
    open.pop_back();
    values.back() = found.value_or(std::nan(""));
    return found && std::isfinite(*found);
  };
  while (true) {
    auto operand = value(at);
    if (!operand) return operand;
    values.push_back(*operand);
    skip_blanks(at, end_);
    if (at == end_) return error(start, fmt::format("“{}” is missing at the end of this expression.", close));
    if (*at == close) break;
    const Operator* found = nullptr;
    for (const auto& o : operators)
      if (take(at, end_, o.word)) {
        found = &o;
        break;
      }
    if (!found) return error(at, "an operator such as + or MOD is expected here.");
    while (!open.empty() && open.back()->binds >= found->binds)
      if (!reduce())
        return error(start, "this expression has no value: it divides by zero, or grows too large.", "expression");
    open.push_back(found);
  }
  ++at;
  while (!open.empty())
    if (!reduce())
      return error(start, "this expression has no value: it divides by zero, or grows too large.", "expression");
  return values.back();
}

}  // namespace ypsi
