// Words that have no place on their line.
#include <fmt/format.h>

#include <cmath>

#include "core/program/interpreter.h"
#include "core/program/line.h"

namespace ypsi {

/// This machine turns nothing: what a program says of A, B and C may stand there as long as it stays what it was.
Result<void> Interpreter::rotary_words(ProgramLine& l) const {
  if (!l.words.any_of("ABC")) return {};
  for (std::size_t i = 0; i < 3; ++i)
    if (const Word* v = l.words.of(static_cast<char>('A' + static_cast<char>(i)))) {
      auto& stands = l.next.rotary[i];
      const double to = l.next.incremental ? stands.value_or(0) + v->value : v->value;
      if (stands.value_or(to) != to)
        return program_error(
            l.number, v->column,
            fmt::format("{} would turn here from {:g} to {:g}, and there is no such axis; have the CAM "
                        "program write for three axes.",
                        v->letter, *stands, to),
            "unknown_word");
      stands = to;
    }
  return {};
}

/// Words that mean nothing on this line: I J K R belong to arcs and cycles, Q and L to cycles, P to what it was used
/// for.
Result<void> Interpreter::stray_words(const ProgramLine& l, std::string_view centre, std::string_view cycle) const {
  const SortedWords& w = l.words;
  if (!w.any_of("IJKRQPL")) return {};
  // K1 of a cycle: once, as without it.
  for (const char c : std::string_view("IJKR"))
    if (const Word* stray = w.of(c); !(c == 'K' && !cycle.empty() && stray && stray->value == 1) && stray &&
                                     centre.find(c) == std::string_view::npos && (c == 'R' || stray->value != 0))
      return program_error(l.number, stray->column,
                           fmt::format("{} belongs to an arc (G2 or G3), and this is none.", stray->letter));
  const int once = w.once ? code_of(*w.once) : -1;
  for (const char c : std::string_view("QPL"))
    if (const Word* stray = w.of(c)) {
      const bool used = cycle.find(c) != std::string_view::npos || (c == 'P' && (once == 40 || once == 100)) ||
                        (c == 'L' && once == 100) || (c != 'L' && w.blends);
      if (!used) return unknown_word(*stray, l.number);
    }
  return {};
}

}  // namespace ypsi
