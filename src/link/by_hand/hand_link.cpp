#include "link/by_hand/hand_link.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <iterator>
#include <utility>

#include "link/known_machine.h"
#include "link/setting_range.h"

namespace ypsi::link {
namespace {

using Kind = HandCard::Kind;

constexpr double widest_mm = 1e5;
constexpr int blocks_at_once = 2000;  // between two looks at the status, so that a window goes on
constexpr double rounding_mm = 1e-3;  // of what is written on a card

bool is_motion(Kind kind) {
  return kind != Kind::settings && kind != Kind::look_up;
}

double as_written(double mm) {
  return std::round(mm / rounding_mm) * rounding_mm;
}

}  // namespace

Result<void> HandLink::sensible(const std::optional<MachinePosition>& at) {
  if (!at) return {};
  for (const Axis axis : all_axes)
    if (const double mm = (*at)[axis]; !std::isfinite(mm) || std::fabs(mm) > widest_mm)
      return fail("out_of_range", fmt::format("{} cannot stand there; read its screen again.", letter(axis)), "at");
  return {};
}

HandLink::HandLink(HandMemory memory)
    : settings_(std::move(memory.settings)),
      position_(memory.position),
      homed_(memory.homed),
      looked_up_(memory.looked_up),
      tool_(memory.tool) {
  homing_.tells_shift = false;
  for (const SettingChange& each : memory.owed) settings_[each.name] = each.value;
  if (!memory.owed.empty()) add_settings(std::move(memory.owed));
  if (memory.broken_off) add(Kind::whereabouts);
}

HandMemory HandLink::memory() const {
  HandMemory kept{settings_, {}, looked_up_, position_, homed_, tool_, moves()};
  for (const HandCard& card : cards_) {
    if (card.kind != Kind::settings) continue;
    for (const SettingChange& each : card.settings) {
      kept.settings[each.name] = each.before;
      kept.owed.push_back(each);
    }
  }
  return kept;
}

HandCard& HandLink::add(Kind kind) {
  ++changes_;
  HandCard& card = cards_.emplace_back();
  card.number = next_number_++;
  card.kind = kind;
  card.from = card.to = position_;
  card.homed = homed_[0] && homed_[1] && homed_[2];
  return card;
}

void HandLink::add_settings(std::vector<SettingChange> settings) {
  HandCard& card = add(Kind::settings);
  card.block = block_of_settings(settings);
  card.settings = std::move(settings);
}

bool HandLink::moves() const {
  return std::any_of(cards_.begin(), cards_.end(), [](const HandCard& card) { return is_motion(card.kind); });
}

double HandLink::value_of(std::string_view name) const {
  return known_value(settings_, name);
}

void HandLink::know(const std::string& name, double value) {
  if (const auto known = settings_.find(name); known != settings_.end() && known->second == value) return;
  ++changes_;
  settings_[name] = value;
}

void HandLink::follow(const MachinePosition& position, const std::array<bool, axis_count>& homed) {
  if (moves()) return;
  position_ = position;
  homed_ = homed;
}

MachineStatus HandLink::status() const {
  sent_since_status_ = 0;
  MachineStatus now;
  const HandCard* motion = nullptr;
  for (const HandCard& card : cards_)
    if (is_motion(card.kind)) motion = &card;
  now.position = position_;
  now.homed = homed_;
  now.state = inputs_.emergency_stop      ? MachineState::emergency_stop
              : stopped_                  ? MachineState::stopped
              : motion && motion->held    ? MachineState::held
              : motion && motion->started ? MachineState::cutting
              : motion || program_        ? MachineState::moving
              : now.all_homed()           ? MachineState::ready
                                          : MachineState::not_homed;
  now.asked = motion && !motion->started;
  now.work_frame = static_cast<int>(value_of("work.frame"));
  for (const Axis axis : all_axes) now.work_zero[axis] = value_of(work_zero_setting(now.work_frame, axis));
  now.block_in_hand = block_in_hand_;
  now.spindle_rpm = spindle_rpm_;
  now.tool = tool_;
  now.tool_offset = tool_offset_;
  now.inputs = inputs_;
  now.probe = probe_;
  now.homing = homing_;
  now.refusal = refusal_;
  now.message = inputs_.emergency_stop ? "The emergency stop is pressed." : message_;
  return now;
}

void HandLink::show_inputs(const MachineInputs& inputs) {
  if (inputs.emergency_stop && !inputs_.emergency_stop) {
    ++changes_;
    drop_motions();
    set_homed(false);
    message_ = "The emergency stop was pressed, and motors that are stopped at speed can lose their place.";
  }
  inputs_ = inputs;
}

Result<void> HandLink::stands_at(const MachinePosition& at) {
  if (auto ok = free_for("answer it, and say there where it stands"); !ok) return ok;
  if (auto ok = sensible(at); !ok) return ok;
  ++changes_;
  position_ = at;
  stopped_ = false;
  message_.clear();
  return {};
}

void HandLink::ask_what_it_has(const std::set<std::string>& told_otherwise) {
  if (looked_up_ || std::any_of(cards_.begin(), cards_.end(), [](const auto& c) { return c.kind == Kind::look_up; }))
    return;
  HandCard card;
  card.number = next_number_++;
  card.kind = Kind::look_up;
  for (const char* what : {"steps_per_mm", "home_coordinate_mm", "soft_min_mm", "soft_max_mm", "pull_off_mm"})
    for (const Axis axis : all_axes) {
      const std::string name = axis_setting(axis, what);
      if (settings_.contains(name) && !told_otherwise.contains(name))
        card.settings.push_back({name, settings_[name], settings_[name]});
    }
  // Where the program's zero is there decides where everything goes.
  for (const Axis axis : all_axes) {
    const std::string name = work_zero_setting(static_cast<int>(value_of("work.frame")), axis);
    if (!told_otherwise.contains(name)) card.settings.push_back({name, settings_[name], settings_[name]});
  }
  if (card.settings.empty()) {
    looked_up_ = true;
    return;
  }
  cards_.push_front(std::move(card));
}

// ---------------------------------------------------------------------------------------------------- what is asked

Result<double> HandLink::setting(std::string_view name) const {
  const auto found = settings_.find(std::string(name));
  if (found != settings_.end()) return found->second;
  return fail("unknown_setting", fmt::format("Nobody has said what “{}” is at this machine.", name));
}

Result<void> HandLink::set_setting(std::string_view name, double value) {
  const std::string key(name);
  if (!settings_.contains(key) && !tool_of_setting(name)) return tl::make_unexpected(setting(name).error());
  if (auto ok = free_for("what is set is set after it"); !ok) return ok;
  if (auto ok = holds_in_range(name, value); !ok) return ok;
  const double now = value_of(name);
  if (now == value) return {};
  ++changes_;
  settings_[key] = value;
  if (const auto axis = forgets_place_of(name)) homed_[index(*axis)] = false;
  if (cards_.empty() || cards_.back().kind != Kind::settings) add(Kind::settings);
  HandCard& card = cards_.back();
  card.number = next_number_++;  // it is another one now
  const auto same = std::find_if(card.settings.begin(), card.settings.end(),
                                 [&](const SettingChange& each) { return each.name == key; });
  if (same == card.settings.end())
    card.settings.push_back({key, now, value});
  else if (same->before == value)
    card.settings.erase(same);
  else
    same->value = value;
  card.block = block_of_settings(card.settings);
  if (card.settings.empty()) cards_.pop_back();
  return {};
}

Result<void> HandLink::free_for(const char* then) const {
  if (!moves() && !program_) return {};
  return fail("busy", fmt::format("A card at the machine is not answered yet; {}.", then));
}

Result<void> HandLink::may_start(const char* then) const {
  if (auto ok = free_for(then); !ok) return ok;
  if (inputs_.emergency_stop) return fail("stopped", "The emergency stop is pressed; release it, then home.");
  return {};
}

/// What was said of the motion before is over.
void HandLink::start_afresh() {
  refusal_.reset();
  message_.clear();
  stopped_ = false;
}

Result<void> HandLink::home() {
  if (auto ok = may_start("home when it is"); !ok) return ok;
  start_afresh();
  set_homed(false);
  HandCard& card = add(Kind::home);
  for (const Axis axis : all_axes) card.to[axis] = value_of(axis_setting(axis, "home_coordinate_mm"));
  return {};
}

Result<void> HandLink::jog(Axis axis, double distance, double rate) {
  if (auto ok = may_start("it moves when it is"); !ok) return ok;
  if (!std::isfinite(distance) || !(rate > 0) || !std::isfinite(rate))
    return fail("out_of_range", "A move needs a distance and a rate above zero.");
  const bool homed = homed_[index(axis)];
  const double to = position_[axis] + distance;
  if (auto ok = may_jog(settings_, axis, homed, position_[axis], distance, safely_beyond_mm); !ok) return ok;
  start_afresh();
  HandCard& card = add(Kind::move);
  card.axis = axis;
  card.homed = homed;
  card.rate = homed ? rate : std::min(rate, unhomed_rate_mm_min);
  card.to[axis] = homed ? as_written(to) : position_[axis] + as_written(distance);
  card.beyond = homed && beyond_limits(settings_, axis, to) > rounding_mm;
  card.block = block_of_move(axis, card.from[axis], card.to[axis], card.rate, homed);
  return {};
}

Result<void> HandLink::begin_program() {
  if (auto ok = may_start("start when it is"); !ok) return ok;
  if (!status().all_homed())
    return fail("not_homed", "The machine does not know where it is; home it before a program runs.");
  Frames frames = frames_of(settings_, own_blocks_);
  base_ = frames.zeros[0];
  interpreter_ = Interpreter(to_work(position_, base_), std::move(frames), static_cast<int>(value_of("work.frame")));
  interpreter_.state().tool = tool_;
  program_ = true;
  all_sent_ = false;
  probes_at_start_ = probe_.count;
  section_.clear();
  section_first_ = block_in_hand_ = 0;
  start_afresh();
  return {};
}

Result<void> HandLink::send(std::string_view block, std::uint32_t tag) {
  if (!program_) return fail("not_running", "No program is running; start it first.");
  if (moves() || ++sent_since_status_ > blocks_at_once)
    return fail("full", "What was sent before is still to be carried; send the block again in a moment.");
  Program read;
  const ModalState before = interpreter_.state();
  if (auto ok = interpreter_.line(block, tag, read); !ok) return ok;
  if (auto ok = stays_inside(settings_, read, base_, tag); !ok) {
    interpreter_.state() = before;
    return ok;
  }
  if (section_.empty()) {
    section_first_ = tag;
    // After a touch the program goes on as it was, whatever was typed there in between.
    if (probe_.count != probes_at_start_)
      section_ = fmt::format("G21 {}{}\n{}", before.incremental ? "G91" : "G90",
                             before.feed > 0 ? fmt::format(" F{:g}", before.feed) : "", before.inches ? "G20\n" : "");
  }
  section_last_ = tag;
  (section_ += block) += '\n';
  for (const Event& event : read.events)
    if (event.kind == EventKind::probe) {
      close_section();
      cards_.back().touches = true;
    }
  return {};
}

/// What has been sent so far goes onto a card.
void HandLink::close_section() {
  HandCard& card = add(Kind::program);
  card.block = std::exchange(section_, {});
  card.block.pop_back();
  // The frame is said where that changes no line's number, since another may have been left chosen there.
  const std::string_view first = std::string_view(card.block).substr(0, card.block.find('\n'));
  if (first.starts_with('G') && first.find("G5") == std::string_view::npos)
    card.block.insert(0, frame_name(static_cast<int>(value_of("work.frame"))) + " ");
  card.first_line = section_first_;
  card.lines = section_last_ - section_first_ + 1;
  card.to = to_machine(interpreter_.state().at, base_);
}

void HandLink::end_program() {
  if (!program_) return;
  all_sent_ = true;
  if (!section_.empty())
    close_section();
  else if (!moves())
    program_ = false;
}

void HandLink::tool_changed(int tool) {
  ++changes_;
  tool_ = tool;
}

// ------------------------------------------------------------------------------------------------------ ended

/// Nothing moves any more, or ever did.
void HandLink::drop_motions() {
  std::erase_if(cards_, [](const HandCard& card) { return is_motion(card.kind); });
  program_ = false;
}

/// Nobody knows how far it has come by now.
void HandLink::break_off() {
  ++changes_;
  program_ = false;
  section_.clear();
  if (!moves()) return;
  const bool shown = is_motion(cards_.front().kind), asked_already = cards_.front().kind == Kind::whereabouts;
  if (asked_already) return;
  const HandCard broken = cards_.back();
  drop_motions();
  if (!shown) return;  // it was never asked for
  HandCard& card = add(Kind::whereabouts);
  card.from = broken.from;
  card.to = broken.to;
}

void HandLink::stop() {
  ++changes_;
  drop_motions();
  stopped_ = true;
  set_homed(false);
  message_ = "Stopped at once. Motors that are stopped at speed can lose their place: home before anything else.";
}

void HandLink::was_switched_off() {
  ++changes_;
  drop_motions();
  set_homed(false);
  message_ = "It does not know where it is any more; home it.";
}

void HandLink::hold() {
  if (!cards_.empty() && cards_.front().kind == Kind::program && cards_.front().started)
    cards_.front().hold_wanted = !cards_.front().held;
  else
    break_off();
}

void HandLink::abandon() {
  break_off();
}

}  // namespace ypsi::link
