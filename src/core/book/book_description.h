#pragma once
// The descriptions of the book's structs; see description.h. Included by whoever brings a visitor, and by nobody else.
#include <algorithm>
#include <array>
#include <string>
#include <utility>

#include "core/book/book.h"
#include "core/book/description.h"
#include "core/book/worksheets/all.h"

namespace ypsi {

template <class V>
void describe(V& v, Screw& s) {
  v.number("lead_mm", s.lead_mm, above_zero);
}
template <class V>
void describe(V& v, Belt& b) {
  v.number("pitch_mm", b.pitch_mm, above_zero);
  v.number("teeth", b.teeth, above_zero);
}
template <class V>
void describe(V& v, Rack& r) {
  v.number("module_mm", r.module_mm, above_zero);
  v.number("teeth", r.teeth, above_zero);
}
template <class V>
void describe(V&, Rotary&) {}

template <class V>
void describe(V& v, Transmission& t) {
  enum class Kind { screw, belt, rack, rotary };
  constexpr std::array<std::pair<Kind, const char*>, 4> words{
      {{Kind::screw, "screw"}, {Kind::belt, "belt"}, {Kind::rack, "rack"}, {Kind::rotary, "rotary"}}};
  Kind kind = std::holds_alternative<Belt>(t)     ? Kind::belt
              : std::holds_alternative<Rack>(t)   ? Kind::rack
              : std::holds_alternative<Rotary>(t) ? Kind::rotary
                                                  : Kind::screw;
  const Kind was = kind;
  v.choice("kind", kind, words);
  if (kind != was) {
    if (kind == Kind::belt) t = Belt{};
    if (kind == Kind::rack) t = Rack{};
    if (kind == Kind::rotary) t = Rotary{};
    if (kind == Kind::screw) t = Screw{};
  }
  if constexpr (V::shows_all) {
    Screw screw{1};
    Belt belt{};
    Rack rack{};
    describe(v, screw);
    describe(v, belt);
    describe(v, rack);
  } else {
    std::visit([&v](auto& drive) { describe(v, drive); }, t);
  }
}

template <class V>
void describe(V& v, DriveTrain& d) {
  v.number("full_steps_per_rev", d.full_steps_per_rev, above_zero);
  v.number("microsteps", d.microsteps, above_zero);
  v.number("gear_ratio", d.gear_ratio, above_zero);
  v.object("transmission", d.transmission);
}

template <class V>
void describe(V& v, AxisSetup& a, Axis axis) {
  constexpr std::array<std::pair<bool, const char*>, 2> ends{{{false, "min"}, {true, "max"}}};
  v.object("drive", a.drive);
  v.number("steps_per_mm", a.steps_per_mm, above_zero);
  v.choice("home_end", a.home_at_max, ends);
  v.count("home_turn", a.home_turn, 0, axis_count, sparse);
  v.flag("zero_by_hand", a.zero_by_hand, sparse);
  v.number("home_coordinate_mm", a.home_coordinate);  // the origin of what is carried over
  v.way("travel_mm", a.travel, axis, above_zero);
  v.place("soft_min_mm", a.soft_min, axis);
  v.place("soft_max_mm", a.soft_max, axis);
  v.number("max_rate_mm_min", a.max_rate, above_zero);
  v.number("accel_mm_s2", a.acceleration, above_zero);
  v.unknown(a.unknown);
}

template <class V>
void describe(V& v, DialPoint& p) {
  v.number("position", p.position);
  v.number("rpm", p.rpm, above_zero);
}

template <class V>
void describe(V& v, Spindle& s) {
  v.flag("controlled", s.controlled);
  v.number("max_rpm", s.max_rpm, above_zero);
  v.number("spin_up_s", s.spin_up_s, not_below_zero, sparse);
  v.list("dial", s.dial);
  v.number("nut_diameter_mm", s.nut_diameter, not_below_zero, sparse);
  v.number("nut_length_mm", s.nut_length, not_below_zero, sparse);
  v.number("boot_diameter_mm", s.boot_diameter, not_below_zero, sparse);
  v.number("boot_drop_mm", s.boot_drop, not_below_zero, sparse);
}

template <class V>
void describe(V& v, SettingName& n) {
  v.text("setting", n.setting);
  v.text("called", n.called);
}

template <class V>
void describe(V& v, HeadPlace& p) {
  v.way("x_mm", p.x_mm, Axis::x);
  v.way("y_mm", p.y_mm, Axis::y);
  v.number("U_mm", p.U_mm, not_below_zero);
}
template <class V>
void describe(V& v, BladePlace& b) {
  v.number("forward_mm", b.forward_mm);
  v.number("left_mm", b.left_mm);
  v.number("U_mm", b.U_mm, not_below_zero);
  v.number("angle_zero_deg", b.angle_zero_deg);
  v.number("U_angle_deg", b.U_angle_deg, not_below_zero);
}

template <class V>
void describe(V& v, Head& h) {
  v.text("name", h.name);
  v.choice("kind", h.kind, head_kinds);
  v.text("lower", h.lower, sparse);
  v.text("raise", h.raise, sparse);
  v.text("on", h.on, sparse);
  v.text("off", h.off, sparse);
  v.text("gauge", h.gauge, sparse);
  v.number("gauge_low", h.gauge_low, any_number, sparse);
  v.number("gauge_high", h.gauge_high, any_number, sparse);
  v.number("cap", h.cap, not_below_zero, sparse);
  v.maybe("place", h.place);
  v.number("trailing_mm", h.trailing_mm);
  v.number("U_trailing_mm", h.U_trailing_mm, not_below_zero);
  v.maybe("blade", h.blade);
  v.place("focus_z_mm", h.focus_z_mm, Axis::z);
  v.number("U_focus_mm", h.U_focus_mm, not_below_zero);
  v.number("kerf_mm", h.kerf_mm);
  v.number("U_kerf_mm", h.U_kerf_mm, not_below_zero);
}

template <class V>
void describe(V& v, Fence& f) {
  v.text("name", f.name);
  v.choice("kind", f.kind, fence_kinds);
  v.place("x_mm", f.x_mm, Axis::x);
  v.place("y_mm", f.y_mm, Axis::y);
  v.number("offset_mm", f.offset_mm);
  v.number("U_offset_mm", f.U_offset_mm, not_below_zero);
}

template <class V>
void describe(V& v, VacuumZone& z) {
  v.text("name", z.name);
  v.place("x_mm", z.x_mm, Axis::x);
  v.place("y_mm", z.y_mm, Axis::y);
  v.number("width_mm", z.width_mm, above_zero);
  v.number("depth_mm", z.depth_mm, above_zero);
}

template <class V>
void describe(V& v, VacuumBed& b) {
  v.list("zones", b.zones);
  v.number("pressure_kPa", b.pressure_kPa, not_below_zero);
  v.number("friction", b.friction, above_zero);
  v.number("open_share", b.open_share, NumberRange{0, 1});
  v.number("smallest_piece_cm2", b.smallest_piece_cm2, not_below_zero);
}

template <class V>
void describe(V& v, MachineSetup& m) {
  v.text("name", m.name);
  v.text("workshop", m.workshop);
  v.text("description", m.description);
  v.text("kind", m.kind);
  v.place("safe_height_mm", m.safe_height, Axis::z);
  v.number("rail_spacing_mm", m.rail_spacing, not_below_zero);
  if (V::fills && m.rail_spacing && !(*m.rail_spacing > 0)) m.rail_spacing.reset();
  v.number("second_switch_offset_mm", m.second_switch_offset);
  v.flag("no_probe", m.no_probe, sparse);
  v.flag("no_emergency_stop", m.no_emergency_stop, sparse);
  v.flag("no_tool_words", m.no_tool_words, sparse);
  v.texts("emergency_stops", m.emergency_stops, sparse);
  v.texts("arming", m.arming, sparse);
  v.object("vacuum", m.vacuum, sparse);
  v.list("setting_names", m.setting_names, sparse);
  v.text("controller", m.controller, sparse);
  v.list("heads", m.heads, sparse);
  v.object("spindle", m.spindle);
  v.for_each_axis("axes", m.axes, [](V& of, AxisSetup& a, Axis axis) { describe(of, a, axis); });
  v.unknown(m.unknown);
}

template <class V>
void describe(V& v, Instrument& i) {
  v.text("name", i.name);
  v.number("resolution_mm", i.resolution_mm, above_zero);
  v.count("ends", i.ends, 1, 2);
  v.number("s_mm", i.s_mm, not_below_zero);
  v.number("u_cal_mm", i.u_cal_mm, not_below_zero);
  v.number("u_rel", i.u_rel, not_below_zero);
}

template <class V>
void describe(V& v, Tool& t) {
  v.count("number", t.number);
  v.text("name", t.name);
  v.text("kind", t.kind);
  v.number("diameter_mm", t.diameter, not_below_zero);
  v.number("angle_deg", t.angle, any_number, sparse);
  v.number("tip_mm", t.tip, any_number, sparse);
  v.count("flutes", t.flutes, sparse);
  v.number("length_out_mm", t.length_out, any_number, sparse);
  v.number("edge_length_mm", t.edge_length, any_number, sparse);
  v.number("max_plunge_mm_min", t.max_plunge, any_number, sparse);
  v.number("offset_mm", t.offset);
  v.number("U_offset_mm", t.U_offset);
  v.text("offset_time", t.offset_time, sparse);
  v.count("slot", t.slot, sparse);
  v.text("diameter_reason", t.diameter_reason, sparse);
  v.text("head", t.head, sparse);
  v.number("cut_m", t.cut_m, not_below_zero, sparse);
  v.unknown(t.unknown);
}

template <class V>
void describe(V& v, TouchPlate& p) {
  v.text("name", p.name);
  v.number("thickness_mm", p.thickness);
  v.number("wall_x_mm", p.wall_x, any_number, sparse);
  v.number("wall_y_mm", p.wall_y, any_number, sparse);
  v.unknown(p.unknown);
}

template <class V>
void describe(V& v, ToolSetter& s) {
  v.place("x_mm", s.x, Axis::x);
  v.place("y_mm", s.y, Axis::y);
  v.count("reference_tool", s.reference_tool);
  v.places("reference_trigger_mm", s.reference, Axis::z);
}

template <class V>
void describe(V& v, ToolRack& r) {
  v.count("slot_count", r.slot_count);
  if (V::carries && r.slot_count == 0) return;  // there is none
  v.place("first_x_mm", r.first_x_mm, Axis::x);
  v.place("first_y_mm", r.first_y_mm, Axis::y);
  v.place("last_x_mm", r.last_x_mm, Axis::x);
  v.place("last_y_mm", r.last_y_mm, Axis::y);
  v.place("grip_z_mm", r.grip_z_mm, Axis::z);
  v.place("clear_z_mm", r.clear_z_mm, Axis::z);
  v.number("height_mm", r.height_mm);
}

template <class V>
void describe(V& v, Place& p) {
  v.text("name", p.name);
  if (v.point("machine_mm", p.at)) p.carried_over = true;
  v.flag("carried_over", p.carried_over, sparse);
  v.unknown(p.unknown);
}

template <class V>
void describe(V& v, FrameZero& z) {
  v.text("name", z.name);
  v.place("x_mm", z.x_mm, Axis::x);
  v.place("y_mm", z.y_mm, Axis::y);
  v.place("z_mm", z.z_mm, Axis::z);
  v.flag("on_bed", z.on_bed);
  v.count("z_tool", z.z_tool);
}

template <class V>
void describe(V& v, ZeroSpot& s) {
  v.place("x_mm", s.x_mm, Axis::x);
  v.place("y_mm", s.y_mm, Axis::y);
  v.way("height_mm", s.height_mm, Axis::z);
}

template <class V>
void describe(V& v, Clamp& c) {
  v.text("name", c.name);
  v.place("x_mm", c.x_mm, Axis::x);
  v.place("y_mm", c.y_mm, Axis::y);
  v.number("width_mm", c.width_mm, above_zero);
  v.number("depth_mm", c.depth_mm, above_zero);
  v.number("height_mm", c.height_mm, above_zero);
}

template <class V>
void describe(V& v, LayerAct& a) {
  v.text("layer", a.layer);
  v.choice("act", a.act, drawn_acts);
  v.count("tool", a.tool, sparse);
  v.text("head", a.head, sparse);
  v.count("passes", a.passes, 1, 1000);
  v.number("depth_mm", a.depth_mm, not_below_zero, sparse);
  v.number("feed_mm_min", a.feed_mm_min, not_below_zero, sparse);
  v.number("rpm", a.rpm, not_below_zero, sparse);
  v.number("overcut_mm", a.overcut_mm, not_below_zero, sparse);
  v.number("level", a.level);
  v.count("tabs", a.tabs, 0, 100, sparse);
  v.number("tab_mm", a.tab_mm, not_below_zero, sparse);
  v.number("tab_high_mm", a.tab_high_mm, not_below_zero, sparse);
  v.number("lead_in_mm", a.lead_in_mm, not_below_zero, sparse);
  v.number("hatch_mm", a.hatch_mm, not_below_zero, sparse);
  v.number("hatch_deg", a.hatch_deg, any_number, sparse);
  v.flag("hatch_one_way", a.hatch_one_way, sparse);
  v.flag("hatch_bare", a.hatch_bare, sparse);
}
template <class V>
void describe(V& v, DrawingJob& d) {
  v.text("file", d.file);
  v.text("unit", d.unit, sparse);
  v.list("acts", d.acts);
  v.count("columns", d.columns, 1, 1000);
  v.count("rows", d.rows, 1, 1000);
  v.number("gap_mm", d.gap_mm, not_below_zero);
  v.flag("one_each", d.one_each, sparse);
  v.numbers("zero_mm", d.zero_mm);
}

template <class V>
void describe(V& v, Material& m) {
  v.text("name", m.name);
  v.number("cap_mm", m.cap_mm, not_below_zero, sparse);
  v.number("total_mm", m.total_mm, not_below_zero, sparse);
  v.text("cap_colour", m.cap_colour, sparse);
  v.text("core_colour", m.core_colour, sparse);
}

template <class V>
void describe(V& v, Job& j) {
  v.number("part_width_mm", j.part_width, above_zero);
  v.number("part_height_mm", j.part_height, above_zero);
  v.number("part_tolerance_mm", j.part_tolerance, above_zero);
  v.text("stock_name", j.stock_name);
  v.list("materials", j.materials, sparse);
  v.numbers("stock_size_mm", j.stock_size);
  v.numbers("stock_corner_mm", j.stock_corner, sparse);
  v.number("sheet_mm", j.sheet_mm, not_below_zero, sparse);
  v.number("board_mm", j.board_mm, not_below_zero, sparse);
  v.number("bed_skin_mm", j.bed_skin, not_below_zero);
  v.text("program", j.program);
  v.texts("recent_programs", j.recent_programs);
  v.texts("queue", j.queue, sparse);
  v.object("work_zero", j.frames[0]);
  v.rest_of("other_work_zeros", j.frames, 1);
  v.count("work_frame", j.frame, 0, static_cast<int>(work_frame_count) - 1, sparse);
  v.maybe("zero_spot", j.zero_spot);
  v.list("clamps", j.clamps, sparse);
  v.texts("checklist", j.checklist, sparse);
  v.maybe("drawing", j.drawing);
  v.unknown(j.unknown);
}

/// The whole document but for its format, its version and its record, which is a part of its own, so that a long book
/// stays fast.
template <class V>
void describe(V& v, Book& b) {
  constexpr std::array<std::pair<bool, const char*>, 2> units{{{false, "mm"}, {true, "in"}}};
  v.object("machine", b.machine);
  v.list("instruments", b.instruments);
  v.list("tools", b.tools);
  v.list("plates", b.plates);
  v.maybe("setter", b.setter);
  v.object("rack", b.rack, sparse);
  v.list("places", b.places);
  v.list("fences", b.fences, sparse);
  v.object("job", b.job);
  v.number("workshop_C", b.workshop_C);
  v.object("worksheets", b.worksheets);
  bool inches = b.length_unit == "in";
  v.choice("length_unit", inches, units);
  if (V::fills) b.length_unit = inches ? "in" : "mm";
  v.unknown(b.unknown);
}

}  // namespace ypsi
