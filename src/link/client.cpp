#include "link/client.h"

#include <fmt/format.h>

#include "link/setting_range.h"

namespace ypsi::link {
namespace {

tl::unexpected<Error> unreadable() {
  return fail("offline", "The controller's answer cannot be read; try again, and see to the line if it stays so.");
}

template <std::size_t n>
std::optional<std::array<double, n>> numbers(const json& in) {
  if (!in.is_array() || in.size() != n) return std::nullopt;
  std::array<double, n> out;
  for (std::size_t i = 0; i < n; ++i) {
    if (!in[i].is_number()) return std::nullopt;
    out[i] = in[i].get<double>();
  }
  return out;
}

}  // namespace

Result<void> Client::done(const json& request) const {
  const auto answer = wire_->request(request);
  if (!answer) return tl::make_unexpected(answer.error());
  return {};
}

Result<double> Client::number(const json& request) const {
  const auto answer = wire_->request(request);
  if (!answer) return tl::make_unexpected(answer.error());
  if (!answer->is_number()) return unreadable();
  return answer->get<double>();
}

MachineStatus Client::status() const {
  return wire_->status();
}

Result<double> Client::setting(std::string_view name) const {
  const auto value = number({{"do", "get"}, {"name", name}});
  if (value && !setting_range(name).holds(*value))
    return fail("unbelievable", fmt::format("The controller says {:g} for “{}”, which cannot be. Set it anew before "
                                            "anything moves by it.",
                                            *value, name));
  return value;
}

Result<void> Client::set_setting(std::string_view name, double value) {
  return done({{"do", "set"}, {"name", name}, {"value", value}});
}

Result<void> Client::home() {
  return done({{"do", "home"}});
}

Result<void> Client::jog(Axis axis, double distance, double rate) {
  return done({{"do", "jog"}, {"axis", axis_key(axis)}, {"distance_mm", distance}, {"rate_mm_min", rate}});
}

Result<void> Client::begin_program() {
  return done({{"do", "begin"}});
}

Result<void> Client::send(std::string_view block, std::uint32_t tag) {
  if (!wire_->up()) return fail("offline", wire_->trouble());
  if (wire_->room() <= 0) wire_->poll();
  if (wire_->room() <= 0) return fail("full", "The look-ahead is full; send the block again in a moment.");
  wire_->send_block(block, tag);
  return {};
}

void Client::tool_changed(int tool) {
  (void)done({{"do", "tool_changed"}, {"tool", tool}});
}

void Client::set_feed_override(double factor) {
  (void)done({{"do", "override"}, {"factor", factor}});
}

const json& Client::look(Look& at, const char* what) const {
  if (at.asked == 0 || !wire_->awaits(at.asked)) at.asked = wire_->ask({{"do", what}});
  wire_->poll();
  if (const auto answer = wire_->answer_to(at.asked)) {
    at.asked = 0;
    if (const auto value = answer->find("value"); value != answer->end()) at.seen = *value;
  }
  return at.seen;
}

double Client::gap_seen() const {
  const json& seen = look(gap_, "gap");
  return seen.is_number() ? seen.get<double>() : 0;
}

std::optional<Bench::Outline> Client::stock_seen() const {
  const auto at = numbers<4>(look(stock_, "stock"));
  if (!at) return std::nullopt;
  return Outline{(*at)[0], (*at)[1], (*at)[2], (*at)[3]};
}

std::optional<std::array<double, 2>> Client::setter_seen() const {
  return numbers<2>(look(setter_, "setter"));
}

std::array<double, 3> Client::tool_seen() const {
  return numbers<3>(look(tool_, "tool")).value_or(std::array<double, 3>{});
}

Surroundings Client::surroundings() const {
  try {
    return surroundings_from(look(surroundings_, "surroundings"));
  } catch (const json::exception&) {
    return {};  // not seen yet
  }
}

void Client::mark(Axis axis) {
  (void)done({{"do", "mark"}, {"axis", axis_key(axis)}});
}

Result<double> Client::read_distance(Axis axis, std::string_view instrument) {
  return number({{"do", "read_distance"}, {"axis", axis_key(axis)}, {"instrument", instrument}});
}

Result<double> Client::read_free_way(Axis axis, bool towards_plus, std::string_view instrument) {
  return number({{"do", "free_way"}, {"axis", axis_key(axis)}, {"plus", towards_plus}, {"instrument", instrument}});
}

Result<void> Client::spot(std::string_view name) {
  return done({{"do", "spot"}, {"name", name}});
}

Result<double> Client::read_between(std::string_view from, std::string_view to, std::string_view instrument) {
  return number({{"do", "read_between"}, {"from", from}, {"to", to}, {"instrument", instrument}});
}

Result<double> Client::read_square(double length, bool turned, std::string_view instrument) {
  return number({{"do", "read_square"}, {"length_mm", length}, {"turned", turned}, {"instrument", instrument}});
}

Result<double> Client::read_sweep(double radius, double angle_deg, std::string_view instrument) {
  return number({{"do", "read_sweep"}, {"radius_mm", radius}, {"angle_deg", angle_deg}, {"instrument", instrument}});
}

Result<double> Client::measure(const CutFeature& feature, std::string_view instrument) {
  return number({{"do", "measure"}, {"feature", to_json(feature)}, {"instrument", instrument}});
}

Result<std::array<double, 2>> Client::pointer_from(std::string_view spotted, double power_percent) {
  const auto answer = wire_->request({{"do", "pointer"}, {"spotted", spotted}, {"power_percent", power_percent}});
  if (!answer) return tl::make_unexpected(answer.error());
  const auto off = numbers<2>(*answer);
  if (!off) return unreadable();
  return *off;
}

void Client::set_clip(bool on) {
  (void)done({{"do", "clip"}, {"on", on}});
}

void Client::hold_switch(Axis axis, bool pressed) {
  (void)done({{"do", "hold_switch"}, {"axis", axis_key(axis)}, {"on", pressed}});
}

void Client::hold_far_switch(Axis axis, bool pressed) {
  (void)done({{"do", "hold_switch"}, {"axis", axis_key(axis)}, {"on", pressed}, {"far", true}});
}

void Client::press_emergency_stop(bool pressed) {
  (void)done({{"do", "emergency_stop"}, {"on", pressed}});
}

void Client::lay_plate(PlatePlace place) {
  (void)done({{"do", "plate"}, {"place", plate_word(place)}});
}

Result<void> Client::put_tool(int number) {
  return done({{"do", "put_tool"}, {"tool", number}});
}

void Client::lay_clamp(double x, double y) {
  (void)done({{"do", "clamp"}, {"x_mm", x}, {"y_mm", y}});
}

void Client::lay_fresh_stock() {
  (void)done({{"do", "fresh_stock"}});
}

void Client::adjust_nut(Axis axis) {
  (void)done({{"do", "adjust_nut"}, {"axis", axis_key(axis)}});
}

void Client::take_clamps_away() {
  (void)done({{"do", "clamps_away"}});
}

void Client::move_rail_end(RailEnd end, double distance) {
  (void)done({{"do", "rail_end"}, {"end", end == RailEnd::left ? "left" : "right"}, {"distance_mm", distance}});
}

void Client::set_speed(double factor) {
  (void)done({{"do", "speed"}, {"factor", factor}});
}

}  // namespace ypsi::link
