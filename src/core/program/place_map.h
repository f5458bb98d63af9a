#pragma once
// A copy of a program in which every place is commanded another way: what the copies of corrected_copy.h and
// following_copy.h have in common.
#include <string>
#include <string_view>
#include <vector>

#include "core/program/corrected_copy.h"

namespace ypsi {

/// What is commanded for a straight way, work frame, mm.
class PlaceMap {
 public:
  PlaceMap() = default;
  virtual ~PlaceMap() = default;
  PlaceMap(const PlaceMap&) = delete;
  PlaceMap& operator=(const PlaceMap&) = delete;
  /// One after the other, the last for `wanted`; between them only where it `cuts`, or where the map moves heights.
  virtual std::vector<WorkPosition> way(const WorkPosition& from, const WorkPosition& wanted, bool cuts) = 0;
  /// Whether Z is another one too, so that it is written with every move once it is known.
  virtual bool moves_heights() const { return false; }
};

/// The program by that map, with `remark` before its end. Arcs are broken into chords within `arc_tolerance` mm (> 0).
/// Errors: those of corrected_copy().
Result<CorrectedCopy> mapped_copy(std::string_view text, PlaceMap& map, double arc_tolerance,
                                  const std::string& remark);

}  // namespace ypsi
