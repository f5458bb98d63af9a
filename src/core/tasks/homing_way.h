#pragma once
// Which way homing goes over the bed, from wherever each axis stands, and what lies there that it could meet.
#include <string>
#include <vector>

#include "core/book/book.h"

namespace ypsi {

struct HomingLeg {
  Axis axis{};
  bool to_max = false;  ///< towards the upper end of its travel
};
/// In the order in which they are homed. An axis without a switch is brought to its mark by hand and is left out.
std::vector<HomingLeg> homing_way(const MachineSetup& machine);

/// What may lie in the way; before homing nobody knows where the carriage stands, so all of the bed is its way.
struct LaidOut {
  bool stock = false;
  std::vector<std::string> clamps;  ///< by their names; "2" for the second that has none
  bool none() const { return !stock && clamps.empty(); }
};
/// Nothing where a spindle is lifted over everything first: Z is homed before the others, upwards, and no head is
/// lowered but by Z.
LaidOut laid_in_homings_way(const Book& book);

}  // namespace ypsi
