#include "link/messages.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <iterator>

namespace ypsi::link {
namespace {

constexpr const char* state_words[] = {"offline", "not_homed",   "ready",   "moving",        "cutting",
                                       "held",    "tool_change", "stopped", "emergency_stop"};
constexpr const char* plate_words[] = {"away", "on_stock", "on_bed", "on_corner", "at_cutter"};
constexpr const char* stroke_words[] = {"start", "middle", "end"};
constexpr const char* feature_words[] = {"inside", "outside", "spacing", "depth", "diagonal",
                                         "beside", "gap",     "between", "width"};

/// Index of a word, or a json exception as for any other value of the wrong kind.
template <std::size_t n>
std::size_t word_index(const char* const (&words)[n], const json& in) {
  const auto& word = in.get_ref<const std::string&>();
  for (std::size_t i = 0; i < n; ++i)
    if (word == words[i]) return i;
  throw json::other_error::create(501, "an unknown word", nullptr);
}

template <class Frame>
json place(const Position<Frame>& p) {
  return {p.x, p.y, p.z};
}

constexpr double farthest = 1e6;  // of anything that a machine tells of itself

MachinePosition place_from(const json& in) {
  const MachinePosition at{in.at(0).get<double>(), in.at(1).get<double>(), in.at(2).get<double>()};
  for (const Axis a : all_axes)
    if (!(std::fabs(at[a]) <= farthest)) throw json::other_error::create(503, "out of range", nullptr);
  return at;
}

}  // namespace

bool Identity::can(std::string_view capability) const {
  return std::find(capabilities.begin(), capabilities.end(), capability) != capabilities.end();
}

json to_json(const Identity& i) {
  return {{"name", i.name},
          {"version", i.version},
          {"axes", i.axes},
          {"capabilities", i.capabilities},
          {"look_ahead", i.look_ahead},
          {"boot", i.boot}};
}

Identity identity_from(const json& in) {
  return {in.at("name").get<std::string>(),
          in.at("version").get<std::string>(),
          in.at("axes").get<std::vector<std::string>>(),
          in.at("capabilities").get<std::vector<std::string>>(),
          whole_from(in.at("look_ahead")),
          static_cast<std::uint32_t>(whole_from(in.at("boot")))};
}

json to_json(const MachineStatus& s) {
  json out{{"state", state_words[static_cast<std::size_t>(s.state)]},
           {"machine_mm", place(s.position)},
           {"work_zero_mm", place(s.work_zero)},
           {"work_frame", s.work_frame < 6 ? 54.0 + s.work_frame : 59 + (s.work_frame - 5) / 10.0},
           {"homed", s.homed},
           {"block", s.block_in_hand},
           {"feed_mm_min", s.feed},
           {"feed_override", s.feed_override},
           {"spindle_rpm", s.spindle_rpm},
           {"tool", s.tool},
           {"wanted_tool", s.wanted_tool},
           {"tool_offset_mm", s.tool_offset},
           {"inputs",
            {{"home", s.inputs.home_switch},
             {"far", s.inputs.far_switch},
             {"probe", s.inputs.probe},
             {"emergency_stop", s.inputs.emergency_stop}}},
           {"probed", {{"count", s.probe.count}, {"contact", s.probe.contact}, {"machine_mm", place(s.probe.at)}}},
           {"homing", {{"count", s.homing.count}, {"shift_mm", place(s.homing.shift)}}},
           {"ran_dry", s.ran_dry},
           {"beam_on", s.beam_on},
           {"message", s.message}};
  if (s.refusal) out["refusal"] = to_json(*s.refusal);
  return out;
}

std::optional<MachineState> state_of_word(std::string_view word) {
  const auto* const found = std::find(std::begin(state_words), std::end(state_words), word);
  if (found == std::end(state_words)) return std::nullopt;
  return static_cast<MachineState>(found - std::begin(state_words));
}

MachineStatus status_from(const json& in) {
  MachineStatus s;
  s.state = static_cast<MachineState>(word_index(state_words, in.at("state")));
  s.position = place_from(in.at("machine_mm"));
  s.work_zero = place_from(in.at("work_zero_mm"));
  const long tenths = std::lround(10 * std::clamp(in.at("work_frame").get<double>(), 54.0, 59.3));
  s.work_frame = static_cast<int>(tenths <= 590 ? tenths / 10 - 54 : tenths - 590 + 5);
  s.homed = in.at("homed").get<std::array<bool, axis_count>>();
  s.block_in_hand = static_cast<std::uint32_t>(whole_from(in.at("block")));
  s.feed = in.at("feed_mm_min").get<double>();
  s.feed_override = in.at("feed_override").get<double>();
  s.spindle_rpm = in.at("spindle_rpm").get<double>();
  s.tool = whole_from(in.at("tool"));
  s.wanted_tool = whole_from(in.at("wanted_tool"));
  s.tool_offset = in.at("tool_offset_mm").get<double>();
  const json& inputs = in.at("inputs");
  s.inputs.home_switch = inputs.at("home").get<std::array<bool, axis_count>>();
  // A controller without switches at the far ends, or that does not tell what homing found, leaves these out.
  if (inputs.contains("far")) s.inputs.far_switch = inputs.at("far").get<std::array<bool, axis_count>>();
  s.inputs.probe = inputs.at("probe").get<bool>();
  s.inputs.emergency_stop = inputs.at("emergency_stop").get<bool>();
  const json& probed = in.at("probed");
  s.probe = {static_cast<std::uint32_t>(whole_from(probed.at("count"))), probed.at("contact").get<bool>(),
             place_from(probed.at("machine_mm"))};
  if (const auto homing = in.find("homing"); homing != in.end())
    s.homing = {static_cast<std::uint32_t>(whole_from(homing->at("count"))), place_from(homing->at("shift_mm"))};
  s.ran_dry = static_cast<std::uint32_t>(whole_from(in.at("ran_dry")));
  s.beam_on = in.value("beam_on", false);  // of a controller without one it is left out
  // What no machine can be is no state: it is passed over like a line that was garbled.
  for (const double value : {s.feed, s.feed_override, s.spindle_rpm, s.tool_offset})
    if (!(std::fabs(value) <= farthest)) throw json::other_error::create(503, "out of range", nullptr);
  s.message = in.at("message").get<std::string>();
  if (in.contains("refusal")) s.refusal = error_from(in.at("refusal"));
  return s;
}

json to_json(const Surroundings& s) {
  json out{{"clip_on", s.clip_on},
           {"emergency_stop_pressed", s.emergency_stop_pressed},
           {"switch_held", s.switch_held},
           {"has_far_switch", s.has_far_switch},
           {"far_switch_held", s.far_switch_held},
           {"plate", plate_word(s.plate)},
           {"tool", s.tool},
           {"clamps_mm", s.clamps},
           {"instruments", s.instruments},
           {"speed", s.speed}};
  if (s.nose_tick) out["nose_tick"] = *s.nose_tick;
  return out;
}

Surroundings surroundings_from(const json& in) {
  Surroundings s;
  s.clip_on = in.at("clip_on").get<bool>();
  s.emergency_stop_pressed = in.at("emergency_stop_pressed").get<bool>();
  s.switch_held = in.at("switch_held").get<std::array<bool, axis_count>>();
  s.has_far_switch = in.at("has_far_switch").get<std::array<bool, axis_count>>();
  s.far_switch_held = in.at("far_switch_held").get<std::array<bool, axis_count>>();
  s.plate = plate_place_from(in.at("plate"));
  s.tool = whole_from(in.at("tool"));
  s.clamps = in.at("clamps_mm").get<std::vector<std::array<double, 2>>>();
  s.instruments = in.at("instruments").get<std::vector<std::string>>();
  s.speed = in.at("speed").get<double>();
  if (in.contains("nose_tick")) s.nose_tick = in.at("nose_tick").get<double>();
  return s;
}

PlatePlace plate_place_from(const json& in) {
  return static_cast<PlatePlace>(word_index(plate_words, in));
}

std::string plate_word(PlatePlace place) {
  return plate_words[static_cast<std::size_t>(place)];
}

json to_json(const CutFeature& f) {
  return {{"kind", feature_words[static_cast<std::size_t>(f.kind)]},
          {"along", axis_key(f.along)},
          {"at_mm", place(f.at)},
          {"other_mm", place(f.other)},
          {"nominal_mm", f.nominal}};
}

CutFeature feature_from(const json& in) {
  return {static_cast<CutFeature::Kind>(word_index(feature_words, in.at("kind"))), axis_from(in.at("along")),
          place_from(in.at("at_mm")), place_from(in.at("other_mm")), in.at("nominal_mm").get<double>()};
}

json to_json(const StrokePoint& p) {
  return {{"head", p.head}, {"back", p.back}, {"where", stroke_words[static_cast<std::size_t>(p.where)]}};
}

StrokePoint stroke_from(const json& in) {
  return {in.at("head").get<std::string>(), whole_from(in.at("back")),
          static_cast<StrokePoint::Where>(word_index(stroke_words, in.at("where")))};
}

json to_json(const Error& e) {
  return {{"code", e.code}, {"message", e.message}, {"where", e.where}};
}

Error error_from(const json& in) {
  return {in.at("code").get<std::string>(), in.at("message").get<std::string>(), in.value("where", "")};
}

int whole_from(const json& in) {
  if (!in.is_number_integer() || in.get<std::int64_t>() < INT32_MIN || in.get<std::int64_t>() > INT32_MAX)
    throw json::other_error::create(502, "not a whole number in range", nullptr);
  return in.get<int>();
}

std::string text_of(const json& object) {
  return object.dump(-1, ' ', true, json::error_handler_t::replace);
}

Axis axis_from(const json& in) {
  constexpr const char* words[] = {"x", "y", "z"};
  return static_cast<Axis>(word_index(words, in));
}

}  // namespace ypsi::link
