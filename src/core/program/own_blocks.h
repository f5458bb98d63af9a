#pragma once
// Blocks that this machine's owner has for its heads, and that no standard knows: taken as they stand wherever a
// program has them.
#include <string>
#include <string_view>
#include <vector>

#include "core/book/heads.h"

namespace ypsi {

struct OwnBlock {
  std::string block;  ///< as plain_block() has it
  int head = 0;       ///< from 0
  HeadAct act = HeadAct::lower;
  bool operator==(const OwnBlock&) const = default;
};

/// A line as own blocks are compared: upper case, without blanks, comments and line number.
std::string plain_block(std::string_view line);
/// Of every head, where they have any.
std::vector<OwnBlock> own_blocks(const std::vector<Head>& heads);
/// The one that a line is; null where it is none.
const OwnBlock* find_own_block(const std::vector<OwnBlock>& all, std::string_view line);

}  // namespace ypsi
