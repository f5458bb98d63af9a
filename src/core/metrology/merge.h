#pragma once
#include <cstddef>
#include <map>
#include <vector>

namespace ypsi {

/// Readings that are the same in every respect of `Key`.
struct Alike {
  std::size_t first = 0;  ///< index of the first of them
  int count = 0;
};

/// Groups equal keys, in the order of their first appearance. Identical readings of one distance count as one for the
/// rounding of the instrument (handbook of the trade, 4).
template <class Key>
std::vector<Alike> merge_identical(const std::vector<Key>& keys) {
  std::map<Key, std::size_t> seen;
  std::vector<Alike> groups;
  for (std::size_t i = 0; i < keys.size(); ++i) {
    const auto [at, is_new] = seen.try_emplace(keys[i], groups.size());
    if (is_new) groups.push_back({i, 0});
    ++groups[at->second].count;
  }
  return groups;
}

}  // namespace ypsi
