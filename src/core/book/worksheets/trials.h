#pragma once
// Trials: cuts looked at, squares of a beam, depths of grooves.
#include <array>
#include <cstdint>
#include <string>
#include <utility>
#include <vector>

#include "core/book/description.h"
#include "core/book/worksheets.h"

namespace ypsi {

enum class Backing : std::uint8_t { not_looked, spared, marked };

/// One short cut at a level, looked at.
struct TrialLook {
  double level = 0;
  bool through = false;
  Backing backing = Backing::not_looked;
  bool operator==(const TrialLook&) const = default;
};

/// A square of a grid of powers and speeds.
struct BeamSetting {
  double power = 0;  ///< on the beam's gauge
  double feed_mm_min = 0;
  bool operator==(const BeamSetting&) const = default;
};

/// Power and speed of a beam.
struct BeamGridSheet {
  double power_low = 0, power_high = 0;              ///< 0: not said yet
  double feed_low_mm_min = 0, feed_high_mm_min = 0;  ///< 0: not said yet
  int powers = 5, feeds = 5;
  std::vector<BeamSetting> wanted;  ///< squares that came out as wanted
  bool operator==(const BeamGridSheet&) const = default;
};

/// A groove at a known tick, or commanded depth.
struct TickGroove {
  double tick = 0;         ///< of the nose's dial; where Z goes down by itself: the depth that it was sent to, mm
  double measured_mm = 0;  ///< its depth, or its width where that is what is measured, >= 0
  bool operator==(const TickGroove&) const = default;
};

/// Depth by ticks.
struct DepthSheet {
  bool by_z = false;      ///< Z alone sets the depth although the head has a nose
  bool by_width = false;  ///< of a pointed tool: widths are measured, and its shape tells how deep that is
  std::string instrument = "caliper";
  double wanted_mm = 0;     ///< 0: not said yet
  double core_left_mm = 0;  ///< of the plate below a groove, at least
  std::vector<TickGroove> grooves;
  bool operator==(const DepthSheet&) const = default;
};

/// Trials.
struct TrialsWorksheet {
  std::string material, head;
  int tool = 0;
  double low = 0, high = 0;  ///< levels to look between; equal: not said yet
  double step = 0;           ///< finest that can be set; 0: any
  std::vector<TrialLook> looks;
  BeamGridSheet grid;
  DepthSheet depth;
  bool operator==(const TrialsWorksheet&) const = default;
};

template <class V>
void describe(V& v, TrialLook& l) {
  constexpr std::array<std::pair<Backing, const char*>, 3> backings{
      {{Backing::not_looked, "not_looked"}, {Backing::spared, "spared"}, {Backing::marked, "marked"}}};
  v.number("level", l.level);
  v.flag("through", l.through);
  v.choice("backing", l.backing, backings);
}

template <class V>
void describe(V& v, BeamSetting& s) {
  v.number("power", s.power, not_below_zero);
  v.number("feed_mm_min", s.feed_mm_min, not_below_zero);
}

template <class V>
void describe(V& v, BeamGridSheet& s) {
  v.number("power_low", s.power_low, not_below_zero);
  v.number("power_high", s.power_high, not_below_zero);
  v.number("feed_low_mm_min", s.feed_low_mm_min, not_below_zero);
  v.number("feed_high_mm_min", s.feed_high_mm_min, not_below_zero);
  v.count("powers", s.powers);
  v.count("feeds", s.feeds);
  v.list("wanted", s.wanted);
}

template <class V>
void describe(V& v, TickGroove& g) {
  v.number("tick", g.tick);
  v.number("measured_mm", g.measured_mm, not_below_zero);
}

template <class V>
void describe(V& v, DepthSheet& s) {
  v.flag("by_z", s.by_z, sparse);
  v.flag("by_width", s.by_width, sparse);
  v.text("instrument", s.instrument);
  v.number("wanted_mm", s.wanted_mm, not_below_zero, sparse);
  v.number("core_left_mm", s.core_left_mm, not_below_zero, sparse);
  v.list("grooves", s.grooves);
}

template <class V>
void describe(V& v, TrialsWorksheet& s) {
  v.text("material", s.material);
  v.text("head", s.head);
  v.count("tool", s.tool);
  v.number("low", s.low);
  v.number("high", s.high);
  v.number("step", s.step, not_below_zero);
  v.list("looks", s.looks);
  v.object("grid", s.grid);
  v.object("depth", s.depth);
}

inline constexpr WorksheetKey<TrialsWorksheet> trials_worksheet{"trials"};
/// Of other heads and materials, until they are chosen again.
inline constexpr WorksheetKey<std::vector<TrialsWorksheet>> trials_put_by{"trials_put_by"};

}  // namespace ypsi
