#include "standin/scenario.h"

#include <nlohmann/json.hpp>

namespace ypsi::standin {
namespace {

using nlohmann::json;

template <class T>
void take(const json& from, const char* key, T& into) {
  if (const auto it = from.find(key); it != from.end()) into = it->get<T>();
}

json object(const json& from, const char* key) {
  const auto it = from.find(key);
  return it != from.end() && it->is_object() ? *it : json::object();
}

AxisTruth read_truth(const json& in) {
  AxisTruth axis;
  take(in, "true_steps_per_mm", axis.true_steps_per_mm);
  take(in, "inverted", axis.inverted);
  take(in, "lost_motion_mm", axis.lost_motion);
  const json screw = object(in, "screw_error");
  take(screw, "amplitude_mm", axis.screw_amplitude);
  take(screw, "period_mm", axis.screw_period);
  std::array<double, 2> stops{axis.stop_low, axis.stop_high};
  take(in, "stops_mm", stops);
  axis.stop_low = stops[0];
  axis.stop_high = stops[1];
  const json sw = object(in, "switch");
  std::string end = "min";
  take(sw, "end", end);
  axis.switch_at_max = end == "max";
  take(sw, "at_mm", axis.switch_at);
  take(sw, "s_mm", axis.switch_s);
  take(sw, "release_mm", axis.switch_release);
  return axis;
}

AxisBelief read_belief(const json& in, const AxisTruth& truth) {
  AxisBelief axis;
  axis.steps_per_mm = truth.true_steps_per_mm;
  axis.soft_min = truth.stop_low - truth.switch_at + 5;
  axis.soft_max = truth.stop_high - truth.switch_at - 5;
  take(in, "steps_per_mm", axis.steps_per_mm);
  take(in, "max_rate_mm_min", axis.max_rate);
  take(in, "accel_mm_s2", axis.accel);
  take(in, "soft_min_mm", axis.soft_min);
  take(in, "soft_max_mm", axis.soft_max);
  take(in, "home_coordinate_mm", axis.home_coordinate);
  take(in, "pull_off_mm", axis.pull_off);
  take(in, "reversed", axis.reversed);
  return axis;
}

Instrument read_instrument(const std::string& name, const json& in) {
  Instrument i;
  i.name = name;
  take(in, "resolution_mm", i.resolution_mm);
  take(in, "ends", i.ends);
  double s = i.scatter_mm();
  take(in, "s_mm", s);
  i.s_mm = s;
  take(in, "u_cal_mm", i.u_cal_mm);
  take(in, "u_rel", i.u_rel);
  return i;
}

bool usable(const Scenario& s) {
  for (const Axis a : all_axes) {
    const auto& t = s.axes[index(a)];
    const auto& c = s.controller[index(a)];
    if (!(t.true_steps_per_mm > 0) || !(t.stop_low < t.stop_high) || !(t.screw_period > 0)) return false;
    if (!(c.steps_per_mm > 0) || !(c.max_rate > 0) || !(c.accel > 0)) return false;
  }
  return true;
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
  try {
    take(in, "seed", s.seed);
    const json axes = object(in, "axes"), controller = object(in, "controller");
    for (const Axis a : all_axes) {
      const std::string key(1, letter(a));
      s.axes[index(a)] = read_truth(object(axes, key.c_str()));
      s.controller[index(a)] = read_belief(object(controller, key.c_str()), s.axes[index(a)]);
    }
    take(object(in, "bed"), "z_mm", s.bed_z);
    const json stock = object(in, "stock");
    take(stock, "size_mm", s.stock_size);
    std::array<double, 2> corner{0, 0};
    take(stock, "corner_mm", corner);
    s.stock_x = corner[0];
    s.stock_y = corner[1];
    for (const auto& t : in.value("tools", json::array())) {
      PhysicalTool tool;
      take(t, "number", tool.number);
      take(t, "diameter_mm", tool.diameter);
      take(t, "stickout_mm", tool.stickout);
      s.tools.push_back(tool);
    }
    const json instruments = object(in, "instruments");
    for (const auto& [name, value] : instruments.items()) s.instruments[name] = read_instrument(name, value);
  } catch (const json::exception&) {
    return fail("wrong_type", "A value in the scenario is of another kind than its key wants.");
  }
  if (!usable(s))
    return fail("out_of_range", "The scenario has an axis without steps, room between its stops, rate or acceleration.",
                "axes");
  return s;
}

}  // namespace ypsi::standin
