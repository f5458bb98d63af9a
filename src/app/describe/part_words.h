#pragma once
// The parts of a description in words, and what a try of one has shown.
#include <QString>

#include "link/describing/part_try.h"

namespace ypsi::app {

/// "Who is there".
QString part_title(link::Part part);
/// What it is, and how it is found out, in a sentence or two.
QString part_task(link::Part part);
/// What a group of a pattern is: "machine X".
QString group_words(const std::string& group);
/// What happens when it is tried, for those that move: how far and how fast.
QString what_a_try_does(link::Part part);
/// What was read from a line: "its state lost = Not homed · X of the machine 12.500".
QString read_words(const std::map<std::string, std::string>& groups, const link::ControllerDescription& of);
/// In a sentence or two.
QString found_words(const link::TryFound& found, const link::ControllerDescription& of);
/// The machine's states and inputs by their names in a description, in words.
QString state_words(const std::string& state);
QString input_words(const std::string& input);

}  // namespace ypsi::app
