#include "link/lines/line_talk.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

#include "core/program/text_lines.h"

namespace ypsi::link {
namespace {

constexpr double again_after_s = 0.05;  // where a line was not taken yet
constexpr double silent_for_s = 3;      // and it is taken for gone, where it should report
constexpr int silent_for_reports = 5;

bool is_blank(const std::string& text) {
  return text.find_first_not_of(" \t") == std::string::npos;
}

}  // namespace

std::vector<std::string> lines_of(std::string_view text) {
  std::vector<std::string> lines;
  for (std::size_t at = 0; at < text.size();)
    if (const std::string_view line = take_line(text, at); !line.empty()) lines.emplace_back(line);
  return lines;
}

LineTalk::LineTalk(std::unique_ptr<Transport> transport, const ControllerDescription& description)
    : transport_(std::make_unique<LoggedTransport>(std::move(transport))),
      description_(description),
      greeting_(LinePattern::of(description.greeting.expect)),
      accepted_(LinePattern::of(description.block.accepted)),
      refused_(LinePattern::of(description.block.refused)),
      again_(LinePattern::of(description.block.again)),
      report_(LinePattern::of(description.report.answer)),
      probe_(LinePattern::of(description.probe.answer)),
      trouble_(LinePattern::of(description.trouble)) {}

Result<void> LineTalk::begin() {
  forget_waiting();
  under_way_.clear();
  heard_.clear();
  partial_.clear();
  half_.clear();
  too_long_ = false;
  phase_ = Phase::closed;
  if (auto ok = transport_->open(); !ok) {
    why_ = ok.error().message;
    return ok;
  }
  phase_ = Phase::opening;
  return {};
}

Result<bool> LineTalk::opened() const {
  if (phase_ == Phase::closed) return fail("offline", why_);
  return phase_ == Phase::up;
}

void LineTalk::give_up(std::string why) {
  transport_->close();
  phase_ = Phase::closed;
  why_ = std::move(why);
}

void LineTalk::write_line(const std::string& line) {
  transport_->write(line + description_.line.ending);
}

std::uint32_t LineTalk::queue(std::string line, bool alone, std::vector<std::pair<std::string, LinePattern>> answers) {
  waiting_.push_back({next_id_, std::move(line), alone, std::move(answers)});
  return next_id_++;
}

std::uint32_t LineTalk::utter(const Utterance& utterance, const std::map<std::string, std::string>& places) {
  if (!utterance.bytes.empty()) transport_->write(bytes_of(utterance.bytes).value_or(""));
  if (!utterance.text.empty()) write_line(filled(utterance.text, places));
  if (utterance.block.empty()) return 0;
  waiting_.push_front({next_id_, filled(utterance.block, places), false, {}});
  return next_id_++;
}

double LineTalk::owed_for_s() const {
  return under_way_.empty() ? 0 : now_s() - answered_at_;
}

void LineTalk::poll() {
  if (phase_ == Phase::closed) return;
  if (phase_ == Phase::opening) {
    const auto opened = transport_->opened();
    if (!opened) return give_up(opened.error().message);
    if (!*opened) return;
    if (!description_.greeting.send.empty()) write_line(description_.greeting.send);
    greet_until_ = now_s() + description_.greeting.within_s;
    phase_ = greeting_.none() ? Phase::up : Phase::greeting;
    asked_at_ = reported_at_ = answered_at_ = now_s();
  }
  read();
  if (!transport_->is_open())
    return give_up(fmt::format("The line to {} was cut. See that the controller has power and its cable is in.",
                               transport_->name()));
  if (phase_ == Phase::greeting && now_s() > greet_until_)
    return give_up(
        fmt::format("Nothing at {} greeted as “{}” should within {:g} s. See that it has power, that the "
                    "line's speed is right, and that this is the controller that is described.",
                    transport_->name(), description_.name, description_.greeting.within_s));
  if (phase_ != Phase::up) return;
  if (!report_.none()) {
    const double patience = std::max(silent_for_s, silent_for_reports * description_.report.every_s);
    if (now_s() - reported_at_ > patience)
      return give_up(fmt::format("{} has not told for {:.0f} s where it is. See that it has power and its cable is in.",
                                 description_.name, patience));
    ask_for_report();
  }
  send_what_may_go();
}

void LineTalk::read() {
  for (const char c : transport_->read()) {
    if (c == '\n' || c == '\r') {
      if (too_long_)
        ++strays_;
      else if (!is_blank(partial_))
        hear(partial_);
      partial_.clear();
      too_long_ = false;
    } else if (partial_.size() >= longest_line) {
      too_long_ = true;
    } else if (!too_long_) {
      partial_ += c;
    }
  }
}

/// A report may come in the middle of another line, and what is around it be cut in two.
void LineTalk::hear(const std::string& line) {
  if (auto found = report_.find(line)) {
    reported_at_ = now_s();
    heard_.push_back({Heard::Kind::report, 0, {}, std::move(found->groups)});
    const std::string before = line.substr(0, found->begin), after = line.substr(found->end);
    if (is_blank(before) && is_blank(after)) return;
    if (understand(before + after)) return;
    if (!half_.empty()) ++strays_;
    half_ = before + after;
    return;
  }
  if (!half_.empty()) {
    const std::string first = std::exchange(half_, {});
    if (understand(first + line)) return;
    ++strays_;
  }
  if (!understand(line)) ++strays_;
}

bool LineTalk::understand(const std::string& line) {
  for (const Outgoing& each : under_way_)
    for (const auto& [name, pattern] : each.answers)
      if (auto found = pattern.find(line)) {
        heard_.push_back({Heard::Kind::answer, each.id, name, std::move(found->groups)});
        return true;
      }
  if (auto found = probe_.find(line)) {
    heard_.push_back({Heard::Kind::probe, 0, {}, std::move(found->groups)});
    return true;
  }
  if (auto found = trouble_.find(line)) {
    heard_.push_back({Heard::Kind::trouble, 0, reason(found->groups, line), {}});
    refused_unseen_ = true;
    return true;
  }
  if (again_.find(line)) {
    hear_again();
    return true;
  }
  if (auto found = refused_.find(line)) {
    hear_answer(Heard::Kind::refused, reason(found->groups, line));
    return true;
  }
  if (accepted_.find(line)) {
    hear_answer(Heard::Kind::accepted);
    return true;
  }
  if (greeting_.find(line)) {
    if (phase_ == Phase::greeting) {
      phase_ = Phase::up;
      reported_at_ = now_s();
      may_greet_again_ = !description_.greeting.send.empty();
    } else if (std::exchange(may_greet_again_, false) && now_s() <= greet_until_) {
      return true;
    } else {
      heard_.push_back({Heard::Kind::greeting, 0, line, {}});
      under_way_.clear();
      forget_waiting();
    }
    return true;
  }
  return false;
}

/// Why, in the words of the description where it has some for what the line says.
std::string LineTalk::reason(const std::map<std::string, std::string>& groups, const std::string& line) const {
  const auto why = groups.find("why");
  const std::string said = why == groups.end() ? line : why->second;
  const auto known = description_.block.reasons.find(said);
  return known == description_.block.reasons.end() ? said : known->second;
}

void LineTalk::hear_answer(Heard::Kind kind, std::string why) {
  if (under_way_.empty()) {  // to nothing
    ++strays_;
    return;
  }
  // What was sent behind them was looked at: sent once more they would come in another order.
  for (const Outgoing& each : std::exchange(not_taken_, {})) {
    refused_unseen_ = true;
    heard_.push_back({Heard::Kind::refused, each.id, "it had no room, and took what follows.", {}});
  }
  refused_unseen_ = refused_unseen_ || kind == Heard::Kind::refused;
  heard_.push_back({kind, under_way_.front().id, std::move(why), {}});
  under_way_.pop_front();
  answered_at_ = now_s();
}

/// It had no room for the oldest.
void LineTalk::hear_again() {
  if (under_way_.empty()) {
    ++strays_;
    return;
  }
  if (under_way_.front().id >= forgotten_before_) not_taken_.push_back(std::move(under_way_.front()));
  under_way_.pop_front();
  answered_at_ = now_s();
  if (!under_way_.empty()) return;
  waiting_.insert(waiting_.begin(), std::make_move_iterator(not_taken_.begin()),
                  std::make_move_iterator(not_taken_.end()));
  not_taken_.clear();
  not_before_ = now_s() + again_after_s;
}

void LineTalk::ask_for_report() {
  const Utterance& ask = description_.report.ask;
  if (!ask.said() || now_s() - asked_at_ < description_.report.every_s) return;
  // As a block it takes its turn, and one at a time.
  if (!ask.block.empty() &&
      std::any_of(waiting_.begin(), waiting_.end(), [&](const Outgoing& each) { return each.line == ask.block; }))
    return;
  asked_at_ = now_s();
  utter(ask);
}

bool LineTalk::has_room(const Outgoing& next) const {
  if (!not_taken_.empty()) return false;
  if (under_way_.empty()) return true;
  if (next.alone || under_way_.back().alone) return false;
  if (!description_.block.in_flight_bytes)
    return under_way_.size() < static_cast<std::size_t>(description_.block.in_flight_blocks);
  const auto size = [&](const Outgoing& each) { return each.line.size() + description_.line.ending.size(); };
  const std::size_t used = std::accumulate(under_way_.begin(), under_way_.end(), std::size_t{0},
                                           [&](std::size_t sum, const Outgoing& each) { return sum + size(each); });
  return static_cast<double>(used + size(next)) <= *description_.block.in_flight_bytes;
}

void LineTalk::send_what_may_go() {
  while (!refused_unseen_ && !waiting_.empty() && now_s() >= not_before_ && has_room(waiting_.front())) {
    if (under_way_.empty()) answered_at_ = now_s();
    write_line(waiting_.front().line);
    under_way_.push_back(std::move(waiting_.front()));
    waiting_.pop_front();
  }
}

}  // namespace ypsi::link
