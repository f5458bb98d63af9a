#pragma once
// The parts of a description, in the order in which they are found out at the bench.
#include <array>
#include <string>
#include <vector>

#include "link/lines/controller_description.h"

namespace ypsi::link {

enum class Part {
  greeting,  ///< who is there
  taken,     ///< a block was taken; and when that is said
  refused,
  not_now,
  place,  ///< where it stands, its states and inputs
  home,
  jog,
  end_jog,
  hold,
  go_on,
  abandon,
  stop,
  probe,
  trouble,
  feed_override,
  settings,
  words,  ///< that it does not take
  trust
};
inline constexpr std::array all_parts{Part::greeting, Part::taken, Part::refused, Part::not_now, Part::place,
                                      Part::home,     Part::jog,   Part::end_jog, Part::hold,    Part::go_on,
                                      Part::abandon,  Part::stop,  Part::probe,   Part::trouble, Part::feed_override,
                                      Part::settings, Part::words, Part::trust};

/// What is said for it; null where nothing is, or only ever a line: line_for().
Utterance* said_for(Part part, ControllerDescription& of);
/// The line that is said for it, of greeting, settle and probe; else null.
std::string* line_for(Part part, ControllerDescription& of);
/// The pattern of what comes back; null where it has none.
std::string* pattern_for(Part part, ControllerDescription& of);
/// What words and numbers of an example may mean there; none where nothing in it is of use.
std::vector<std::string> groups_of(Part part);
/// Whether the line does anything of it.
bool is_described(Part part, const ControllerDescription& in);
/// To try it the machine is moved.
bool moves_in_try(Part part);
bool can_be_tried(Part part);
/// A report may come in the middle of another line.
inline bool stands_alone(Part part) {
  return part != Part::place;
}

/// The settings of X, said for Y and Z as well: its letter is put in place of X's where one stands for itself ("x_low",
/// "XS" does not), else the first number is `step` higher for Y and twice that for Z. What Y and Z have is kept.
/// `step` 0: numbers stay. Example: "V100" with a step of 10 makes "V110" and "V120".
void say_for_other_axes(ControllerDescription& description, int step);

}  // namespace ypsi::link
