#pragma once
// The words of one line, sorted by modal group. Source: NIST RS274/NGC version 3 (NISTIR 6556), 3.4 and table 4.
#include "core/program/reader.h"

namespace ypsi {

/// A letter may stand once, G and M once for each group. A, B and C turn nothing here and may not change; D numbers
/// what only G41 and G42 would use.
struct SortedWords {
  const Word* value[26] = {};
  const Word* motion = nullptr;        ///< G0 to G3, G38.2, G38.3, G73, G80 to G83, G85, G89
  const Word* once = nullptr;          ///< G4, G10, G28, G30, G53, G92 to G92.3
  const Word* plane = nullptr;         ///< G17 to G19
  const Word* units = nullptr;         ///< G20 G21, or G70 G71 for the same
  const Word* distance = nullptr;      ///< G90 G91
  const Word* arc_distance = nullptr;  ///< G90.1 G91.1
  const Word* feed_mode = nullptr;     ///< G93 G94
  const Word* return_level = nullptr;  ///< G98 G99
  const Word* frame = nullptr;         ///< G54 to G59.3
  const Word* length = nullptr;        ///< G43 G49
  const Word* stop = nullptr;          ///< M0 M1 M2 M30
  const Word* spindle = nullptr;       ///< M3 M4 M5
  const Word* coolant = nullptr;       ///< M7 M8 M9
  const Word* tool_change = nullptr;   ///< M6
  bool both_coolants = false;          ///< M7 and M8
  bool blends = false;                 ///< G64, whose P and Q say how far
  bool ends_cycle = false;             ///< G80 beside another motion
  bool any_passed_over = false;        ///< passed_over() has something to say of one of them
  std::uint32_t letters = 0;           ///< that stand in the line, a bit each
  const Word* of(char letter) const { return value[letter - 'A']; }
  static constexpr std::uint32_t bits(std::string_view some) {
    std::uint32_t all = 0;
    for (const char c : some) all |= 1U << (c - 'A');
    return all;
  }
  bool any_of(std::string_view some) const { return (letters & bits(some)) != 0; }
};

/// Ten times the number of a G or M word: 592 for G59.2. -1 where it is none, as 1.95.
int code_of(const Word& word);

/// Errors: `syntax` where two words contradict each other; `unknown_word`; `sub_program` for M98 and M99.
Result<void> sort_words(std::span<const Word> words, std::uint32_t line, SortedWords& out);

/// Whether a G or M word changes nothing here: it switches off what never is on, or says how corners are rounded, which
/// is left to the controller.
bool passed_over(const Word& word);

/// "G99.9 is not understood here; ..." with code `unknown_word`.
tl::unexpected<Error> unknown_word(const Word& word, std::uint32_t line);

}  // namespace ypsi
