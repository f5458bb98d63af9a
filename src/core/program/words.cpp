#include "core/program/words.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

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

/// What a G word that is not done here asks for, and what the CAM program must be told instead; null where nobody
/// knows.
const char* asked_instead(int code) {
  switch (code) {
    case 410:
    case 411:
    case 420:
    case 421:
      return "asks for cutter radius compensation, which is not done here; have the CAM program write the way of the "
             "tool's centre (compensation in the computer).";
    case 50:
    case 51:
    case 52:
    case 61:
    case 62:
      return "is a spline or a smoothing mode, which is not done here; have the CAM program write lines and arcs "
             "within "
             "a tolerance.";
    case 160:
      return "gives places as radius and angle, which is not done here; have the CAM program write X and Y.";
    case 510:
      return "asks the controller to scale what follows, which is not done here; have the CAM program write the part "
             "in "
             "its size.";
    case 680:
      return "asks the controller to turn what follows, which is not done here; have the CAM program turn the part, or "
             "take the turned copy of the sheet Work zero.";
    case 650:
    case 660:
      return "calls a macro, which is not done here; have the CAM program write out its moves.";
    case 740:
    case 760:
    case 840:
    case 860:
    case 870:
    case 880:
      return "is a cycle of tapping, threading or boring, which is not done here; have the CAM program write out its "
             "moves, or drill with G81 to G83.";
    case 950:
      return "feeds by the spindle's turn, which is not done here; have the CAM program write feeds by the minute "
             "(G94).";
    case 960:
      return "keeps a lathe's cutting speed, which is not done here; have the CAM program write revolutions (G97).";
    default:
      return nullptr;
  }
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
    case 810:
    case 820:
    case 830:
    case 850:
    case 890:
      if (out.motion && code_of(*out.motion) == 800) {
        out.ends_cycle = true;
        out.motion = nullptr;
      }
      return place_once(out.motion, w, line);
    case 800:
      if (out.motion && code_of(*out.motion) != 800) {
        out.ends_cycle = true;
        return {};
      }
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
    case 700:
    case 710:
      return place_once(out.units, w, line);
    case 400:  // cutter radius compensation off: it never is on
    case 610:  // exact path: the path is exact always
      return {};
    case 640:
      out.blends = true;
      out.any_passed_over = true;
      return {};
    case 150:
    case 500:
    case 611:
    case 670:
    case 690:
    case 970:
      out.any_passed_over = true;
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
      if (out.coolant && code_of(*out.coolant) + code_of(w) == 150) {
        out.both_coolants = true;
        return {};
      }
      return place_once(out.coolant, w, line);
    case 90:
      return place_once(out.coolant, w, line);
    case 480:
      out.any_passed_over = true;
      return {};
    case 980:
    case 990:
      return program_error(
          line, w.column,
          fmt::format("M{:g} belongs to a sub-program, which cannot be followed line by line; have the "
                      "program written out without it.",
                      w.value),
          "sub_program");
    default:
      return unknown_word(w, line);
  }
}

}  // namespace

int code_of(const Word& word) {
  const double tenths = word.value * 10, whole = std::round(tenths);
  return whole >= 0 && whole <= 10'000 && std::fabs(tenths - whole) < 1e-6 ? static_cast<int>(whole) : -1;
}

bool passed_over(const Word& word) {
  const int code = code_of(word);
  if (word.letter == 'M') return code == 480;
  static constexpr int codes[] = {150, 500, 611, 640, 670, 690, 970};
  return word.letter == 'G' && std::find(std::begin(codes), std::end(codes), code) != std::end(codes);
}

tl::unexpected<Error> unknown_word(const Word& word, std::uint32_t line) {
  if (const char* const instead = word.letter == 'G' ? asked_instead(code_of(word)) : nullptr)
    return program_error(line, word.column, fmt::format("G{:g} {}", word.value, instead), "unknown_word");
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
    } else if (constexpr auto known = SortedWords::bits("XYZIJKRFSTNHPQLABCD"); (known >> (w.letter - 'A') & 1U) != 0) {
      const Word*& slot = out.value[w.letter - 'A'];
      if (slot) return place_once(slot, w, line);
      slot = &w;
      out.letters |= 1U << (w.letter - 'A');
    } else {
      return unknown_word(w, line);
    }
  }
  return {};
}

}  // namespace ypsi
