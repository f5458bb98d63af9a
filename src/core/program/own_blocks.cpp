#include "core/program/own_blocks.h"

#include <algorithm>

namespace ypsi {

std::string plain_block(std::string_view line) {
  std::string plain;
  int depth = 0;
  for (const char c : line) {
    if (c == ';' || c == '\n') break;
    depth += c == '(' ? 1 : c == ')' ? -1 : 0;
    if (depth > 0 || c == ')' || c == ' ' || c == '\t' || c == '\r') continue;
    plain += c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
  }
  if (plain.size() > 1 && plain[0] == 'N') {
    const std::size_t end = plain.find_first_not_of("0123456789", 1);
    plain.erase(0, std::min(end, plain.size()));
  }
  return plain;
}

std::vector<OwnBlock> own_blocks(const std::vector<Head>& heads) {
  std::vector<OwnBlock> all;
  for (std::size_t i = 0; i < heads.size(); ++i)
    for (const HeadAct act : all_head_acts)
      if (std::string plain = plain_block(block_of(heads[i], act)); !plain.empty())
        all.push_back({std::move(plain), static_cast<int>(i), act});
  return all;
}

const OwnBlock* find_own_block(const std::vector<OwnBlock>& all, std::string_view line) {
  constexpr std::size_t longest = 256;
  if (all.empty() || line.size() > longest) return nullptr;
  const std::string plain = plain_block(line);
  const auto found = std::find_if(all.begin(), all.end(), [&](const OwnBlock& own) { return own.block == plain; });
  return found == all.end() ? nullptr : &*found;
}

}  // namespace ypsi
