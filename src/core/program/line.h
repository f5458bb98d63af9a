#pragma once
// A line being interpreted: what it will change, kept apart until all of it is known to be right. For the interpreter's
// own sources.
#include <optional>

#include "core/program/interpreter.h"
#include "core/program/words.h"

namespace ypsi {

inline constexpr double longest_dwell_s = 86400, farthest_mm = 1e6;
inline constexpr std::size_t most_motions = 50'000'000;

struct ProgramLine {
  std::uint32_t number, first_column;
  ModalState next;
  std::vector<Motion>* motions;  ///< of this line
  std::vector<Event>* acts;      ///< `before` counts this line's motions
  SortedWords words{};
  double unit = 1;            ///< mm for one of the program's
  bool in_machine = false;    ///< G53
  bool places_taken = false;  ///< X, Y and Z are no target: G10, G28, G30, G92
  bool uses_machine = false;
  bool has_arc = false;
  Arc arc{};
  std::optional<std::pair<int, WorkZero>> new_zero{};  ///< frame and zero, by G10

  void add(MotionKind kind, const WorkPosition& end, double feed);
  void act(EventKind kind, double value, int length_of = 0);
  /// mm/min for a cutting move; `length` in mm is of meaning with G93 alone. Errors: `syntax` where there is none.
  Result<double> feed_for(double length, std::uint32_t column) const;
};

}  // namespace ypsi
