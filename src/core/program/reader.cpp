#include "core/program/reader.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/ascii.h"

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

/// "O1234" and ":1234" number a program and do nothing.
Result<void> LineReader::take_program_number(const char*& at, std::string_view line, std::uint32_t number) {
  const char *const begin = line.data(), *const end = begin + line.size(), *const start = at;
  const auto skip_blanks = [&] {
    while (at < end && (*at == ' ' || *at == '\t' || *at == '\r')) ++at;
  };
  ++at;
  skip_blanks();
  bool named = false;
  if (at < end && *at == '<') {
    while (at < end && *at != '>') ++at;
    if (named = at < end; named) ++at;
  }
  for (; at < end && is_digit(*at); ++at) named = true;
  const auto column = static_cast<std::uint32_t>(start - begin) + 1;
  if (!named) return program_error(number, column, fmt::format("a number must follow {}.", *start));
  skip_blanks();
  if (*start != ':' && at < end && *at != '(' && *at != ';')
    return program_error(
        number, column,
        "this begins, ends or calls a sub-program or a loop (an O-word), which cannot be followed line "
        "by line; have the program written out without it.",
        "sub_program");
  passed_over_.push_back("program number");
  return {};
}

/// From a bracket to the one that closes it. One that stands within and is not closed belongs to the text, where
/// nothing but comments follows on the line: then both ways to read it come to the same.
Result<void> LineReader::take_comment(const char*& at, std::string_view line, std::uint32_t number) {
  const char *const begin = line.data(), *const end = begin + line.size();
  const char *close = nullptr, *first_close = nullptr;
  int depth = 0;
  for (const char* p = at; p < end && !close; ++p) {
    if (*p == '(') ++depth;
    if (*p != ')') continue;
    if (!first_close) first_close = p;
    if (--depth == 0) close = p;
  }
  if (!close && first_close) {
    const char* rest = first_close + 1;
    while (rest < end && (*rest == ' ' || *rest == '\t' || *rest == '\r')) ++rest;
    if (rest == end || *rest == ';' || *rest == '(') close = first_close;
  }
  if (!close)
    return program_error(number, static_cast<std::uint32_t>(at - begin) + 1,
                         "this comment is not closed; add “)” on the same line.");
  if (close != first_close) passed_over_.push_back("comment within a comment");
  comments_.emplace_back(at + 1, static_cast<std::size_t>(close - at - 1));
  at = close + 1;
  return {};
}

Result<std::span<const Word>> LineReader::read(std::string_view line, std::uint32_t number,
                                               const Parameters& parameters) {
  assignments_.clear();
  comments_.clear();
  passed_over_.clear();
  count_ = 0;
  block_delete_ = tape_mark_ = text_ends_ = false;
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
  if (number == 1 && line.starts_with("\xEF\xBB\xBF")) {
    at += 3;
    passed_over_.push_back("byte-order mark");
  }
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
      if (auto ok = take_comment(at, line, number); !ok) return tl::make_unexpected(ok.error());
      continue;
    }
    if (c == '\x1a') {
      text_ends_ = true;
      break;
    }
    if (c == '/' && !block_delete_ && (first || (count == 1 && words_[0].letter == 'N'))) {
      block_delete_ = true;
      first = false;
      if (++at < end && is_digit(*at)) ++at;  // which of several switches deletes it
      continue;
    }
    if (first && c == '%') {
      tape_mark_ = true;
      break;
    }
    if (c == 'O' || c == 'o' || (c == ':' && first)) {
      if (auto ok = take_program_number(at, line, number); !ok) return tl::make_unexpected(ok.error());
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
    if (count == most_words) return program_error(number, column(at), "there are too many words in this line.");
    Word& word = words_[count];
    word.letter = letter;
    word.column = column(at);
    const char* value = at + 1;
    while (value < end && (*value == ' ' || *value == '\t')) ++value;
    int decimals = 0;
    const char* after = read_number(value, end, word.value, &decimals);
    const char* next = after ? after : value + 1;
    while (next < end && (*next == ' ' || *next == '\t')) ++next;
    if (next < end && next != after && (is_digit(*next) || *next == '.')) {
      after = read_spaced_number(value, end, word.value, &decimals);
      if (after) passed_over_.push_back("blank inside a number");
    }
    word.decimals = static_cast<std::uint8_t>(std::min(decimals, 255));
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
  count_ = count;
  return words();
}

}  // namespace ypsi
