#pragma once
// What is seen to by a person before a beam shines, since no controller sees it. It is about now: whatever stops the
// machine, parts from it, or begins a program lets it be seen to anew.
#include <array>
#include <set>

namespace ypsi::app {

enum class BeamPoint { glasses, lid, extraction, fire };
inline constexpr std::array all_beam_points{BeamPoint::glasses, BeamPoint::lid, BeamPoint::extraction, BeamPoint::fire};

class BeamPoints {
 public:
  bool seen(BeamPoint point) const { return seen_.contains(point); }
  bool all_seen() const { return seen_.size() == all_beam_points.size(); }
  void set(BeamPoint point, bool seen) { seen ? void(seen_.insert(point)) : void(seen_.erase(point)); }
  void clear() { seen_.clear(); }

 private:
  std::set<BeamPoint> seen_;
};

}  // namespace ypsi::app
