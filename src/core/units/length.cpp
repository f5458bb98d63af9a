#include "core/units/length.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

namespace ypsi {
namespace {

/// Recursive descent over "a + b * (c - d)"; a mixed fraction ("1 1/2") is a number followed by blanks and a fraction.
class Sum {
 public:
  explicit Sum(std::string_view text) : text_(text) {}

  Result<double> whole() {
    auto value = sum(0);
    if (!value) return value;
    skip();
    if (at_ < text_.size()) return unexpected_character();
    if (!std::isfinite(*value)) return fail("not_finite", "That sum has no finite value; check what it divides by.");
    return value;
  }

 private:
  void skip() {
    while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_]))) ++at_;
  }
  bool take(char c) {
    skip();
    if (at_ < text_.size() && text_[at_] == c) return ++at_, true;
    return false;
  }
  tl::unexpected<Error> unexpected_character() const {
    if (at_ >= text_.size())
      return fail("not_a_number", "The number ends too early; type a length such as 12.5 or 1/2 in.");
    const unsigned char c = static_cast<unsigned char>(text_[at_]);
    const std::string shown = c >= 0x20 && c < 0x7f ? fmt::format("‘{}’", text_[at_]) : "a character";
    return fail(
        "not_a_number",
        fmt::format("{} at place {} is not part of a number; type a length such as 12.5 or 1/2 in.", shown, at_ + 1));
  }

  Result<double> sum(int depth) {
    if (depth > 50) return fail("not_a_number", "That sum has too many brackets.");
    auto left = product(depth);
    while (left) {
      const bool plus = take('+');
      if (!plus && !take('-')) break;
      auto right = product(depth);
      if (!right) return right;
      *left += plus ? *right : -*right;
    }
    return left;
  }
  Result<double> product(int depth) {
    auto left = factor(depth);
    while (left) {
      const bool times = take('*');
      if (!times && !take('/')) break;
      auto right = factor(depth);
      if (!right) return right;
      *left = times ? *left * *right : *left / *right;
    }
    return left;
  }
  Result<double> factor(int depth) {
    double sign = 1;
    for (int signs = 0;; ++signs) {
      if (signs > 3) return unexpected_character();
      if (take('-'))
        sign = -sign;
      else if (!take('+'))
        break;
    }
    if (take('(')) {
      auto inner = sum(depth + 1);
      if (!inner) return inner;
      if (!take(')')) return fail("not_a_number", "A bracket is not closed.");
      return sign * *inner;
    }
    auto value = number();
    if (!value) return value;
    const std::size_t after = at_;
    skip();
    if (at_ > after && at_ < text_.size() && std::isdigit(static_cast<unsigned char>(text_[at_]))) {
      auto numerator = number();
      if (numerator && take('/')) {
        auto denominator = number();
        if (!denominator) return denominator;
        return sign * (*value + *numerator / *denominator);
      }
      at_ = after;
      skip();
      return unexpected_character();
    }
    return sign * *value;
  }
  Result<double> number() {
    skip();
    const std::size_t start = at_;
    std::string digits;
    bool point = false;
    while (at_ < text_.size()) {
      const char c = text_[at_];
      if (c == '.' || c == ',') {
        if (point) return fail("not_a_number", "There are two decimal signs in one number; use one dot or comma.");
        point = true;
        digits += '.';
      } else if (std::isdigit(static_cast<unsigned char>(c))) {
        digits += c;
      } else {
        break;
      }
      ++at_;
    }
    if (digits.empty() || digits == ".") {
      at_ = start;
      return unexpected_character();
    }
    if (digits.front() == '.') digits.insert(digits.begin(), '0');
    double value = 0;
    const auto read = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (read.ec != std::errc{}) return fail("not_finite", "That number is too large or too small to be a length.");
    return value;
  }

  std::string_view text_;
  std::size_t at_ = 0;
};

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front()))) text.remove_prefix(1);
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
  return text;
}

bool cut_suffix(std::string_view& text, std::string_view suffix) {
  if (text.size() < suffix.size()) return false;
  const auto tail = text.substr(text.size() - suffix.size());
  const auto same = [](char a, char b) { return std::tolower(static_cast<unsigned char>(a)) == b; };
  if (!std::equal(tail.begin(), tail.end(), suffix.begin(), same)) return false;
  text.remove_suffix(suffix.size());
  return true;
}

/// The typographic minus is what this program itself prints, so it has to read back.
std::string with_plain_minus(std::string_view text) {
  std::string plain(text);
  for (std::size_t at; (at = plain.find("\u2212")) != std::string::npos;) plain.replace(at, 3, "-");
  return plain;
}

}  // namespace

Result<double> parse_number(std::string_view text) {
  const std::string plain = with_plain_minus(trimmed(text));
  if (plain.empty()) return fail("empty", "Nothing is typed here yet.");
  return Sum(plain).whole();
}

Result<double> parse_length(std::string_view text, LengthUnit unit) {
  text = trimmed(text);
  double factor = unit == LengthUnit::inch ? mm_per_inch : 1;
  if (unit == LengthUnit::none) return parse_number(text);
  if (unit == LengthUnit::degree) {
    if (!cut_suffix(text, "°")) cut_suffix(text, "deg");
    return parse_number(text);
  }
  if (cut_suffix(text, "mm"))
    factor = 1;
  else if (cut_suffix(text, "cm"))
    factor = 10;
  else if (cut_suffix(text, "inch") || cut_suffix(text, "in") || cut_suffix(text, "\""))
    factor = mm_per_inch;
  else if (cut_suffix(text, "m"))
    factor = 1000;
  auto value = parse_number(text);
  if (value && !std::isfinite(*value *= factor)) return fail("not_finite", "That length is too large.");
  return value;
}

int decimals_for(double uncertainty, int least) {
  if (!(uncertainty > 0) || !std::isfinite(uncertainty)) return least;
  const int wanted = 1 - static_cast<int>(std::floor(std::log10(uncertainty)));
  return std::clamp(wanted, least, 6);
}

std::string format_number(double value, int decimals) {
  std::string text = fmt::format("{:.{}f}", std::fabs(value), decimals);
  const bool is_zero = text.find_first_not_of("0.") == std::string::npos;
  if (value < 0 && !is_zero) text.insert(0, "\u2212");
  return text;
}

std::string format_signed(double value, int decimals) {
  std::string text = format_number(value, decimals);
  if (!text.starts_with("\u2212")) text.insert(0, 1, '+');
  return text;
}

double in_unit(double mm, LengthUnit unit) {
  return unit == LengthUnit::inch ? mm / mm_per_inch : mm;
}

std::string format_length(double mm, LengthUnit unit, int decimals_mm) {
  return format_number(in_unit(mm, unit), unit == LengthUnit::inch ? decimals_mm + 1 : decimals_mm);
}

std::string unit_name(LengthUnit unit) {
  switch (unit) {
    case LengthUnit::inch:
      return "in";
    case LengthUnit::degree:
      return "°";
    case LengthUnit::none:
      return "";
    case LengthUnit::millimetre:
      break;
  }
  return "mm";
}

std::string format_duration(double seconds) {
  if (!(seconds > 0)) return "0 s";
  const long whole = std::lround(std::min(seconds, 3.6e8));
  if (whole < 60) return fmt::format("{} s", whole);
  if (whole < 3600) return fmt::format("{} min {:02} s", whole / 60, whole % 60);
  return fmt::format("{} h {:02} min", whole / 3600, whole % 3600 / 60);
}

}  // namespace ypsi
