#include "link/describing/part_try.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "link/describing/borrowed_transport.h"
#include "link/known_machine.h"

namespace ypsi::link {
namespace {

constexpr double answers_in_s = 3;  // what is only said
constexpr double move_takes_s = 20, homing_takes_s = 300;
constexpr double comes_to_stand_s = 1.5;  // after a hold or a stop
constexpr double same_place_mm = 0.02, short_of_mm = 0.5, off_by_mm = 0.1;
/// Two words that nobody's controller has, in one block.
constexpr const char* nonsense = "G987 Q987";

bool interrupts(Part part) {
  return part == Part::hold || part == Part::go_on || part == Part::abandon || part == Part::stop;
}

}  // namespace

PartTry::PartTry(Part part, LoggedTransport& line, const ControllerDescription& draft, const HandMemory& known)
    : part_(part),
      line_(line),
      draft_(draft),
      began_s_(line.now_s()),
      until_s_(began_s_ + answers_in_s),
      heard_(line.log().ever()) {
  so_far_.part = part;
  if (!moves_in_try(part))
    say();
  else if (const auto flaw = flaw_of(draft_))
    end(false, flaw->message);
  else
    take_hold(known);
}

void PartTry::take_hold(const HandMemory& known) {
  ControllerDescription working = draft_;
  if (working.greeting.send.empty()) working.greeting.expect.clear();  // it was open before
  HandMemory told = known;
  told.looked_up = true;
  link_ = std::make_unique<LineLink>(std::make_unique<BorrowedTransport>(line_), std::move(working), std::move(told));
  until_s_ = began_s_ + (part_ == Part::home ? homing_takes_s : move_takes_s);
  if (auto begun = link_->begin(); !begun) end(false, begun.error().message);
}

PartTry::~PartTry() {
  give_up();
}

void PartTry::end(bool worked, std::string why) {
  so_far_.worked = worked;
  so_far_.why = std::move(why);
  so_far_.seconds = line_.now_s() - began_s_;
  found_ = so_far_;
}

void PartTry::give_up() {
  if (!link_ || found_) return;
  interrupt();
  end(false, "It was given up.");
}

/// The gentlest end that its line has.
void PartTry::interrupt() {
  const MachineState state = link_->status().state;
  if (state != MachineState::moving && state != MachineState::cutting && state != MachineState::held) return;
  if (draft_.acts.abandon.said())
    link_->abandon();
  else
    link_->stop();
  link_->poll();  // what is said as a block goes now
}

void PartTry::poll() {
  if (found_) return;
  if (link_) {
    link_->poll();
    follow_move();
  } else {
    listen();
  }
  if (found_ || line_.now_s() < until_s_) return;
  if (link_) interrupt();
  end(false);
}

// ----------------------------------------------------------------------------------------- what is said and answered

void PartTry::say() {
  const auto send = [this](const std::string& text) { line_.write(text + draft_.line.ending); };
  switch (part_) {
    case Part::greeting:
      until_s_ = began_s_ + draft_.greeting.within_s;
      if (!draft_.greeting.send.empty()) send(draft_.greeting.send);
      break;
    case Part::taken:
      until_s_ += TryFound::dwell_s;
      send(fmt::format("G4 P{:g}", TryFound::dwell_s));
      break;
    case Part::refused:
      send(nonsense);
      break;
    case Part::place: {
      const Utterance& ask = draft_.report.ask;
      if (!ask.bytes.empty()) line_.write(bytes_of(ask.bytes).value_or(""));
      if (!ask.text.empty() || !ask.block.empty()) send(ask.text.empty() ? ask.block : ask.text);
      break;
    }
    default:
      for (const auto& [name, setting] : draft_.settings)
        if (setting.get.said()) to_ask_.push_back(name);
      std::reverse(to_ask_.begin(), to_ask_.end());
      return ask_for_settings();
  }
  const std::string* const pattern = pattern_for(part_, draft_);
  auto compiled = LinePattern::from(*pattern);
  if (!compiled) return end(false, compiled.error().message);
  pattern_ = std::move(*compiled);
}

void PartTry::ask_for_settings() {
  if (to_ask_.empty()) return end(!so_far_.settings.empty());
  const DescribedSetting& next = draft_.settings.at(to_ask_.back());
  auto compiled = LinePattern::from(next.answer);
  if (!compiled) return end(false, compiled.error().message);
  pattern_ = std::move(*compiled);
  line_.write(next.get.block + draft_.line.ending);
  until_s_ = line_.now_s() + answers_in_s;
}

void PartTry::listen() {
  (void)line_.read();  // into its log
  const auto& lines = line_.log().lines();
  for (std::size_t i = line_.log().first_since(std::exchange(heard_, line_.log().ever())); i < lines.size(); ++i) {
    if (lines[i].from_controller) hear(std::string(lines[i].bytes));
    if (found_) return;
  }
}

void PartTry::hear(const std::string& line) {
  const auto met = pattern_.find(line);
  if (!met) return;
  so_far_.line = line;
  so_far_.groups = met->groups;
  if (part_ != Part::settings) return end(true);
  const std::string& text = met->groups.contains("value") ? met->groups.at("value") : std::string();
  double value = 0;
  const auto [rest, bad] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (bad == std::errc() && rest == text.data() + text.size()) so_far_.settings[to_ask_.back()] = value;
  to_ask_.pop_back();
  ask_for_settings();
}

// ------------------------------------------------------------------------------------------------------- what moves

Result<void> PartTry::run(const std::string& block) {
  if (auto begun = link_->begin_program(); !begun) return begun;
  if (auto sent = link_->send(block, 1); !sent) {
    link_->abandon();
    return sent;
  }
  link_->end_program();
  return {};
}

void PartTry::begin_move() {
  const MachineStatus now = link_->status();
  so_far_.from = now.position;
  probes_before_ = now.probe.count;
  const auto setting = [this](const char* which) {
    return known_value(link_->settings(), axis_setting(Axis::x, which));
  };
  // Away from the nearer end of the travel.
  const double middle = (setting("soft_min_mm") + setting("soft_max_mm")) / 2;
  const double way = now.all_homed() && now.position.x > middle ? -1 : 1;
  const double x = now.position.x - now.work_zero.x, z = now.position.z - now.work_zero.z - now.tool_offset;
  Result<void> begun;
  switch (part_) {
    case Part::home:
      begun = link_->home();
      break;
    case Part::jog:
      begun = link_->jog(Axis::x, way * TryMoves::jog, TryMoves::rate);
      break;
    case Part::end_jog:
      begun = link_->jog(Axis::x, way * TryMoves::interrupted, TryMoves::rate);
      break;
    case Part::probe:
      begun = run(fmt::format("G38.2 Z{:.3f} F{:g}", z - TryMoves::probe, TryMoves::probe_rate));
      break;
    default:
      begun = run(fmt::format("G1 X{:.3f} F{:g}", x + way * TryMoves::interrupted, TryMoves::rate));
  }
  if (!begun) return end(false, begun.error().message);
  phase_ = Phase::moving;
  phase_s_ = line_.now_s();
}

bool PartTry::is_interrupted() const {
  return std::fabs(so_far_.to.x - so_far_.from.x) < TryMoves::interrupted - short_of_mm;
}

void PartTry::follow_move() {
  const auto up = link_->opened();
  if (!up) return end(false, up.error().message);
  if (!*up) return;
  if (phase_ == Phase::opening) {
    if (draft_.reports() && link_->reports_heard() == 0) return;  // where it stands
    return begin_move();
  }
  const MachineStatus now = link_->status();
  const bool moving = now.state == MachineState::moving || now.state == MachineState::cutting || now.asked;
  const double since = line_.now_s() - phase_s_;
  so_far_.to = now.position;
  if (now.refusal && phase_ != Phase::interrupted && part_ != Part::stop) return end(false, now.refusal->message);
  if (phase_ == Phase::moving && (interrupts(part_) || part_ == Part::end_jog)) {
    if (since < TryMoves::interrupted_after_s && moving) return;
    phase_ = Phase::interrupted;
    phase_s_ = line_.now_s();
    if (part_ == Part::end_jog) return link_->end_jog();
    if (part_ == Part::abandon) return link_->abandon();
    if (part_ == Part::stop) return link_->stop();
    return link_->hold();
  }
  if (phase_ == Phase::interrupted) {
    if (since < comes_to_stand_s) {
      stood_at_ = now.position;
      return;
    }
    if (since < comes_to_stand_s + comes_to_stand_s / 2) return;
    const bool stands = std::fabs(now.position.x - stood_at_.x) < same_place_mm;
    so_far_.to = now.position;
    if (part_ != Part::go_on && part_ != Part::hold) return end(stands && is_interrupted());
    so_far_.worked = stands && is_interrupted();
    if (!so_far_.worked) {
      interrupt();
      return end(false);
    }
    stood_at_ = now.position;
    phase_ = Phase::going_on;
    phase_s_ = line_.now_s();
    return link_->go_on();
  }
  if (moving || now.state == MachineState::held) return;
  switch (part_) {
    case Part::home:
      return end(now.all_homed());
    case Part::probe:
      so_far_.to = now.probe.at;
      return end(now.probe.count != probes_before_ && now.probe.contact);
    case Part::jog:
      return end(std::fabs(std::fabs(now.position.x - so_far_.from.x) - TryMoves::jog) < off_by_mm);
    case Part::hold:  // it held; that it goes on is another part
      so_far_.to = stood_at_;
      return end(true);
    default:
      return end(!is_interrupted());
  }
}

}  // namespace ypsi::link
