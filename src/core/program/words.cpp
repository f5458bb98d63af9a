#include "core/program/words.h"

#include <fmt/format.h>

#include <cmath>
#include <cstring>

namespace ypsi {
namespace {

Result<void> place_once(const Word*& slot, const Word& word, std::uint32_t line) {
  if (slot)
    return program_error(
        line, word.column,
        fmt::format("{}{:g} contradicts another word of this line; keep one of them.", word.letter, word.value));
  slot = &word;
  return {};
}

Result<void> sort_g(const Word& w, std::uint32_t line, SortedWords& out) {
  switch (code_of(w)) {
    case 0:
    case 10:
    case 20:
    case 30:
    case 382:
    case 383:
    case 730:
    case 800:
    case 810:
    case 820:
    case 830:
    case 850:
    case 890:
      return place_once(out.motion, w, line);
    case 40:
    case 100:
    case 280:
    case 300:
    case 530:
    case 920:
    case 921:
    case 922:
    case 923:
      return place_once(out.once, w, line);
    case 170:
    case 180:
    case 190:
      return place_once(out.plane, w, line);
    case 200:
    case 210:
      return place_once(out.units, w, line);
    case 400:  // cutter radius compensation off: it never is on
    case 610:  // exact path: the path is exact always
      return {};
    case 430:
    case 490:
      return place_once(out.length, w, line);
    case 540:
    case 550:
    case 560:
    case 570:
    case 580:
    case 590:
    case 591:
    case 592:
    case 593:
      return place_once(out.frame, w, line);
    case 900:
    case 910:
      return place_once(out.distance, w, line);
    case 901:
    case 911:
      return place_once(out.arc_distance, w, line);
    case 930:
    case 940:
      return place_once(out.feed_mode, w, line);
    case 980:
    case 990:
      return place_once(out.return_level, w, line);
    case 410:
    case 420:
      return program_error(line, w.column,
                           fmt::format("G{:g} asks for cutter radius compensation, which is not done here; export the "
                                       "way of the tool's centre.",
                                       w.value),
                           "unknown_word");
    default:
      return unknown_word(w, line);
  }
}

Result<void> sort_m(const Word& w, std::uint32_t line, SortedWords& out) {
  switch (code_of(w)) {
    case 0:
    case 10:
    case 20:
    case 300:
      return place_once(out.stop, w, line);
    case 30:
    case 40:
    case 50:
      return place_once(out.spindle, w, line);
    case 60:
      return place_once(out.tool_change, w, line);
    case 70:
    case 80:
    case 90:
      return place_once(out.coolant, w, line);
    default:
      return unknown_word(w, line);
  }
}

}  // namespace

int code_of(const Word& word) {
  const double tenths = word.value * 10, whole = std::round(tenths);
  return whole >= 0 && whole <= 10'000 && std::fabs(tenths - whole) < 1e-6 ? static_cast<int>(whole) : -1;
}

tl::unexpected<Error> unknown_word(const Word& word, std::uint32_t line) {
  return program_error(
      line, word.column,
      fmt::format("{}{:g} is not understood here; this program needs another post-processor, or that word taken out.",
                  word.letter, word.value),
      "unknown_word");
}

Result<void> sort_words(std::span<const Word> words, std::uint32_t line, SortedWords& out) {
  for (const Word& w : words) {
    if (w.letter == 'G') {
      if (auto ok = sort_g(w, line, out); !ok) return ok;
    } else if (w.letter == 'M') {
      if (auto ok = sort_m(w, line, out); !ok) return ok;
    } else if (std::strchr("XYZIJKRFSTNHPQL", w.letter)) {
      if (auto ok = place_once(out.value[w.letter - 'A'], w, line); !ok) return ok;
    } else {
      return unknown_word(w, line);
    }
  }
  return {};
}

}  // namespace ypsi
