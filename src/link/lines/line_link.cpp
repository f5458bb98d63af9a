// What is heard, and what is known from it.
#include "link/lines/line_link.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "link/known_machine.h"
#include "link/messages.h"

namespace ypsi::link {
namespace {

constexpr double usual_pull_off_mm = 2;
constexpr double lost_after_s = 1;  // an answer that is owed by a machine that stands
constexpr double asked_again_after_s = 3;
constexpr double stuck_after_s = 5;  // where it says that it moves, and does not
constexpr double off_way_mm = 0.05;
constexpr double far_off_mm = 3, late_by_s = 1;  // corners that are rounded, reports that come late

std::optional<double> number_in(const std::map<std::string, std::string>& groups, const std::string& name) {
  const auto found = groups.find(name);
  if (found == groups.end()) return std::nullopt;
  std::string_view text = found->second;
  if (text.starts_with('+')) text.remove_prefix(1);
  double value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value)) return std::nullopt;
  return value;
}

/// How far from a stretch, and how far along it, mm.
struct OnStretch {
  double off = 0, along = 0;
};
OnStretch place_on(const MachinePosition& p, const MachinePosition& from, const MachinePosition& to) {
  double along = 0, length = 0;
  for (const Axis a : all_axes) {
    along += (p[a] - from[a]) * (to[a] - from[a]);
    length += (to[a] - from[a]) * (to[a] - from[a]);
  }
  const double part = length > 0 ? std::clamp(along / length, 0.0, 1.0) : 0;
  double off = 0;
  for (const Axis a : all_axes) off += std::pow(from[a] + part * (to[a] - from[a]) - p[a], 2);
  return {std::sqrt(off), part * std::sqrt(length)};
}

double length_of(const MachinePosition& from, const MachinePosition& to) {
  return std::hypot(to.x - from.x, to.y - from.y, to.z - from.z);
}

}  // namespace

LineLink::LineLink(std::unique_ptr<Transport> transport, ControllerDescription description, HandMemory known)
    : description_(std::move(description)),
      talk_(std::move(transport), description_),
      hands_(std::move(known)),
      position_(hands_.status().position) {
  tool_ = hands_.status().tool;
  homing_.tells_shift = false;
  // Where it stands after homing is reckoned where it does not say so: how far from its switch is asked.
  if (!description_.reports())
    for (const Axis a : all_axes)
      if (const std::string name = axis_setting(a, "pull_off_mm"); !hands_.known().contains(name))
        hands_.know(name, usual_pull_off_mm);
  for (const auto& [name, setting] : description_.settings)
    if (setting.get.said()) told_by_line_.insert(name);
}

Result<void> LineLink::begin() {
  end_act();
  settings_sent_.clear();
  told_state_.reset();
  standing_reports_ = reports_heard_ = 0;
  homed_ = {};
  settings_known_ = false;
  last_reading_ = 0;
  return talk_.begin();
}

Result<bool> LineLink::opened() const {
  const auto talking = talk_.opened();
  if (!talking || !*talking) return talking;
  return settings_known_;
}

Result<void> LineLink::open() {
  if (auto ok = begin(); !ok) return ok;
  for (;;) {
    poll();
    const auto now = opened();
    if (!now) return tl::make_unexpected(now.error());
    if (*now) return {};
    talk_.wait(0.02);
  }
}

/// One line asks for all that it answers: where several settings are asked for in the same words, it goes once.
void LineLink::read_settings() {
  std::map<std::string, std::vector<std::pair<std::string, LinePattern>>> asked;
  for (const auto& [name, setting] : description_.settings)
    if (!setting.get.block.empty()) asked[setting.get.block].emplace_back(name, LinePattern::of(setting.answer));
  last_reading_ = 0;
  for (auto& [line, answers] : asked) last_reading_ = talk_.queue(line, true, std::move(answers));
  if (last_reading_ == 0) settings_told();
}

/// All that the line tells is known; the rest is asked of its owner, once.
void LineLink::settings_told() {
  if (!settings_known_) hands_.ask_what_it_has(told_by_line_);
  settings_known_ = true;
}

void LineLink::poll() {
  const bool was_up = talk_.opened().value_or(false);
  talk_.poll();
  const bool is_up = talk_.opened().value_or(false);
  if (was_up && !is_up) {
    message_ = talk_.opened().error().message;
    if (act_ == Act::program) message_ += " It goes on with what it has taken: see that it stands.";
    end_act();
    homed_ = {};
    return;
  }
  if (!was_up && is_up) read_settings();
  if (!is_up) return;
  for (const Heard& heard : talk_.take_heard()) hear(heard);
  if (last_reading_ != 0 && talk_.quiet()) {
    last_reading_ = 0;
    settings_told();
  }
  adopt_hands();
  do_what_a_block_does();
  look_for_lost_answers();
  go_on_with_act();
  hands_.follow(position_, homed_);
}

void LineLink::hear(const Heard& heard) {
  switch (heard.kind) {
    case Heard::Kind::report:
      return hear_report(heard.groups);
    case Heard::Kind::accepted:
      return hear_accepted(heard.id);
    case Heard::Kind::refused:
      return hear_refused(heard);
    case Heard::Kind::answer:
      return hear_answer(heard);
    case Heard::Kind::probe:
      return hear_probe(heard.groups);
    case Heard::Kind::trouble:
      return hear_trouble(heard.text);
    case Heard::Kind::greeting:
      return started_again();
  }
}

void LineLink::hear_accepted(std::uint32_t id) {
  standing_reports_ = 0;
  accepted_any_ = accepted_any_ || id >= act_from_;
  settings_sent_.erase(id);
  if (id == shifts_) shifts_ = 0;
  const auto sent = lines_sent_.find(id);
  if (sent == lines_sent_.end()) return;
  if (act_ == Act::program) spindle_rpm_ = sent->second.spindle_rpm;
  if (const auto& last = sent->second.last; last && !description_.reports()) {
    position_ = last->to;
    while (!way_.empty() && way_.front().tag <= last->tag) way_.pop_front();
    tag_in_hand_ = way_.empty() ? last->tag : way_.front().tag;
  }
  lines_sent_.erase(sent);
}

void LineLink::hear_answer(const Heard& heard) {
  const auto value = number_in(heard.groups, "value");
  if (!value) return;
  // It was set once more since this was asked: the next answer counts.
  if (const auto last = read_back_.find(heard.text); last != read_back_.end() && heard.id < last->second) return;
  const auto& setting = description_.settings.at(heard.text);
  const double half_digit = 0.5 * std::pow(10, -setting.digits);
  // Read back after it was set: what stands there counts.
  if (const double known = known_value(hands_.known(), heard.text);
      settings_known_ && std::fabs(known - *value) > half_digit + 1e-12)
    refusals_.push_back(
        {heard.text, {"refused", fmt::format("The controller has {:g} there and not {:g}.", *value, known), ""}});
  hands_.know(heard.text, *value);
}

void LineLink::hear_refused(const Heard& heard) {
  lines_sent_.erase(heard.id);
  const std::string why =
      fmt::format("The controller refuses it: {}{}", heard.text, heard.text.ends_with('.') ? "" : ".");
  if (const auto sent = settings_sent_.find(heard.id); sent != settings_sent_.end()) {
    hands_.know(sent->second.name, sent->second.before);
    refusals_.push_back({sent->second.name, {"refused", why, ""}});
    settings_sent_.erase(sent);
    // A motion that was asked for after it rests on it.
    if (act_ != Act::none && !accepted_any_) fail_act({"refused", why, ""});
    return;
  }
  if (act_ == Act::none) return;
  const bool probes = probing_ && probing_->id == heard.id;
  if (probes) ++probe_.count;
  const bool limit = act_ == Act::jog && jog_beyond_;
  // What it has taken after it would be cut from where the refused one should have led to.
  const bool halts = act_ == Act::program && talk_.next_id() - talk_.waiting() > heard.id + 1;
  const char* code = probes ? "no_contact" : limit ? "limit" : "refused";
  fail_act({code, act_ == Act::program ? fmt::format("Line {}: {}", last_tag_, why) : why, ""}, halts);
}

/// Where the work's places begin, in the machine frame. In a program: with the frame, G92 and tool length that it is
/// in.
WorkZero LineLink::zero_in_use() const {
  WorkZero zero;
  const ModalState& state = interpreter_.state();
  const int frame = static_cast<int>(known_value(hands_.known(), "work.frame"));
  for (const Axis a : all_axes)
    zero[a] =
        act_ == Act::program ? base_[a] + state.shift[a] : known_value(hands_.known(), work_zero_setting(frame, a));
  return zero;
}

/// To what its steps and its digits make of it.
bool LineLink::stands_at(const MachinePosition& place) const {
  return std::all_of(all_axes.begin(), all_axes.end(),
                     [&](Axis a) { return std::fabs(position_[a] - place[a]) <= there_mm; });
}

/// Where it stands, by the machine's places or by the work's; false where it is not all told.
bool LineLink::place_told(const std::map<std::string, std::string>& groups, MachinePosition& at) const {
  MachinePosition told;
  const WorkZero zero = zero_in_use();
  for (const Axis a : all_axes) {
    const auto machine = number_in(groups, std::string("m") + axis_key(a)),
               work = number_in(groups, std::string("w") + axis_key(a));
    if (!machine && !work) return false;
    told[a] = machine ? *machine : *work + zero[a];
  }
  at = told;
  return true;
}

void LineLink::hear_report(const std::map<std::string, std::string>& groups) {
  ++reports_heard_;
  if (const auto word = groups.find("state"); word != groups.end()) {
    const auto state = description_.states.find(word->second);
    // That it was stopped before is over once it has taken what was asked for since.
    const bool before = act_ != Act::none && !accepted_any_;
    if (state != description_.states.end()) {
      if (!before || state->second != "stopped") told_state_ = state_of_word(state->second);
    } else {
      message_ = fmt::format("The controller says that it is “{}”, and its description does not say what that means.",
                             word->second);
    }
  }
  if (shifts_ == 0 || !description_.tells_work_alone()) place_told(groups, position_);
  if (position_ != stood_at_) {
    stood_at_ = position_;
    stood_since_ = talk_.now_s();
  }
  // Both told: then the zero in use is known.
  for (const Axis a : all_axes)
    if (const auto m = number_in(groups, std::string("m") + axis_key(a)),
        w = number_in(groups, std::string("w") + axis_key(a));
        m && w && act_ == Act::none && talk_.quiet())
      hands_.know(work_zero_setting(static_cast<int>(known_value(hands_.known(), "work.frame")), a), *m - *w);
  if (const auto feed = number_in(groups, "feed")) feed_ = *feed;
  if (const auto rpm = number_in(groups, "spindle")) spindle_rpm_ = *rpm;
  if (const auto told = groups.find("inputs"); told != groups.end() || !description_.inputs.empty()) {
    const std::string words = told == groups.end() ? std::string() : told->second;
    MachineInputs now;
    for (const auto& [word, input] : description_.inputs) {
      bool on = false;
      const auto part_of_word = [&](std::size_t at) {
        return at < words.size() && std::isalnum(static_cast<unsigned char>(words[at])) != 0;
      };
      for (std::size_t at = words.find(word); at != std::string::npos && !on; at = words.find(word, at + 1))
        on = word.size() == 1 || ((at == 0 || !part_of_word(at - 1)) && !part_of_word(at + word.size()));
      if (on) set_input(now, input, true);
    }
    inputs_ = now;
  }
  if (told_state_ == MachineState::not_homed || told_state_ == MachineState::emergency_stop) homed_ = {};
  // Where it has words for both, that it is ready says that it knows where it is.
  const auto has_word = [&](const char* state) {
    return std::any_of(description_.states.begin(), description_.states.end(),
                       [&](const auto& each) { return each.second == state; });
  };
  if (told_state_ == MachineState::ready && act_ == Act::none && !stopped_ && has_word("not_homed")) homed_.fill(true);
  standing_reports_ = stands() ? standing_reports_ + 1 : 0;
  if (act_ == Act::program && shifts_ == 0) find_place_in_program();
}

bool LineLink::stands() const {
  return !description_.reports() || told_state_ == MachineState::ready || told_state_ == MachineState::not_homed ||
         told_state_ == MachineState::stopped || told_state_ == MachineState::emergency_stop;
}

/// The stretch on which it is. Where it is on none, or on one that it cannot have come to so soon, a line was lost, and
/// what follows would be cut in the wrong place.
void LineLink::find_place_in_program() {
  if (way_.empty() || probing_) return;
  std::size_t best = 0;
  OnStretch on = place_on(position_, way_[0].from, way_[0].to);
  on.off = std::max(on.off, way_along_ - on.along);  // nobody goes back on it
  for (std::size_t i = 1; i < way_.size() && on.off > off_way_mm; ++i)
    if (const OnStretch other = place_on(position_, way_[i].from, way_[i].to); other.off < on.off) {
      on = other;
      best = i;
    }
  double skipped = 0;
  for (std::size_t i = 1; i < best; ++i) skipped += length_of(way_[i].from, way_[i].to);
  if (auto why = off_the_way(on.off, skipped)) return fail_act(std::move(*why), true);
  way_along_ = best == 0 ? std::max(way_along_, on.along) : on.along;
  way_.erase(way_.begin(), way_.begin() + static_cast<std::ptrdiff_t>(best));
  tag_in_hand_ = way_.front().tag;
}

std::optional<Error> LineLink::off_the_way(double least, double skipped) {
  const double since = talk_.now_s() - std::exchange(way_seen_at_, talk_.now_s());
  double fastest = 0;
  for (const auto& axis : kinematics_of(hands_.known())) fastest = std::max(fastest, axis.max_rate);
  const bool too_far = skipped > far_off_mm + fastest * (since + late_by_s) * override_;
  off_way_reports_ = least > far_off_mm ? off_way_reports_ + 1 : 0;
  if (!too_far && off_way_reports_ < 2) return std::nullopt;
  return Error{"no_answer",
               fmt::format("The machine is not on the program's way after line {}: a line was lost on its way to the "
                           "controller. It was told to stop. Look at the cable, then go on from there.",
                           tag_in_hand_),
               ""};
}

void LineLink::hear_probe(const std::map<std::string, std::string>& groups) {
  if (!probing_) return;
  const std::string contact = groups.contains("contact") ? groups.at("contact") : std::string();
  probing_->touched = !contact.empty() && contact != "0";
  if (!place_told(groups, probing_->at)) probing_->at = position_;
}

/// It has ended what it did, and forgotten what it had taken.
void LineLink::hear_trouble(const std::string& why) {
  const std::string said = fmt::format("The controller ended it: {}{}", why, why.ends_with('.') ? "" : ".");
  if (act_ == Act::none) {
    message_ = said;
    return;
  }
  talk_.forget_under_way();
  fail_act({probing_ ? "no_contact" : "refused", said, ""});
}

void LineLink::started_again() {
  const bool moved = act_ != Act::none;
  place_is_lost();
  settings_sent_.clear();
  message_ = "The controller started again, and does not know where it is. See to its supply; then home.";
  if (moved) refusal_ = Error{"stopped", message_, ""};
  settings_known_ = true;  // they outlive a power-down; read again all the same
  read_settings();
}

/// What the owner did on a card.
void LineLink::adopt_hands() {
  const bool moves = hands_.moves();
  if (hands_moved_ && !moves) {
    const MachineStatus by_hand = hands_.status();
    if (!description_.reports()) position_ = by_hand.position;
    homed_ = by_hand.homed;
    homing_.count = std::max(homing_.count, by_hand.homing.count);
    refusal_ = by_hand.refusal;
    stopped_ = by_hand.state == MachineState::stopped;
  }
  hands_moved_ = moves;
}

Error LineLink::line_lost() {
  return {"no_answer",
          "The controller stands and has not done all that it was sent: a line was lost on its way. Look at the cable, "
          "then go on from the line where it stands.",
          ""};
}

/// Where it stands, and owes answers: they were lost, or the lines were. Where it stands at the end of all that was
/// sent, the answers were.
void LineLink::look_for_lost_answers() {
  if (act_ == Act::none && !talk_.under_way().empty() && talk_.owed_for_s() > asked_again_after_s) {
    // A setting, or a block that moves nothing: it is asked again when it is looked at.
    for (const Outgoing& each : talk_.under_way())
      if (const auto sent = settings_sent_.find(each.id); sent != settings_sent_.end()) {
        refusals_.push_back({sent->second.name, {"no_answer", "The controller did not answer when it was set.", ""}});
        settings_sent_.erase(sent);
      }
    talk_.forget_under_way();
    return;
  }
  if (act_ == Act::none || talk_.under_way().empty()) return;
  if (!description_.reports()) {
    if (talk_.owed_for_s() <= owed_s_) return;
    talk_.forget_under_way();
    fail_act({"no_answer",
              fmt::format("The controller has owed an answer for {:.0f} s. What it was sent last may not have reached "
                          "it, and nobody knows where it stands: see that it stands, then home.",
                          owed_s_),
              ""});
    homed_ = {};
    return;
  }
  const bool says_it_moves = told_state_ == MachineState::moving || told_state_ == MachineState::cutting;
  if (act_ == Act::jog && says_it_moves && talk_.owed_for_s() > stuck_after_s &&
      talk_.now_s() - stood_since_ > stuck_after_s) {
    // Noise left half a line with it: it says that it is at work, and waits for the rest.
    fail_act(line_lost());
    talk_.utter(description_.acts.abandon.said() ? description_.acts.abandon : description_.acts.stop);
    return talk_.forget_under_way();
  }
  if (held_ || standing_reports_ < enough_reports || talk_.owed_for_s() < lost_after_s) return;
  std::optional<MachinePosition> end;
  for (const Outgoing& each : talk_.under_way())
    if (const auto sent = lines_sent_.find(each.id); sent != lines_sent_.end() && sent->second.last)
      end = sent->second.last->to;
  if (talk_.passed_over() || (end && !stands_at(*end) && act_ != Act::home && !probing_)) {
    talk_.forget_under_way();
    return fail_act(line_lost());
  }
  answers_lost_ += talk_.under_way().size();
  for (const Outgoing& each : talk_.under_way()) lines_sent_.erase(each.id);
  talk_.forget_under_way();
  standing_reports_ = 0;
}

std::vector<Refusal> LineLink::refusals() {
  std::vector<Refusal> all = std::exchange(refusals_, {});
  for (Refusal& each : hands_.refusals()) all.push_back(std::move(each));
  return all;
}

MachineStatus LineLink::status() const {
  MachineStatus now;
  const auto up = opened();
  now.position = position_;
  now.homed = homed_;
  now.work_frame =
      act_ == Act::program ? interpreter_.state().frame : static_cast<int>(known_value(hands_.known(), "work.frame"));
  for (const Axis a : all_axes)
    now.work_zero[a] = act_ == Act::program ? interpreter_.frames().zeros[static_cast<std::size_t>(now.work_frame)][a]
                                            : known_value(hands_.known(), work_zero_setting(now.work_frame, a));
  now.block_in_hand = tag_in_hand_;
  now.feed = feed_;
  now.feed_override = override_;
  now.spindle_rpm = spindle_rpm_;
  now.tool = tool_;
  now.wanted_tool =
      wanted_tool_ == 0 && told_state_ == MachineState::tool_change ? interpreter_.state().tool : wanted_tool_;
  now.tool_offset = act_ == Act::program ? interpreter_.state().tool_offset : 0;
  now.inputs = tells_inputs() ? inputs_ : hands_.status().inputs;
  now.probe = probe_;
  now.homing = homing_;
  now.refusal = refusal_;
  now.message = message_;
  if (!up || !*up) {
    now.state = MachineState::offline;
    if (!up) now.message = up.error().message;
    return now;
  }
  if (hands_.moves()) {
    const MachineStatus by_hand = hands_.status();
    now.state = by_hand.state;
    now.asked = by_hand.asked;
    return now;
  }
  const bool cuts = spindle_rpm_ > 0 || (!way_.empty() && way_.front().cutting);
  now.asked = (act_ == Act::home || act_ == Act::jog) && !accepted_any_;
  if (inputs_.emergency_stop || told_state_ == MachineState::emergency_stop)
    now.state = MachineState::emergency_stop;
  else if (stopped_ || told_state_ == MachineState::stopped)
    now.state = MachineState::stopped;
  else if (act_ == Act::program && (wanted_tool_ != 0 || told_state_ == MachineState::tool_change))
    now.state = MachineState::tool_change;
  else if (told_state_ == MachineState::held || (held_ && (!hold_by_waiting_ || (talk_.quiet() && stands()))))
    now.state = MachineState::held;
  else if (act_ == Act::program)
    now.state = cuts ? MachineState::cutting : MachineState::moving;
  else if (act_ != Act::none)
    now.state = MachineState::moving;
  else if (told_state_ == MachineState::moving || told_state_ == MachineState::cutting)
    now.state = *told_state_;
  else
    now.state = now.all_homed() ? MachineState::ready : MachineState::not_homed;
  return now;
}

}  // namespace ypsi::link
