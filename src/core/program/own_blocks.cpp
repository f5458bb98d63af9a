#include "core/program/own_blocks.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/program/expression.h"
#include "core/program/program.h"

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
  const std::string mark = plain_block(level_mark);
  std::vector<OwnBlock> all;
  for (std::size_t i = 0; i < heads.size(); ++i)
    for (const HeadAct act : all_head_acts) {
      OwnBlock own{.block = plain_block(block_of(heads[i], act)), .head = static_cast<int>(i), .act = act};
      if (own.block.empty()) continue;
      if (const std::size_t at = own.block.find(mark); at != std::string::npos) {
        own.levelled = true;
        own.behind = own.block.substr(at + mark.size());
        own.block.resize(at);
      }
      all.push_back(std::move(own));
    }
  return all;
}

std::optional<OwnAct> find_own_act(const std::vector<OwnBlock>& all, std::string_view line) {
  constexpr std::size_t longest = 256;
  if (all.empty() || line.size() > longest) return std::nullopt;
  const std::string plain = plain_block(line);
  for (const OwnBlock& own : all) {
    if (!own.levelled) {
      if (own.block == plain) return OwnAct{own.head, own.act, std::nullopt};
      continue;
    }
    if (plain.size() <= own.block.size() + own.behind.size() || !plain.starts_with(own.block) ||
        !plain.ends_with(own.behind))
      continue;
    const char *const from = plain.data() + own.block.size(), *const to = from + (plain.size() - own.block.size() -
                                                                                  own.behind.size());
    if (double level = 0; read_number(from, to, level) == to) return OwnAct{own.head, own.act, level};
  }
  return std::nullopt;
}

OwnAct own_act_of(const Event& event) {
  return {static_cast<int>(event.value), static_cast<HeadAct>(event.length_of), event.level};
}

bool uses_beam(const Program& program, const std::vector<Head>& heads) {
  return std::any_of(program.events.begin(), program.events.end(), [&](const Event& e) {
    if (e.kind != EventKind::head_act) return false;
    const OwnAct act = own_act_of(e);
    const auto head = static_cast<std::size_t>(act.head);
    return act.act == HeadAct::on && head < heads.size() && heads[head].kind == HeadKind::beam;
  });
}

std::string own_block(const Head& head, HeadAct act, double level) {
  std::string block = block_of(head, act);
  if (const std::size_t at = block.find(level_mark); at != std::string::npos)
    block.replace(at, level_mark.size(), fmt::format("{:.6g}", level));
  return block;
}

bool says_level(const Head& head, HeadAct act) {
  return block_of(head, act).find(level_mark) != std::string::npos;
}

}  // namespace ypsi
