#include "link/client.h"

#include <fmt/format.h>

#include "core/procedures/procedure.h"
#include "link/setting_range.h"

namespace ypsi::link {
namespace {

constexpr int settings_asked_times = 3;

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

/// False where these are no settings, and then nothing is taken.
bool take_settings(const json& told, std::map<std::string, double>& into) {
  if (!told.is_object()) return false;
  std::map<std::string, double> all;
  for (const auto& [name, value] : told.items()) {
    if (!value.is_number()) return false;
    all[name] = value.get<double>();
  }
  into = std::move(all);
  return true;
}

}  // namespace

Result<void> Client::begin(double within_s) {
  pending_.clear();
  readings_.clear();
  settings_asked_ = 0;
  settings_known_ = false;
  greeted_ = wire_->greetings();
  return wire_->begin(within_s);
}

Result<bool> Client::opened() const {
  auto shaken = wire_->opened();
  if (shaken && *shaken) return settings_known_;
  return shaken;
}

Result<void> Client::open(double within_s) {
  if (auto begun = begin(within_s); !begun) return begun;
  for (;;) {
    poll();
    const auto there = opened();
    if (!there) return tl::make_unexpected(there.error());
    if (*there) return {};
    wire_->wait_a_moment();
  }
}

void Client::ask_for_settings() {
  settings_asked_ = wire_->ask({{"do", "settings"}});
}

void Client::hear_settings() {
  if (settings_asked_ == 0) return;
  const auto told = wire_->answer_to(settings_asked_);
  if (!told) return;
  settings_asked_ = 0;
  if (*told && take_settings(**told, settings_)) {
    settings_known_ = true;
  } else if (!settings_known_ && wire_->up()) {
    if (++settings_missed_ < settings_asked_times) return ask_for_settings();
    wire_->give_up(unreadable().value().message);
  }
}

void Client::poll() {
  wire_->poll();
  if (std::exchange(greeted_, wire_->greetings()) != wire_->greetings()) {
    settings_known_ = false;
    settings_missed_ = 0;
    ask_for_settings();
  }
  while (!pending_.empty()) {
    const Pending& first = pending_.front();
    std::optional<Result<json>> answer;
    if (first.number > 0)
      answer = wire_->answer_to(first.number);
    else if (wire_->now_s() - first.uttered_at > request_holds_s || !wire_->up())
      answer = Result<json>(fail("offline", "The machine did not answer in time. Look at it, then try again."));
    if (!answer) break;
    const Pending over = std::move(pending_.front());
    pending_.pop_front();
    if (const auto done = settle(over, *answer); !done && over.kind != Pending::Kind::motion)
      refusals_.push_back({over.setting, done.error()});
    send_what_may_go();
  }
  // A program may have set work zeros and tool lengths of its own.
  const bool runs = streams_ && !stands(status().state);
  if (std::exchange(program_ran_, runs) && !runs) ask_for_settings();
  hear_settings();
}

/// What became of it. A motion that was asked for after something that was refused is not sent.
Result<void> Client::settle(const Pending& pending, const Result<json>& answer) {
  if (answer) return {};
  const auto refused = tl::make_unexpected(answer.error());
  if (pending.kind == Pending::Kind::motion) motion_refused_ = answer.error();
  if (pending.kind != Pending::Kind::setting) return refused;
  if (pending.before)
    settings_[pending.setting] = *pending.before;
  else
    settings_.erase(pending.setting);
  std::erase_if(pending_, [&](const Pending& p) {
    if (p.number > 0 || p.kind != Pending::Kind::motion) return false;
    motion_refused_ = answer.error();
    return true;
  });
  return refused;
}

void Client::send_what_may_go() {
  bool setting_is_open = false;
  for (Pending& each : pending_) {
    if (each.number == 0) {
      if (each.kind == Pending::Kind::motion && setting_is_open) return;
      each.number = wire_->ask(each.what, each.uttered_at);
    }
    setting_is_open = setting_is_open || each.kind == Pending::Kind::setting;
  }
  if (std::exchange(end_owed_, false)) end_program();
}

Result<void> Client::ask(Pending pending) {
  if (!wire_->up()) return fail("offline", wire_->trouble());
  pending.uttered_at = wire_->now_s();
  pending_.push_back(std::move(pending));
  send_what_may_go();
  if (unsent()) return {};
  wire_->poll();
  // Within one process, or where nothing waits before it, the answer may be there already.
  if (pending_.size() > 1) return {};
  const auto answer = wire_->answer_to(pending_.front().number);
  if (!answer) return {};
  const Pending over = std::move(pending_.front());
  pending_.pop_front();
  return settle(over, *answer);
}

Result<void> Client::move(json what, bool streams) {
  motion_refused_.reset();
  streams_ = streams;
  end_owed_ = false;
  const auto asked = ask({Pending::Kind::motion, std::move(what)});
  if (!asked) motion_refused_.reset();  // who asked has it
  return asked;
}

/// What was to begin and has not been sent is not begun any more.
void Client::end_by(Act act) {
  std::erase_if(pending_, [](const Pending& p) { return p.number == 0; });
  end_owed_ = false;
  wire_->act(act);
}

/// A reading is asked for in the same words until it is there; meanwhile it is `being_taken`.
Result<json> Client::reading(const json& request) {
  const auto at = readings_.try_emplace(text_of(request), 0).first;
  if (at->second == 0) at->second = wire_->ask(request);
  wire_->poll();
  auto answer = wire_->answer_to(at->second);
  if (!answer) return fail(being_taken, "The reading is being taken; ask for it again.");
  readings_.erase(at);
  return std::move(*answer);
}

Result<double> Client::number(const json& request) {
  const auto answer = reading(request);
  if (!answer) return tl::make_unexpected(answer.error());
  if (!answer->is_number()) return unreadable();
  return answer->get<double>();
}

MachineStatus Client::status() const {
  MachineStatus now = wire_->status();
  if (!settings_known_) now.state = MachineState::offline;
  if (now.state == MachineState::offline) return now;
  for (const Pending& each : pending_)
    if (each.kind == Pending::Kind::motion) {
      now.asked = true;
      now.refusal.reset();  // of what was asked for before
      if (now.state == MachineState::ready || now.state == MachineState::not_homed ||
          now.state == MachineState::stopped)
        now.state = MachineState::moving;
    }
  if (motion_refused_)
    now.refusal = motion_refused_;
  else if (!streams_)
    now.refusal.reset();
  return now;
}

Result<double> Client::setting(std::string_view name) const {
  if (!wire_->up()) return fail("offline", wire_->trouble());
  const auto found = settings_.find(std::string(name));
  if (found == settings_.end()) {
    if (name.starts_with("tool.") && name.ends_with(".offset_mm")) return 0;  // never set
    return fail("unknown_setting", fmt::format("The controller has no setting “{}”.", name));
  }
  if (!setting_range(name).holds(found->second))
    return fail("unbelievable", fmt::format("The controller says {:g} for “{}”, which cannot be. Set it anew before "
                                            "anything moves by it.",
                                            found->second, name));
  return found->second;
}

Result<void> Client::set_setting(std::string_view name, double value) {
  if (wire_->up() && !stands(status().state))
    return fail("busy", "The machine is moving; a setting can be changed when it stands.");
  if (auto ok = holds_in_range(name, value); !ok) return ok;
  Pending pending{Pending::Kind::setting, {{"do", "set"}, {"name", name}, {"value", value}}, std::string(name)};
  if (const auto known = settings_.find(pending.setting); known != settings_.end()) pending.before = known->second;
  auto asked = ask(std::move(pending));
  if (asked) settings_[std::string(name)] = value;
  return asked;
}

Result<void> Client::home() {
  return move({{"do", "home"}}, false);
}

Result<void> Client::jog(Axis axis, double distance, double rate) {
  return move({{"do", "jog"}, {"axis", axis_key(axis)}, {"distance_mm", distance}, {"rate_mm_min", rate}}, false);
}

Result<void> Client::begin_program() {
  return move({{"do", "begin"}}, true);
}

Result<void> Client::send(std::string_view block, std::uint32_t tag) {
  if (!wire_->up()) return fail("offline", wire_->trouble());
  if (unsent()) return fail("full", "What the program begins with is not settled; send the block again in a moment.");
  if (wire_->room() <= 0) wire_->poll();
  if (wire_->room() <= 0) return fail("full", "The look-ahead is full; send the block again in a moment.");
  wire_->send_block(block, tag);
  return {};
}

/// Without a deadline: it ends what came before it, however late that came.
void Client::end_program() {
  end_owed_ = unsent();
  if (!end_owed_) wire_->post({{"do", "end"}});
}

void Client::tool_changed(int tool) {
  (void)do_act({{"do", "tool_changed"}, {"tool", tool}});
}

void Client::set_feed_override(double factor) {
  (void)do_act({{"do", "override"}, {"factor", factor}});
}

const json& Client::look(Look& at, const char* what) const {
  if (at.asked == 0 || !wire_->awaits(at.asked)) at.asked = wire_->ask({{"do", what}});
  wire_->poll();
  if (const auto answer = wire_->answer_to(at.asked)) {
    at.asked = 0;
    if (*answer) at.seen = **answer;
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
  (void)do_act({{"do", "mark"}, {"axis", axis_key(axis)}});
}

Result<double> Client::read_distance(Axis axis, std::string_view instrument) {
  return number({{"do", "read_distance"}, {"axis", axis_key(axis)}, {"instrument", instrument}});
}

Result<double> Client::read_free_way(Axis axis, bool towards_plus, std::string_view instrument) {
  return number({{"do", "free_way"}, {"axis", axis_key(axis)}, {"plus", towards_plus}, {"instrument", instrument}});
}

Result<void> Client::spot(std::string_view name) {
  return do_act({{"do", "spot"}, {"name", name}});
}

Result<double> Client::read_between(std::string_view from, std::string_view to, std::string_view instrument) {
  return number({{"do", "read_between"}, {"from", from}, {"to", to}, {"instrument", instrument}});
}

Result<double> Client::read_square(double length, bool turned, std::string_view instrument) {
  return number({{"do", "read_square"}, {"length_mm", length}, {"turned", turned}, {"instrument", instrument}});
}

Result<double> Client::read_blade(Axis towards, double height, bool turned, std::string_view instrument) {
  return number({{"do", "read_blade"},
                 {"axis", axis_key(towards)},
                 {"height_mm", height},
                 {"turned", turned},
                 {"instrument", instrument}});
}

Result<double> Client::read_sweep(double radius, double angle_deg, std::string_view instrument) {
  return number({{"do", "read_sweep"}, {"radius_mm", radius}, {"angle_deg", angle_deg}, {"instrument", instrument}});
}

Result<double> Client::measure(const CutFeature& feature, std::string_view instrument) {
  return number({{"do", "measure"}, {"feature", to_json(feature)}, {"instrument", instrument}});
}

Result<std::array<double, 2>> Client::pointer_from(std::string_view spotted, double power_percent) {
  const auto answer = reading({{"do", "pointer"}, {"spotted", spotted}, {"power_percent", power_percent}});
  if (!answer) return tl::make_unexpected(answer.error());
  const auto off = numbers<2>(*answer);
  if (!off) return unreadable();
  return *off;
}

Result<std::array<double, 2>> Client::head_from(std::string_view head, std::string_view spotted) {
  const auto answer = reading({{"do", "head_from"}, {"head", head}, {"spotted", spotted}});
  if (!answer) return tl::make_unexpected(answer.error());
  const auto off = numbers<2>(*answer);
  if (!off) return unreadable();
  return *off;
}

Result<double> Client::read_strokes(const StrokePoint& from, const StrokePoint& to, Axis along,
                                    std::string_view instrument) {
  return number({{"do", "read_strokes"},
                 {"from", to_json(from)},
                 {"to", to_json(to)},
                 {"axis", axis_key(along)},
                 {"instrument", instrument}});
}

Result<double> Client::read_width(std::string_view head, std::string_view instrument) {
  return number({{"do", "read_width"}, {"head", head}, {"instrument", instrument}});
}

Result<double> Client::read_strips(std::string_view head, int strips, std::string_view instrument) {
  return number({{"do", "read_strips"}, {"head", head}, {"strips", strips}, {"instrument", instrument}});
}

Result<TrialSeen> Client::try_cut(std::string_view head, double level) {
  const auto answer = reading({{"do", "try_cut"}, {"head", head}, {"level", level}});
  if (!answer) return tl::make_unexpected(answer.error());
  const auto seen = numbers<2>(*answer);
  if (!seen) return unreadable();
  return TrialSeen{(*seen)[0] != 0, (*seen)[1] != 0};
}

Result<double> Client::read_from_fence(std::string_view fence, std::string_view instrument) {
  return number({{"do", "read_from_fence"}, {"fence", fence}, {"instrument", instrument}});
}

Result<double> Client::read_groove(double tick, std::string_view instrument) {
  return number({{"do", "read_groove"}, {"tick", tick}, {"instrument", instrument}});
}

void Client::turn_nose(double tick) {
  (void)do_act({{"do", "turn_nose"}, {"tick", tick}});
}

void Client::set_clip(bool on) {
  (void)do_act({{"do", "clip"}, {"on", on}});
}

void Client::hold_switch(Axis axis, bool pressed) {
  (void)do_act({{"do", "hold_switch"}, {"axis", axis_key(axis)}, {"on", pressed}});
}

void Client::hold_far_switch(Axis axis, bool pressed) {
  (void)do_act({{"do", "hold_switch"}, {"axis", axis_key(axis)}, {"on", pressed}, {"far", true}});
}

void Client::press_emergency_stop(bool pressed) {
  (void)do_act({{"do", "emergency_stop"}, {"on", pressed}});
}

void Client::lay_plate(PlatePlace place) {
  (void)do_act({{"do", "plate"}, {"place", plate_word(place)}});
}

Result<void> Client::arm(std::string_view point) {
  return do_act({{"do", "arm"}, {"point", std::string(point)}});
}

Result<void> Client::put_tool(int number) {
  return do_act({{"do", "put_tool"}, {"tool", number}});
}

void Client::lay_clamp(double x, double y) {
  (void)do_act({{"do", "clamp"}, {"x_mm", x}, {"y_mm", y}});
}

void Client::lay_fresh_stock() {
  (void)do_act({{"do", "fresh_stock"}});
}

void Client::adjust_nut(Axis axis) {
  (void)do_act({{"do", "adjust_nut"}, {"axis", axis_key(axis)}});
}

void Client::take_clamps_away() {
  (void)do_act({{"do", "clamps_away"}});
}

void Client::move_rail_end(RailEnd end, double distance) {
  (void)do_act({{"do", "rail_end"}, {"end", end == RailEnd::left ? "left" : "right"}, {"distance_mm", distance}});
}

void Client::set_speed(double factor) {
  (void)do_act({{"do", "speed"}, {"factor", factor}});
}

}  // namespace ypsi::link
