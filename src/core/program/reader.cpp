#include "core/program/reader.h"

#include <fmt/format.h>

namespace ypsi {
namespace {

std::string shown(char c) {
  const auto byte = static_cast<unsigned char>(c);
  return byte > 0x20 && byte < 0x7f ? fmt::format("“{}”", c) : fmt::format("a byte {:#04x}", byte);
}

}  // namespace

tl::unexpected<Error> program_error(std::uint32_t line, std::uint32_t column, const std::string& sentence,
                                    const char* code) {
  return fail(code, fmt::format("Line {}, column {}: {}", line, column, sentence), fmt::format("{}:{}", line, column));
}

const Parameters& LineReader::none() {
  static const Parameters empty;
  return empty;
}

Result<std::span<const Word>> LineReader::read(std::string_view line, std::uint32_t number,
                                               const Parameters& parameters) {
  assignments_.clear();
  comments_.clear();
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
      const char* const comment = at + 1;
      for (; at < end; ++at)
        if (static_cast<unsigned char>(*at) < 0x20 && *at != '\t' && *at != '\r')
          return program_error(number, column(at),
                               fmt::format("{} is not text; is this a G-code program?", shown(*at)));
      comments_.push_back(line.substr(static_cast<std::size_t>(comment - begin)));
      break;
    }
    if (c == '(') {
      const char* close = at + 1;
      while (close < end && *close != ')' && *close != '(') ++close;
      if (close == end || *close == '(')
        return program_error(number, column(at), "this comment is not closed; add “)” on the same line.");
      comments_.emplace_back(at + 1, static_cast<std::size_t>(close - at - 1));
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
    if (c == '#') {
      ValueReader values(line, number, parameters);
      auto to = values.name(at);
      if (!to) return tl::make_unexpected(to.error());
      while (at < end && (*at == ' ' || *at == '\t')) ++at;
      if (at == end || *at != '=')
        return program_error(number, column(at), "“=” and a value must follow a parameter at this place.");
      auto value = values.value(++at);
      if (!value) return tl::make_unexpected(value.error());
      assignments_.push_back({std::move(*to), *value});
      continue;
    }
    const char letter = c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
    if (letter < 'A' || letter > 'Z')
      return program_error(
          number, column(at),
          fmt::format("{} does not belong into a program; a word such as X12.5 is expected.", shown(c)));
    if (letter == 'O')
      return program_error(number, column(at),
                           "O-words (subroutines, loops, program numbers) are not understood here; have the program "
                           "written out without them.",
                           "o_word");
    if (count == most_words) return program_error(number, column(at), "there are too many words in this line.");
    Word& word = words_[count];
    word.letter = letter;
    word.column = column(at);
    const char* value = at + 1;
    while (value < end && (*value == ' ' || *value == '\t')) ++value;
    const char* after = read_number(value, end, word.value);
    if (!after && value < end &&
        (*value == '#' || *value == '[' ||
         ((*value == '-' || *value == '+') && value + 1 < end && (value[1] == '#' || value[1] == '[')) ||
         ValueReader::function_at(value, end))) {
      after = value;
      auto found = ValueReader(line, number, parameters).value(after);
      if (!found) return tl::make_unexpected(found.error());
      word.value = *found;
    }
    if (!after) return program_error(number, column(at), fmt::format("a number must follow {}.", letter));
    at = after;
    ++count;
  }
  return std::span<const Word>(words_.data(), count);
}

}  // namespace ypsi
