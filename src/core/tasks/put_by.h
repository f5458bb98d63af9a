#pragma once
// Worksheets of one kind, each about something with a name of its own: one is in hand, the others are put by until what
// they are about is chosen again.
#include <algorithm>
#include <string>
#include <utility>
#include <vector>

namespace ypsi {

/// Puts the worksheet in hand by and takes the one that is about `wanted`, or `fresh`. `about`: a worksheet's name.
template <class Sheet, class About>
void take_up(Sheet& in_hand, std::vector<Sheet>& put_by, const std::string& wanted, About about, Sheet fresh) {
  if (about(in_hand) == wanted) return;
  const auto found = std::find_if(put_by.begin(), put_by.end(), [&](const Sheet& s) { return about(s) == wanted; });
  if (found != put_by.end()) {
    fresh = std::move(*found);
    put_by.erase(found);
  }
  put_by.push_back(std::exchange(in_hand, std::move(fresh)));
}

}  // namespace ypsi
