#pragma once
// The descriptions of what is typed or taken and not settled yet; see description.h.
#include <array>
#include <string>
#include <utility>

#include "core/book/book.h"
#include "core/book/description.h"

namespace ypsi {

template <class V>
void describe(V& v, ScaleReading& r, Axis axis) {
  constexpr std::array<std::pair<bool, const char*>, 2> approaches{{{false, "same"}, {true, "reversed"}}};
  v.way("commanded_mm", r.commanded, axis);  // the same steps were sent
  v.number("measured_mm", r.measured);
  v.choice("approach", r.reversed, approaches);
}
template <class V>
void describe(V& v, ScaleWorksheet& s, Axis axis) {
  v.text("instrument", s.instrument);
  v.list("readings", s.readings, axis);
  v.number("tolerance_mm_per_m", s.tolerance_per_m, above_zero);
}

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

template <class V>
void describe(V& v, MarkedPoint& p) {
  v.text("name", p.name);
  v.place("x_mm", p.commanded.x, Axis::x);
  v.place("y_mm", p.commanded.y, Axis::y);
}
template <class V>
void describe(V& v, MarkDistance& d) {
  constexpr std::array<std::pair<HoleEdge, const char*>, 3> edges{
      {{HoleEdge::center, "center"}, {HoleEdge::outer, "outer"}, {HoleEdge::inner, "inner"}}};
  v.count("from", d.from);
  v.count("to", d.to);
  v.number("measured_mm", d.measured);
  v.choice("edge", d.edge, edges);
  v.number("hole_diameter_mm", d.hole_diameter);
}
template <class V>
void describe(V& v, SquareWorksheet& s) {
  v.text("instrument", s.instrument);
  v.list("points", s.points);
  v.list("distances", s.distances);
  v.number("tolerance_mm_per_m", s.tolerance_per_m, above_zero);
  for (std::size_t i = 0; i < s.distances.size(); ++i)
    if (s.distances[i].from >= s.points.size() || s.distances[i].to >= s.points.size())
      v.refuse_item("distances", i, "to", "names a mark that is not there.");
}

template <class V>
void describe(V& v, LimitsWorksheet& s, Axis axis) {
  v.place("far_end_mm", s.far_end_mm, axis);
  v.number("overtravel_mm", s.overtravel_mm);
  v.number("clearance_home_mm", s.clearance_home_mm);
  v.number("clearance_far_mm", s.clearance_far_mm);
}

template <class V>
void describe(V& v, ReversalWorksheet& s) {
  v.number("length_mm", s.length_mm);
  v.text("instrument", s.instrument);
  v.number("first_mm", s.first_mm);
  v.number("turned_mm", s.turned_mm);
}

template <class V>
void describe(V& v, HomingWorksheet& s) {
  v.count("trials", s.trials);
  v.number("tolerance_mm", s.tolerance_mm);
  v.text("instrument", s.instrument);
  v.number_lists("readings_mm", s.readings_mm);
}

template <class V>
void describe(V& v, SweepPoint& p) {
  v.number("angle_deg", p.angle_deg);
  v.number("reading_mm", p.reading_mm);
}
template <class V>
void describe(V& v, EdgePoint& p) {
  v.number("position_mm", p.position_mm);
  v.number("reading_mm", p.reading_mm);
}
template <class V>
void describe(V& v, MapPoint& p) {
  v.place("x_mm", p.x_mm, Axis::x);
  v.place("y_mm", p.y_mm, Axis::y);
  v.place("z_mm", p.z_mm, Axis::z);
}
template <class V>
void describe(V& v, SurfaceWorksheet& s) {
  v.count("columns", s.columns, 2, 50);
  v.count("rows", s.rows, 2, 50);
  v.number("plate_mm", s.plate_mm);
  v.list("points", s.points);
}
template <class V>
void describe(V& v, BedWorksheet& s) {
  v.number("sweep_radius_mm", s.sweep_radius_mm);
  v.number("bolt_spacing_x_mm", s.bolt_spacing_x_mm);
  v.number("bolt_spacing_y_mm", s.bolt_spacing_y_mm);
  v.list("sweep", s.sweep);
  v.flag("edge_along_y", s.edge_along_y);
  v.list("edge", s.edge);
  v.count("map_columns", s.map_columns);
  v.count("map_rows", s.map_rows);
  v.list("map", s.map);
  v.flag("blade_along_y", s.blade_along_y);
  v.object("blade_x", s.blade[0], sparse);
  v.object("blade_y", s.blade[1], sparse);
  for (const auto& [key, value] : {std::pair{"cutter_mm", &s.cutter_mm},
                                   {"stepover_mm", &s.stepover_mm},
                                   {"depth_mm", &s.depth_mm},
                                   {"layer_mm", &s.layer_mm},
                                   {"feed_mm_min", &s.feed_mm_min},
                                   {"rpm", &s.rpm},
                                   {"area_x_mm", &s.area_x_mm},
                                   {"area_y_mm", &s.area_y_mm},
                                   {"area_width_mm", &s.area_width_mm},
                                   {"area_height_mm", &s.area_height_mm}})
    v.number(key, *value);
  v.flag("along_y", s.along_y);
  v.flag("one_way", s.one_way);
}

template <class V>
void describe(V& v, CutSize& s) {
  constexpr std::array<std::pair<FeatureKind, const char*>, 7> kinds{{{FeatureKind::inside, "inside"},
                                                                      {FeatureKind::outside, "outside"},
                                                                      {FeatureKind::spacing, "spacing"},
                                                                      {FeatureKind::depth, "depth"},
                                                                      {FeatureKind::diagonal, "diagonal"},
                                                                      {FeatureKind::beside, "beside"},
                                                                      {FeatureKind::gap, "gap"}}};
  constexpr std::array<std::pair<Axis, const char*>, 3> axes{{{Axis::x, "X"}, {Axis::y, "Y"}, {Axis::z, "Z"}}};
  v.text("name", s.name);
  v.choice("kind", s.kind, kinds);
  v.choice("axis", s.axis, axes);
  v.number("nominal_mm", s.nominal_mm, above_zero);
  v.number("measured_mm", s.measured_mm, not_below_zero);
  v.number("top_mm", s.top_mm);
  v.text("head", s.head, Written::where_not_usual);
  v.numbers("at_mm", s.at_mm);
  v.numbers("other_mm", s.other_mm);
}
template <class V>
void describe(V& v, CutWorksheet& s) {
  v.text("coupon", s.coupon);
  v.text("instrument", s.instrument);
  v.text("short_instrument", s.short_instrument, Written::where_not_usual);
  v.count("tool", s.tool);
  v.number("tool_diameter_mm", s.tool_diameter_mm);
  v.number("stock_width_mm", s.stock_width_mm);
  v.number("stock_height_mm", s.stock_height_mm);
  v.list("sizes", s.sizes);
}

template <class V>
void describe(V& v, OverMark& m) {
  v.place("x_mm", m.x_mm, Axis::x);
  v.place("y_mm", m.y_mm, Axis::y);
}
template <class V>
void describe(V& v, HeadMark& m) {
  v.maybe("first", m.first);
  v.maybe("other", m.other);
}
template <class V>
void describe(V& v, PrintedMark& m) {
  v.number("x_mm", m.x_mm);
  v.number("y_mm", m.y_mm);
  v.maybe("found", m.found);
}
template <class V>
void describe(V& v, MarksWorksheet& s) {
  v.list("marks", s.marks);
}
template <class V>
void describe(V& v, HeadCross& c) {
  v.number("x_mm", c.x_mm);
  v.number("y_mm", c.y_mm);
  v.number("dx_mm", c.dx_mm);
  v.number("dy_mm", c.dy_mm);
}
template <class V>
void describe(V& v, FocusLine& l) {
  v.place("z_mm", l.z_mm, Axis::z);
  v.number("width_mm", l.width_mm, not_below_zero);
}
template <class V>
void describe(V& v, HeadsWorksheet& s) {
  v.text("head", s.head);
  v.list("marks", s.marks);
  v.list("crosses", s.crosses);
  v.text("instrument", s.instrument);
  v.number("gap_mm", s.gap_mm);
  v.numbers("blade_mm", s.blade_mm);
  v.numbers("angle_width", s.angle_width);
  v.number("chord_mm", s.chord_mm);
  v.list("focus", s.focus);
  v.number("u_width_mm", s.u_width_mm);
  v.count("strips", s.strips);
  v.number("pitch_mm", s.pitch_mm);
  v.number("total_mm", s.total_mm);
}

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
  v.number("cap_mm", s.cap_mm, not_below_zero, sparse);
  v.number("total_mm", s.total_mm, not_below_zero, sparse);
  v.number("core_left_mm", s.core_left_mm, not_below_zero, sparse);
  v.text("cap_colour", s.cap_colour, sparse);
  v.text("core_colour", s.core_colour, sparse);
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

template <class V>
void describe(V& v, FenceTry& t) {
  v.number("offset_mm", t.offset_mm);
  v.numbers("measured_mm", t.measured_mm);
}
template <class V>
void describe(V& v, BlankSize& b) {
  v.count("count", b.count);
  v.number("size_mm", b.size_mm);
}
template <class V>
void describe(V& v, FencesWorksheet& s) {
  v.text("fence", s.fence);
  v.text("instrument", s.instrument);
  v.number("expected_mm", s.expected_mm);
  v.number("tolerance_mm", s.tolerance_mm, above_zero);
  v.flag("adds", s.adds);
  v.list("tests", s.tests);
  v.count("blanks", s.blanks);
  v.count("every", s.every);
  v.list("sizes", s.sizes);
}

/// All that is typed or taken and not settled yet, each under its sheet.
template <class V>
void describe_worksheets(V& v, Book& b) {
  v.for_each_axis("steps_per_unit", b.scale_worksheets, [](V& of, auto& s, Axis axis) { describe(of, s, axis); });
  v.list_for_each_axis("lost_motion", b.lost_motion_worksheets);
  v.list_for_each_axis("over_a_turn", b.turn_worksheets);
  v.for_each_axis(
      "positioning", b.positioning_worksheets, [](V& of, auto& s, Axis axis) { describe(of, s, axis); }, sparse);
  v.maybe("squareness", b.square_worksheet);
  v.for_each_axis(
      "limits", b.limits_worksheets, [](V& of, auto& s, Axis axis) { describe(of, s, axis); }, sparse);
  v.object("reversal", b.reversal_worksheet, sparse);
  v.object("homing", b.homing_worksheet, sparse);
  v.object("bed_spindle", b.bed_worksheet, sparse);
  v.object("surface", b.surface_worksheet, sparse);
  v.object("measure_cut", b.cut_worksheet, sparse);
  v.object("marks", b.marks_worksheet, sparse);
  v.object("heads", b.heads_worksheet, sparse);
  v.object("trials", b.trials_worksheet, sparse);
  v.object("fences", b.fences_worksheet, sparse);
  v.list("heads_put_by", b.heads_put_by, sparse);
  v.list("trials_put_by", b.trials_put_by, sparse);
  v.list("fences_put_by", b.fences_put_by, sparse);
  v.maybe("build", b.build_worksheet);
}

}  // namespace ypsi
