#pragma once
// Lost motion: turns at places of each axis, an indicator over one turn, and the positioning test.
#include <algorithm>
#include <array>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"
#include "core/calibration/lost_motion.h"
#include "core/calibration/positioning.h"
#include "core/geometry.h"

namespace ypsi {

/// Lost motion read at one place of an axis, not settled yet.
struct TurnAt {
  Coordinate place;
  TurnRound reading;
};

/// An indicator read at one of many close places of an axis, not settled yet; each stroke has its own zero.
struct TurnReading {
  Coordinate place;
  double reading = 0;  ///< mm
  int stroke = 0;
};

template <class V>
void describe(V& v, TurnAt& t, Axis axis) {
  v.place("place_mm", t.place, axis);
  v.number("arriving_plus_mm", t.reading.arriving_plus);
  v.number("arriving_minus_mm", t.reading.arriving_minus);
}

template <class V>
void describe(V& v, TurnReading& t, Axis axis) {
  v.place("place_mm", t.place, axis);
  v.number("reading_mm", t.reading);
  v.count("stroke", t.stroke);
}

template <class V>
void describe(V& v, PositioningRun& r) {
  constexpr std::array<std::pair<bool, const char*>, 2> ways{{{true, "+"}, {false, "-"}}};
  v.choice("direction", r.plus, ways);
  v.numbers("deviation_mm", r.deviations);
}

template <class V>
void describe(V& v, PositioningReadings& p, Axis axis) {
  const std::vector<Coordinate> before = p.targets;
  v.places("targets_mm", p.targets, axis);
  v.list("runs", p.runs);
  if constexpr (V::carries)  // where the axis stood is the same place: a target that moved takes its deviation along
    for (PositioningRun& run : p.runs) {
      const std::size_t n = std::min(run.deviations.size(), before.size()), from = run.plus ? 0 : before.size() - n;
      for (std::size_t i = 0; i < n; ++i) run.deviations[i] += before[from + i] - p.targets[from + i];
    }
}

inline constexpr WorksheetKey<std::array<std::vector<TurnAt>, axis_count>> lost_motion_worksheets{"lost_motion"};
inline constexpr WorksheetKey<std::array<std::vector<TurnReading>, axis_count>> turn_worksheets{"over_a_turn"};
inline constexpr WorksheetKey<std::array<PositioningReadings, axis_count>> positioning_worksheets{"positioning"};

}  // namespace ypsi
