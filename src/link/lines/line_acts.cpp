// Homing, jogging, settings, and all that ends something.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "link/known_machine.h"
#include "link/lines/line_link.h"
#include "link/setting_range.h"

namespace ypsi::link {
namespace {

constexpr double proof_mm = 10;        // and is itself no longer
constexpr double short_step_s = 0.15;  // of a jog that cannot be ended: so long it goes on
constexpr std::size_t jog_ahead = 2;   // short steps that wait, or are under way
constexpr double homing_patience_s = 300;
constexpr double enough_decimals = 1e-3;

double rounded(double value, int digits) {
  const double scale = std::pow(10, digits);
  return std::round(value * scale) / scale;
}

}  // namespace

Result<void> LineLink::may_start(const char* then) const {
  const auto up = opened();
  if (!up) return tl::make_unexpected(up.error());
  if (!*up) return fail("offline", "The controller has not told all its settings yet; wait a moment.");
  if (act_ != Act::none || told_state_ == MachineState::moving || told_state_ == MachineState::cutting)
    return fail("busy", "The machine is moving already; wait until it stands.");
  if (told_state_ == MachineState::held) return fail("busy", "The machine is held; continue or abandon first.");
  if (hands_.moves()) return fail("busy", fmt::format("A card at the machine is not answered yet; {}.", then));
  if (inputs_.emergency_stop || told_state_ == MachineState::emergency_stop)
    return fail("stopped", "The emergency stop is pressed; make the machine safe, release it, then home.");
  return {};
}

void LineLink::start_afresh(Act act) {
  act_ = act;
  refusal_.reset();
  message_.clear();
  stopped_ = accepted_any_ = ending_ = held_ = hold_by_waiting_ = settle_sent_ = false;
  standing_reports_ = 0;
  act_from_ = talk_.next_id();
  if (told_state_ == MachineState::stopped) told_state_.reset();
  owed_s_ = patience_s;
}

void LineLink::end_act() {
  act_ = Act::none;
  ending_ = held_ = hold_by_waiting_ = false;
  probing_.reset();
  wanted_tool_ = 0;
  shifts_ = 0;
  lines_sent_.clear();
  way_.clear();
}

/// What was to follow is not sent; what is under way ends by itself.
void LineLink::fail_act(Error why, bool halts) {
  talk_.forget_waiting();
  message_ = why.message;
  refusal_ = std::move(why);
  const bool program = act_ == Act::program;
  end_act();
  if (halts && program) {
    talk_.utter(description_.acts.abandon.said() ? description_.acts.abandon : description_.acts.hold);
    talk_.forget_under_way();
  }
  if (program) stop_spindle();
}

/// What a program leaves on is switched off, however it ended.
void LineLink::stop_spindle() {
  if (std::exchange(spindle_used_, false)) talk_.queue("M5");
  spindle_rpm_ = 0;
}

void LineLink::place_is_lost() {
  talk_.forget_waiting();
  talk_.forget_under_way();
  end_act();
  homed_ = {};
}

void LineLink::go_on_with_act() {
  switch (act_) {
    case Act::none:
      return;
    case Act::home:
      return go_on_with_home();
    case Act::jog:
      return feed_jog();
    case Act::program:
      return go_on_with_program();
  }
}

// ------------------------------------------------------------------------------------------------------------ home

Result<void> LineLink::home() {
  if (auto ok = may_start("home when it is"); !ok) return ok;
  if (!description_.acts.home.said()) return hands_.home();
  start_afresh(Act::home);
  homed_ = {};
  owed_s_ = homing_patience_s;
  talk_.queue(description_.acts.home.block);
  return {};
}

void LineLink::go_on_with_home() {
  if (!accepted_any_ || !talk_.quiet()) return;
  if (description_.reports()) {
    if (standing_reports_ < enough_reports) return;
    if (told_state_ == MachineState::stopped || told_state_ == MachineState::not_homed)
      return fail_act({"stopped",
                       "Homing ended, and the controller does not say that it knows where it is. See what "
                       "it says on its own screen.",
                       ""});
  } else {
    // It tells no place: homed, it stands where its switch is counted, pulled off as far as its setting says.
    for (const Axis a : all_axes) {
      const bool at_max = known_value(hands_.known(), axis_setting(a, "home_at_max")) != 0;
      const double pull_off = known_value(hands_.known(), axis_setting(a, "pull_off_mm"));
      position_[a] =
          known_value(hands_.known(), axis_setting(a, "home_coordinate_mm")) + (at_max ? -pull_off : pull_off);
    }
  }
  homed_.fill(true);
  ++homing_.count;
  end_act();
}

// ------------------------------------------------------------------------------------------------------------- jog

Result<void> LineLink::jog(Axis axis, double distance, double rate) {
  if (auto ok = may_start("it moves when it is"); !ok) return ok;
  if (!std::isfinite(distance) || !(rate > 0) || !std::isfinite(rate))
    return fail("out_of_range", "A move needs a distance and a rate above zero.");
  const bool homed = homed_[index(axis)];
  if (auto ok = may_jog(hands_.known(), axis, homed, position_[axis], distance,
                        description_.trust.has_limits ? safely_beyond_mm : enough_decimals);
      !ok)
    return ok;
  const bool beyond = homed && beyond_limits(hands_.known(), axis, position_[axis] + distance) > enough_decimals;
  if (beyond && std::fabs(distance) > proof_mm)
    return fail("limit", fmt::format("{} would pass its soft limit. Nothing moved.", letter(axis)));
  start_afresh(Act::jog);
  jog_axis_ = axis;
  jog_beyond_ = beyond;
  jog_homed_ = homed;
  jog_at_ = position_[axis];
  jog_to_ = rounded(position_[axis] + distance, 3);
  jog_rate_ = homed ? rate : std::min(rate, unhomed_rate_mm_min);
  if (const double most = known_value(hands_.known(), axis_setting(axis, "max_rate_mm_min")); most > 0)
    jog_rate_ = std::min(jog_rate_, most);
  feed_jog();
  return {};
}

/// As much of the move as may be sent now: all of it where it can be ended, else the next short steps.
void LineLink::feed_jog() {
  while (!ending_ && std::fabs(jog_to_ - jog_at_) > 0.5 * enough_decimals) {
    const double left = jog_to_ - jog_at_, longest = std::max(jog_rate_ / 60 * short_step_s, enough_decimals);
    // To see that the controller refuses what lies beyond its limit, it is asked for all of it.
    const bool whole = jog_can_be_ended() || jog_beyond_ || std::fabs(left) <= longest;
    if (!whole && talk_.waiting() + talk_.under_way().size() >= jog_ahead) return;
    // Where they are taken before they are done, no more of them than are still to be seen to move.
    if (!whole && description_.reports() && std::fabs(jog_at_ - position_[jog_axis_]) > jog_ahead * longest) return;
    const double to = whole ? jog_to_ : rounded(jog_at_ + std::copysign(longest, left), 3);
    MachinePosition end = position_;
    end[jog_axis_] = to;
    std::string text;
    if (!description_.acts.jog.block.empty())
      text = filled(description_.acts.jog.block, {{"axis", std::string(1, letter(jog_axis_))},
                                                  {"distance", fmt::format("{:.3f}", to - jog_at_)},
                                                  {"rate", fmt::format("{:g}", jog_rate_)}});
    else
      text = block_of_move(jog_axis_, jog_at_, to, jog_rate_, jog_homed_ && description_.takes("G53"));
    owed_s_ = patience_s + patience_factor * std::fabs(to - jog_at_) / jog_rate_ * 60;
    for (std::string& line : lines_of(text))
      lines_sent_[talk_.queue(std::move(line))] = {Stretch{0, position_, end, false}, 0};
    if (!whole && !description_.reports() && description_.block.answered == Answered::taken)
      talk_.queue(description_.block.settle);
    jog_at_ = to;
  }
  if (!talk_.quiet()) return;
  if (description_.reports()) {
    const bool there = std::fabs(position_[jog_axis_] - jog_at_) <= there_mm && standing_reports_ >= 1;
    if (!there && standing_reports_ < enough_reports) return;
  } else if (description_.block.answered == Answered::taken && !std::exchange(settle_sent_, true)) {
    talk_.queue(description_.block.settle);
    return;
  }
  end_act();
}

void LineLink::end_jog() {
  if (act_ != Act::jog || ending_) return;
  ending_ = true;
  talk_.forget_waiting();
  if (jog_can_be_ended()) talk_.utter(description_.acts.end_jog);
  if (!jog_homed_ || !description_.takes("G53")) talk_.queue("G90");  // it may have been cut off
}

// -------------------------------------------------------------------------------------------------------- settings

double LineLink::as_taken(std::string_view name, double value) const {
  const auto described = description_.settings.find(std::string(name));
  const bool by_line = described != description_.settings.end() && !described->second.set.empty();
  return by_line ? rounded(value, described->second.digits) : value;
}

Result<void> LineLink::set_setting(std::string_view name, double value) {
  const auto up = opened();
  if (!up || !*up) return fail("offline", "The controller is not there; connect first.");
  if (act_ != Act::none || hands_.moves())
    return fail("busy", "The machine is moving; a setting can be changed when it stands.");
  if (auto ok = holds_in_range(name, value); !ok) return ok;
  const std::string key(name);
  const auto described = description_.settings.find(key);
  const bool by_line = described != description_.settings.end() && !described->second.set.empty();
  const std::string words = block_of_settings({{key, 0, value}});
  if (!by_line && !takes_block(words)) return hands_.set_setting(name, value);
  const double before = known_value(hands_.known(), key), now = as_taken(name, value);
  if (before == now && hands_.known().contains(key)) return {};
  if (by_line) {
    const DescribedSetting& how = described->second;
    const std::uint32_t id = talk_.queue(filled(how.set, {{"value", fmt::format("{:.{}f}", now, how.digits)}}), true);
    settings_sent_[id] = {key, before, now};
    if (how.get.said()) read_back_[key] = talk_.queue(how.get.block, true, {{key, LinePattern::of(how.answer)}});
  } else {
    set_by_block({key, before, now});
  }
  hands_.know(key, now);
  if (const auto axis = forgets_place_of(name)) {
    homed_[index(*axis)] = false;
    message_ =
        fmt::format("{} was set otherwise, so nobody knows where it stands. Home before anything else.", letter(*axis));
  }
  return {};
}

/// Whether there are words, and it understands them.
bool LineLink::takes_block(const std::string& words) const {
  return !words.empty() && (description_.takes("G10") || words.find("G10") == std::string::npos);
}

void LineLink::set_by_block(const SettingChange& change) {
  for (std::string& line : lines_of(block_of_settings({change})))
    settings_sent_[talk_.queue(std::move(line), true)] = change;
}

/// A card whose settings a block sets needs no hands.
void LineLink::do_what_a_block_does() {
  const HandCard* card = hands_.card();
  if (!card || card->kind != HandCard::Kind::settings || act_ != Act::none || !takes_block(card->block)) return;
  for (const SettingChange& each : card->settings) set_by_block(each);
  (void)hands_.answer(card->number, {});  // of the card in hand, and nothing to type: it cannot be refused
}

// ----------------------------------------------------------------------------------------------------------- ended

void LineLink::stop() {
  const bool turned = std::exchange(spindle_used_, false);
  const bool places = description_.trust.keeps_place_on_stop && description_.acts.stop.said();
  place_is_lost();
  talk_.utter(description_.acts.stop);
  if (turned) talk_.queue("M5");
  hands_.stop();
  stopped_ = true;
  spindle_rpm_ = 0;
  if (places) homed_.fill(true);
  message_ = description_.acts.stop.said()
                 ? "Stopped at once. Motors that are stopped at speed can lose their place: home before anything else."
                 : "This controller has no stop over its line. If it still moves, press the emergency stop at the "
                   "machine.";
}

void LineLink::hold() {
  if (act_ == Act::jog) return end_jog();
  if (act_ == Act::home) return stop();
  if (act_ != Act::program || held_) return hands_.hold();
  held_ = true;
  hold_by_waiting_ = !description_.acts.hold.said();
  talk_.utter(description_.acts.hold);
}

void LineLink::go_on() {
  if (act_ != Act::program || (!held_ && told_state_ != MachineState::held)) return;
  if (!hold_by_waiting_) talk_.utter(description_.acts.go_on);
  held_ = hold_by_waiting_ = false;
  if (told_state_ == MachineState::held) told_state_ = MachineState::moving;
  standing_reports_ = 0;
}

void LineLink::abandon() {
  hands_.abandon();
  if (act_ == Act::jog) return end_jog();
  if (act_ == Act::home) return stop();
  if (act_ != Act::program || ending_) return;
  talk_.forget_waiting();
  if (description_.acts.abandon.said()) {
    talk_.utter(description_.acts.abandon);
    talk_.forget_under_way();
    lines_sent_.clear();
  } else if (held_ && !hold_by_waiting_) {
    talk_.utter(description_.acts.go_on);  // what it has taken is done; there is no way to make it forget
  }
  held_ = hold_by_waiting_ = false;
  ending_ = true;
  probing_.reset();
  wanted_tool_ = 0;
  standing_reports_ = 0;
}

void LineLink::tool_changed(int tool) {
  if (told_state_ == MachineState::tool_change) {  // it asked for it, and is told to go on
    talk_.utter(description_.acts.go_on);
    told_state_ = MachineState::moving;
    standing_reports_ = 0;
  }
  tool_ = tool;
  wanted_tool_ = 0;
  hands_.tool_changed(tool);
}

void LineLink::set_feed_override(double factor) {
  if (!std::isfinite(factor) || !description_.acts.feed_override.said()) return;
  override_ = std::clamp(factor, 0.1, 2.0);
  talk_.utter(description_.acts.feed_override, {{"percent", fmt::format("{:.0f}", override_ * 100)}});
}

}  // namespace ypsi::link
