#pragma once
// What is known of a machine that is reached by hand, by its owner's word alone; kept beside the book, so that the
// window can be closed between two cards.
#include <array>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/book/book.h"
#include "core/result.h"
#include "link/by_hand/hand_card.h"

namespace ypsi::link {

struct HandMemory {
  std::map<std::string, double> settings;  ///< as its controller has them
  std::vector<SettingChange> owed;         ///< asked for, and not said to be set yet
  bool looked_up = false;                  ///< the owner has said what its controller has
  MachinePosition position;
  std::array<bool, axis_count> homed{};
  int tool = 0;
  bool broken_off = false;  ///< it was told to move, and nobody said where it came to stand
  bool operator==(const HandMemory&) const = default;

  /// JSON; positions and lengths mm.
  std::string to_text() const;
  /// Errors: `damaged` where it is not what to_text() wrote; nothing of it is then taken.
  static Result<HandMemory> from_text(std::string_view text);
};

/// What to start from where nobody has said anything yet: the book's figures, soft limits at the ends of the travel
/// where it knows none.
HandMemory first_memory(const Book& book);

}  // namespace ypsi::link
