#include "core/program/reader.h"

#include <fmt/format.h>

#include <charconv>

namespace ypsi {
namespace {

constexpr bool is_digit(char c) {
  return c >= '0' && c <= '9';
}

/// Decimal number in RS274/NGC form: optional sign, digits, optional point, no exponent. Up to 15 digits the quotient
/// of two exact doubles is the correctly rounded value (Clinger 1990); longer ones take the library's way.
const char* read_number(const char* at, const char* end, double& value) {
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
  if (count <= 15) {
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

std::string shown(char c) {
  const auto byte = static_cast<unsigned char>(c);
  return byte > 0x20 && byte < 0x7f ? fmt::format("“{}”", c) : fmt::format("a byte {:#04x}", byte);
}

}  // namespace

tl::unexpected<Error> program_error(std::uint32_t line, std::uint32_t column, const std::string& sentence,
                                    const char* code) {
  return fail(code, fmt::format("Line {}, column {}: {}", line, column, sentence), fmt::format("{}:{}", line, column));
}

Result<std::span<const Word>> LineReader::read(std::string_view line, std::uint32_t number) {
  const char* const begin = line.data();
  const char* const end = begin + line.size();
  const char* at = begin;
  const auto column = [&](const char* p) { return static_cast<std::uint32_t>(p - begin) + 1; };
  if (line.size() > longest_line)
    return program_error(number, longest_line + 1,
                         fmt::format("this line is {} characters long, and {} are allowed; is this a G-code program?",
                                     line.size(), longest_line));
  std::size_t count = 0;
  bool first = true;
  while (at < end) {
    const char c = *at;
    if (c == ' ' || c == '\t' || c == '\r') {
      ++at;
      continue;
    }
    if (c == ';') {
      // The rest is for people, but a control character in it says that this is no text at all.
      for (; at < end; ++at)
        if (static_cast<unsigned char>(*at) < 0x20 && *at != '\t' && *at != '\r')
          return program_error(number, column(at),
                               fmt::format("{} is not text; is this a G-code program?", shown(*at)));
      break;
    }
    if (c == '(') {
      const char* close = at + 1;
      while (close < end && *close != ')' && *close != '(') ++close;
      if (close == end || *close == '(')
        return program_error(number, column(at), "this comment is not closed; add “)” on the same line.");
      at = close + 1;
      continue;
    }
    if (first && (c == '/' || c == '%')) {
      ++at;
      if (c == '%') break;
      first = false;
      continue;
    }
    first = false;
    const char letter = c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
    if (letter < 'A' || letter > 'Z')
      return program_error(
          number, column(at),
          fmt::format("{} does not belong into a program; a word such as X12.5 is expected.", shown(c)));
    if (count == most_words) return program_error(number, column(at), "there are too many words in this line.");
    Word& word = words_[count];
    word.letter = letter;
    word.column = column(at);
    const char* value = at + 1;
    while (value < end && (*value == ' ' || *value == '\t')) ++value;
    const char* after = read_number(value, end, word.value);
    if (!after) return program_error(number, column(at), fmt::format("a number must follow {}.", letter));
    at = after;
    ++count;
  }
  return std::span<const Word>(words_.data(), count);
}

}  // namespace ypsi
