#include "standin/scenario.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <numbers>

namespace ypsi::standin {
namespace {

using nlohmann::json;

constexpr double largest_mm = 1e5;

/// One object of the scenario and where it stands; the first thing that is wrong with it is kept.
class Keys {
 public:
  Keys(const json& object, std::string where, Error& wrong)
      : object_(object), where_(std::move(where)), wrong_(wrong) {}

  bool has(const char* key) const { return object_.is_object() && object_.contains(key); }
  Keys in(const char* key) const {
    static const json none = json::object();
    if (!has(key)) return {none, path(key), wrong_};
    const json& found = object_[key];
    if (!found.is_object()) {
      refuse("wrong_type", key, "must be an object");
      return {none, path(key), wrong_};
    }
    return {found, path(key), wrong_};
  }
  void number(const char* key, double& into, double low, double high, double unit = 1) const {
    if (!has(key)) return;
    take(object_[key], key, into, low, high, unit);
  }
  void positive(const char* key, double& into) const { number(key, into, 1e-6, largest_mm); }
  template <std::size_t n>
  void numbers(const char* key, std::array<double, n>& into, double low, double high, double unit = 1) const {
    if (!has(key)) return;
    const json& found = object_[key];
    if (!found.is_array() || found.size() != n)
      return refuse("wrong_type", key, fmt::format("must hold {} numbers", n));
    for (std::size_t i = 0; i < n; ++i) take(found[i], key, into[i], low, high, unit);
  }
  void pairs(const char* key, std::vector<std::array<double, 2>>& into, double low, double high) const {
    if (!has(key)) return;
    const json& found = object_[key];
    if (!found.is_array()) return refuse("wrong_type", key, "must be a list");
    for (const json& pair : found) {
      if (!pair.is_array() || pair.size() != 2) return refuse("wrong_type", key, "must hold pairs of numbers");
      std::array<double, 2>& into_pair = into.emplace_back();
      for (std::size_t i = 0; i < 2; ++i) take(pair[i], key, into_pair[i], low, high, 1);
    }
  }
  void flag(const char* key, bool& into) const {
    if (!has(key)) return;
    if (!object_[key].is_boolean()) return refuse("wrong_type", key, "must be true or false");
    into = object_[key].get<bool>();
  }
  void whole(const char* key, int& into, int low, int high) const {
    double value = into;
    number(key, value, low, high);
    into = static_cast<int>(value);
  }
  void text(const char* key, std::string& into) const {
    if (!has(key)) return;
    if (!object_[key].is_string()) return refuse("wrong_type", key, "must be text");
    into = object_[key].get<std::string>();
  }
  void texts(const char* key, std::vector<std::string>& into) const {
    if (!has(key)) return;
    const json& found = object_[key];
    if (!found.is_array()) return refuse("wrong_type", key, "must be a list");
    for (const json& each : found) {
      if (!each.is_string()) return refuse("wrong_type", key, "must hold texts");
      into.push_back(each.get<std::string>());
    }
  }
  template <class T, std::size_t n>
  void word(const char* key, T& into, const std::array<std::pair<T, const char*>, n>& words) const {
    if (!has(key)) return;
    for (const auto& [value, name] : words)
      if (object_[key] == name) {
        into = value;
        return;
      }
    refuse("out_of_range", key, "is none of the words known here");
  }
  template <class T>
  void word(const char* key, T& into, std::initializer_list<std::pair<const char*, T>> words) const {
    if (!has(key)) return;
    if (!object_[key].is_string()) return refuse("wrong_type", key, "must be a word");
    for (const auto& [name, value] : words)
      if (object_[key] == name) {
        into = value;
        return;
      }
    refuse("out_of_range", key, "is none of the words known here");
  }
  template <class Each>
  void list(const char* key, Each each) const {
    if (!has(key)) return;
    const json& found = object_[key];
    if (!found.is_array()) return refuse("wrong_type", key, "must be a list");
    for (std::size_t i = 0; i < found.size(); ++i) {
      if (!found[i].is_object()) return refuse("wrong_type", key, "must hold objects");
      each(Keys(found[i], fmt::format("{}[{}]", path(key), i), wrong_));
    }
  }
  void refuse(const char* code, const char* key, std::string_view what) const {
    if (wrong_.code.empty())
      wrong_ = {code, fmt::format("In the scenario, {} {}. Nothing was started.", path(key), what), path(key)};
  }
  const json& object() const { return object_; }

 private:
  std::string path(const char* key) const { return where_.empty() ? key : where_ + "." + key; }
  void take(const json& value, const char* key, double& into, double low, double high, double unit) const {
    if (!value.is_number()) return refuse("wrong_type", key, "must be a number");
    const double v = value.get<double>();
    if (!(v >= low && v <= high))
      return refuse("out_of_range", key, fmt::format("must be from {:g} to {:g}", low, high));
    into = v * unit;
  }
  const json& object_;
  std::string where_;
  Error& wrong_;
};

constexpr double mrad = 1e-3;

AxisTruth read_truth(const Keys& in) {
  AxisTruth axis;
  in.positive("true_steps_per_mm", axis.true_steps_per_mm);
  in.flag("inverted", axis.inverted);
  in.number("lost_motion_mm", axis.lost_motion, 0, 10);
  const auto screw = [&](const Keys& of) {
    ScrewError& error = axis.screw.emplace_back();
    of.number("amplitude_mm", error.amplitude, -1, 1);
    of.number("period_mm", error.period, 0.1, largest_mm);
    if (error.amplitude == 0) axis.screw.pop_back();  // it would be reckoned at every step
  };
  if (in.has("screw_error") && in.object()["screw_error"].is_array())
    in.list("screw_error", screw);
  else if (in.has("screw_error"))
    screw(in.in("screw_error"));
  std::array<double, 2> stops{axis.stop_low, axis.stop_high};
  in.numbers("stops_mm", stops, -largest_mm, largest_mm);
  axis.stop_low = stops[0];
  axis.stop_high = stops[1];
  if (!(stops[1] - stops[0] >= 1)) in.refuse("out_of_range", "stops_mm", "leave no room between them");
  const Keys sw = in.in("switch");
  sw.word("end", axis.switch_at_max, {{"min", false}, {"max", true}});
  sw.number("at_mm", axis.switch_at, -largest_mm, largest_mm);
  sw.number("s_mm", axis.switch_s, 0, 1);
  sw.number("release_mm", axis.switch_release, 0, 20);
  sw.word("wired", axis.wired,
          {{"ok", Wiring::ok}, {"never", Wiring::never}, {"reversed", Wiring::reversed}, {"swapped", Wiring::swapped}});
  if (in.has("far_switch")) {
    const Keys far_switch = in.in("far_switch");
    axis.far = SwitchTruth{!axis.switch_at_max, axis.switch_at_max ? axis.stop_low + 2 : axis.stop_high - 2};
    far_switch.number("at_mm", axis.far->at, -largest_mm, largest_mm);
    far_switch.number("s_mm", axis.far->s, 0, 1);
    far_switch.number("release_mm", axis.far->release, 0, 20);
    far_switch.word("wired", axis.far->wired,
                    {{"ok", Wiring::ok}, {"never", Wiring::never}, {"reversed", Wiring::reversed}});
  }
  return axis;
}

AxisBelief read_belief(const Keys& in, const AxisTruth& truth) {
  AxisBelief axis;
  axis.steps_per_mm = truth.true_steps_per_mm;
  axis.home_at_max = truth.switch_at_max;
  axis.soft_min = truth.stop_low - truth.switch_at + 5;
  axis.soft_max = truth.stop_high - truth.switch_at - 5;
  if (axis.soft_min >= axis.soft_max) axis.soft_min = axis.soft_max - 1;
  in.positive("steps_per_mm", axis.steps_per_mm);
  in.positive("max_rate_mm_min", axis.max_rate);
  in.positive("accel_mm_s2", axis.accel);
  in.number("soft_min_mm", axis.soft_min, -largest_mm, largest_mm);
  in.number("soft_max_mm", axis.soft_max, -largest_mm, largest_mm);
  in.number("home_coordinate_mm", axis.home_coordinate, -largest_mm, largest_mm);
  in.number("home_turn", axis.home_turn, 0, axis_count);
  in.number("pull_off_mm", axis.pull_off, 0.1, 100);
  in.number("home_seek_mm_min", axis.home_seek, 60, 20000);
  in.number("home_latch_mm_min", axis.home_latch, 6, 3000);
  in.number("second_switch_offset_mm", axis.second_switch_offset, -20, 20);
  in.flag("reversed", axis.reversed);
  in.flag("home_at_max", axis.home_at_max);
  in.flag("switch_inverted", axis.switch_inverted);
  return axis;
}

Instrument read_instrument(const std::string& name, const Keys& in) {
  Instrument i;
  i.name = name;
  in.positive("resolution_mm", i.resolution_mm);
  in.whole("ends", i.ends, 1, 2);
  double s = i.scatter_mm();
  in.number("s_mm", s, 0, 100);
  i.s_mm = s;
  in.number("u_cal_mm", i.u_cal_mm, 0, 100);
  in.number("u_rel", i.u_rel, 0, 0.1);
  return i;
}

void read_things(const Keys& in, Scenario& s) {
  in.number("skew_mrad", s.skew, -100, 100, mrad);
  in.number("yaw_mrad", s.yaw, -100, 100, mrad);
  in.numbers("z_lean_mrad", s.z_lean, -100, 100, mrad);
  in.number("temperature_K", s.temperature, 223, 373);
  in.number("expansion_per_K", s.expansion, 0, 1e-3);
  in.number("deflection_mm_per_N", s.deflection_per_N, 0, 1);
  in.number("cutting_force_N", s.cutting_force, 0, 1000);
  in.positive("rail_spacing_mm", s.rail_spacing);
  in.numbers("spindle_tilt_mrad", s.spindle_tilt, -100, 100, mrad);
  const Keys bed = in.in("bed");
  bed.number("z_mm", s.bed_z, -largest_mm, largest_mm);
  bed.numbers("tilt_mrad", s.bed_tilt, -100, 100, mrad);
  bed.number("waviness_mm", s.bed_waviness, 0, 50);
  const Keys stock = in.in("stock");
  stock.numbers("size_mm", s.stock.size, 0, 5000);
  std::array<double, 2> corner{0, 0};
  stock.numbers("corner_mm", corner, -largest_mm, largest_mm);
  s.stock.x = corner[0];
  s.stock.y = corner[1];
  stock.number("rotation_mrad", s.stock.rotation, -1600, 1600, mrad);
  stock.number("thickness_variation_mm", s.stock.thickness_variation, 0, 50);
  stock.number("cap_mm", s.stock.cap, 0, 100);
  stock.pairs("marks_mm", s.stock.marks, 0, 5000);
  stock.flag("conductive", s.stock.conductive);
  stock.flag("round", s.stock.round);
  if (stock.has("recess")) {
    const Keys recess = stock.in("recess");
    std::array<double, 2> at{0, 0};
    recess.numbers("at_mm", at, 0, 5000);
    s.stock.recess = PhysicalRecess{at[0], at[1]};
    recess.number("width_mm", s.stock.recess->width, 0, 5000);
    recess.number("height_mm", s.stock.recess->height, 0, 5000);
    recess.number("depth_mm", s.stock.recess->depth, 0, 5000);
  }
  const Keys plate = in.in("plate");
  plate.positive("thickness_mm", s.plate.thickness);
  plate.number("wall_x_mm", s.plate.wall_x, 0, 1000);
  plate.number("wall_y_mm", s.plate.wall_y, 0, 1000);
  in.flag("clip_on", s.clip_on);
  if (in.has("setter")) {
    const Keys setter = in.in("setter");
    std::array<double, 2> at{0, 0};
    setter.numbers("at_mm", at, -largest_mm, largest_mm);
    s.setter = PhysicalSetter{at[0], at[1]};
    setter.positive("height_mm", s.setter->height);
    setter.number("s_mm", s.setter->s, 0, 1);
  }
  in.list("tools", [&](const Keys& t) {
    PhysicalTool tool;
    t.whole("number", tool.number, 0, 65535);
    t.positive("diameter_mm", tool.diameter);
    t.number("stickout_mm", tool.stickout, 0, 1000);
    t.number("runout_mm", tool.runout, 0, 10);
    t.number("tip_mm", tool.tip, 0, 100);
    double degrees = 0;
    t.number("angle_deg", degrees, 0, 179);
    tool.angle = degrees * std::numbers::pi / 180;
    s.tools.push_back(tool);
  });
  if (in.has("nose")) {
    const Keys nose = in.in("nose");
    s.nose = PhysicalNose{};
    nose.positive("mm_per_tick", s.nose->mm_per_tick);
    nose.number("zero_tick", s.nose->zero_tick, -1000, 1000);
    nose.number("s_mm", s.nose->s, 0, 1);
  }
  if (in.has("pointer")) {
    const Keys pointer = in.in("pointer");
    std::array<double, 2> offset{0, 0};
    pointer.numbers("offset_mm", offset, -largest_mm, largest_mm);
    s.pointer = PhysicalPointer{offset[0], offset[1]};
    pointer.number("threshold_percent", s.pointer->threshold_percent, 0, 100);
  }
}

void read_heads(const Keys& in, Scenario& s) {
  in.list("heads", [&](const Keys& of) {
    PhysicalHead head;
    of.text("name", head.name);
    of.word("kind", head.kind, head_kinds);
    std::array<double, 2> offset{0, 0}, blade{0, 0};
    of.numbers("offset_mm", offset, -largest_mm, largest_mm);
    head.offset_x = offset[0];
    head.offset_y = offset[1];
    of.text("lower", head.lower);
    of.text("raise", head.raise);
    of.text("on", head.on);
    of.text("off", head.off);
    of.number("trailing_mm", head.trailing, 0, 20);
    of.numbers("blade_mm", blade, -20, 20);
    head.blade_forward = blade[0];
    head.blade_left = blade[1];
    const Keys pressure = of.in("pressure_through");
    pressure.number("threshold", head.threshold, 0, 1e6);
    pressure.number("sigma", head.sigma, 1e-6, 1e6);
    pressure.number("backing", head.backing, 0, 1e6);
    pressure.number("wear_per_m", head.wear_per_m, 0, 1e6);
    of.number("dot_threshold_percent", head.threshold, 0, 100);
    of.number("focus_z_mm", head.focus_z, -largest_mm, largest_mm);
    of.positive("spot_mm", head.spot);
    of.positive("rayleigh_mm", head.rayleigh);
    s.heads.push_back(std::move(head));
  });
}

/// What is switched on first, and what holds a stock down.
void read_surroundings(const Keys& in, Scenario& s) {
  in.texts("arming", s.arming.points);
  in.in("air").number("supply_bar", s.arming.supply_bar, 0, 100);
  in.texts("emergency_stops", s.emergency_stops);
  in.number("pressure_kPa", s.vacuum.pressure_kPa, 0, 101);
  in.list("zones", [&](const Keys& of) {
    VacuumZone zone;
    of.text("name", zone.name);
    std::array<double, 2> corner{0, 0}, size{zone.width_mm, zone.depth_mm};
    of.numbers("corner_mm", corner, -largest_mm, largest_mm);
    of.numbers("size_mm", size, 1, largest_mm);
    zone.x_mm = corner[0];
    zone.y_mm = corner[1];
    zone.width_mm = size[0];
    zone.depth_mm = size[1];
    s.vacuum.zones.push_back(std::move(zone));
  });
}

void read_fences(const Keys& in, Scenario& s) {
  in.list("fences", [&](const Keys& of) {
    PhysicalFence fence;
    of.text("name", fence.name);
    of.word("along", fence.along, {{"X", Axis::x}, {"Y", Axis::y}});
    of.number("at_mm", fence.at, -largest_mm, largest_mm);
    of.number("turn_mrad", fence.turn, -100, 100, mrad);
    s.fences.push_back(std::move(fence));
  });
}

void read_faults(const Keys& in, Scenario& s) {
  in.list("faults", [&](const Keys& f) {
    Fault fault;
    f.number("at_s", fault.at_s, 0, 1e9);
    if (!f.has("kind")) f.refuse("missing", "kind", "is missing");
    f.word("kind", fault.kind,
           {{"switch_stuck", FaultKind::switch_stuck},
            {"probe_stuck", FaultKind::probe_stuck},
            {"clip_off", FaultKind::clip_off},
            {"lost_steps", FaultKind::lost_steps},
            {"estop", FaultKind::estop},
            {"link_drop", FaultKind::link_drop},
            {"link_garbage", FaultKind::link_garbage},
            {"brownout", FaultKind::brownout},
            {"answer_lost", FaultKind::answer_lost},
            {"answer_twice", FaultKind::answer_twice},
            {"answer_late", FaultKind::answer_late},
            {"answer_garbled", FaultKind::answer_garbled},
            {"report_in_answer", FaultKind::report_in_answer},
            {"buffer_full", FaultKind::buffer_full}});
    f.word("axis", fault.axis, {{"X", Axis::x}, {"Y", Axis::y}, {"Z", Axis::z}});
    f.number("steps", fault.steps, -1e6, 1e6);
    s.faults.push_back(fault);
  });
  std::stable_sort(s.faults.begin(), s.faults.end(), [](const Fault& a, const Fault& b) { return a.at_s < b.at_s; });
}

}  // namespace

Result<Scenario> read_scenario(std::string_view text) {
  const json in = json::parse(text, nullptr, false);
  if (in.is_discarded()) return fail("not_json", "The scenario's file is cut off or is not JSON.");
  if (!in.is_object() || in.value("format", json()) != "ypsilograph-scenario")
    return fail("not_a_scenario", "This file is not a scenario for the stand-in machine.");
  if (in.value("version", json()) != 1)
    return fail("later_version", "This scenario is of another version than 1; it needs a newer Ypsilograph.",
                "version");
  Scenario s;
  Error wrong;
  const Keys all(in, "", wrong);
  double seed = 1;
  all.number("seed", seed, 0, 9e15);
  s.seed = static_cast<std::uint64_t>(seed);
  const Keys axes = all.in("axes"), controller = all.in("controller");
  for (const Axis a : all_axes) {
    const std::string key(1, letter(a));
    s.axes[index(a)] = read_truth(axes.in(key.c_str()));
    s.controller[index(a)] = read_belief(controller.in(key.c_str()), s.axes[index(a)]);
  }
  read_things(all, s);
  const Keys instruments = all.in("instruments");
  for (const auto& [name, value] : instruments.object().items())
    s.instruments[name] = read_instrument(name, instruments.in(name.c_str()));
  if (!all.has("instruments"))  // what lies on any bench
    for (const Instrument& i : {Instrument{"ruler", 0.5, 2, 0.15, 0, 0},
                                {"caliper", 0.01, 1, 0.01, 0.015, 0},
                                {"indicator", 0.001, 1, 0.002, 0, 0}})
      s.instruments[i.name] = i;
  read_heads(all, s);
  read_surroundings(all, s);
  read_fences(all, s);
  read_faults(all, s);
  if (!wrong.code.empty()) return tl::make_unexpected(wrong);
  return s;
}

const PhysicalTool* Scenario::tool(int number) const {
  const auto at = std::find_if(tools.begin(), tools.end(), [&](const PhysicalTool& t) { return t.number == number; });
  return at == tools.end() ? nullptr : &*at;
}

Head told_head(const PhysicalHead& h) {
  Head head;
  head.name = h.name;
  head.kind = h.kind;
  head.lower = h.lower;
  head.raise = h.raise;
  head.on = h.on;
  head.off = h.off;
  return head;
}

}  // namespace ypsi::standin
