#pragma once
// Blocks that this machine's owner has for its heads, and that no standard knows: taken as they stand wherever a
// program has them.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/book/heads.h"

namespace ypsi {

struct Event;
struct Program;

/// Where it stands in an owner's block, any number does, and is what the head's gauge is set to: "M171 P{level}".
inline constexpr std::string_view level_mark = "{level}";

struct OwnBlock {
  std::string block;  ///< as plain_block() has it, before the level where it has one
  int head = 0;       ///< from 0
  HeadAct act = HeadAct::lower;
  bool levelled = false;
  std::string behind{};  ///< the level
  bool operator==(const OwnBlock&) const = default;
};

/// What a line of a program does to a head.
struct OwnAct {
  int head = 0;  ///< from 0
  HeadAct act = HeadAct::lower;
  std::optional<double> level;  ///< where the block says one
};

/// A line as own blocks are compared: upper case, without blanks, comments and line number.
std::string plain_block(std::string_view line);
/// Of every head, where they have any.
std::vector<OwnBlock> own_blocks(const std::vector<Head>& heads);
/// What a line is; nothing where it is none of them.
std::optional<OwnAct> find_own_act(const std::vector<OwnBlock>& all, std::string_view line);
/// What an event of kind head_act does.
OwnAct own_act_of(const Event& event);
/// Whether a program switches a beam on.
bool uses_beam(const Program& program, const std::vector<Head>& heads);
/// As a program has it, the level in its place: "M171 P12.5".
std::string own_block(const Head& head, HeadAct act, double level);
/// Whether an act of it says what its gauge is set to.
bool says_level(const Head& head, HeadAct act);

}  // namespace ypsi
