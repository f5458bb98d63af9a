#include "link/wire.h"

#include <fmt/format.h>

#include <algorithm>

namespace ypsi::link {
namespace {

constexpr double greet_again_after_s = 0.3, wait_step_s = 0.02;
constexpr std::size_t most_unacknowledged = 1024, repeated_at_once = 64;

}  // namespace

void Wire::lose(std::string why) {
  up_ = false;
  trouble_ = std::move(why);
  unacknowledged_.clear();
  status_.state = MachineState::offline;
  status_.message = trouble_;
  status_.homed = {};  // nobody knows any more
  status_.feed = 0;
}

void Wire::close() {
  transport_->close();
  lose("Not connected.");
}

Result<void> Wire::open(double within_s) {
  up_ = greeted_ = false;
  decoder_ = {};
  unacknowledged_.clear();
  awaited_.clear();
  refused_.clear();
  if (auto opened = transport_->open(); !opened) {
    lose(opened.error().message);
    return opened;
  }
  json greeting{{"link", version}, {"name", "Ypsilograph"}};
  if (!token_.empty()) greeting["token"] = token_;
  const double start = transport_->now_s();
  double greet_at = start;
  while (!greeted_ && refused_.empty() && transport_->is_open()) {
    const double now = transport_->now_s();
    if (now - start > within_s) break;
    if (now >= greet_at) {
      greeting["at"] = now;
      const std::string hello = down_line(0, text_of({{"hello", greeting}}));
      transport_->write("\n" + hello);  // the line end sets it apart from whatever went before
      greet_at = now + greet_again_after_s;
    }
    transport_->wait(wait_step_s);
    read();
  }
  if (greeted_) {
    up_ = true;
    trouble_.clear();
    silent_for_ = 0;
    polled_at_ = beat_at_ = transport_->now_s();
    next_ = 1;
    done_ = state_after_ = 0;
    status_.refusal.reset();
    return {};
  }
  transport_->close();
  lose(!refused_.empty() ? refused_
       : decoder_.bad_lines() > 0
           ? fmt::format("Something answers at {}, but it is not a controller that speaks this program's link. Choose "
                         "another line, or its speed.",
                         name())
           : fmt::format("Nothing answers at {}. See that the controller has power and that the line is the right one.",
                         name()));
  return fail("offline", trouble_);
}

void Wire::put(std::string_view payload) {
  unacknowledged_.push_back({next_, down_line(next_, payload)});
  ++next_;
  sent_at_ = transport_->now_s();
  transport_->write(unacknowledged_.back().line);
}

void Wire::repeat(std::uint32_t from) {
  std::string lines;
  std::size_t n = 0;
  for (const Sent& s : unacknowledged_)
    if (s.number >= from && n++ < repeated_at_once) lines += s.line;
  sent_at_ = transport_->now_s();
  if (!lines.empty()) transport_->write("\n" + lines);
}

void Wire::take(const json& in) {
  if (const auto state = in.find("state"); state != in.end()) {
    const auto after = static_cast<std::uint32_t>(whole_from(in.at("after")));
    status_ = status_from(*state);
    state_after_ = after;
  }
  if (const auto hello = in.find("hello"); hello != in.end()) {
    const Identity told = identity_from(*hello);
    greeted_ = true;
    identity_ = told;
  } else if (const auto done = in.find("done"); done != in.end()) {
    // Cumulative, so that one that was lost or comes twice changes nothing.
    const auto number = static_cast<std::uint32_t>(whole_from(*done));
    const auto credits = static_cast<std::uint32_t>(std::clamp(whole_from(in.at("credits")), 0, 4096));
    if (number >= next_ || number < done_) return;
    done_ = number;
    may_send_to_ = done_ + credits;
    while (!unacknowledged_.empty() && unacknowledged_.front().number <= done_) {
      unacknowledged_.pop_front();
      sent_at_ = transport_->now_s();
    }
  } else if (const auto again = in.find("again"); again != in.end()) {
    repeat(static_cast<std::uint32_t>(whole_from(*again)));
  } else if (const auto number = in.find("answer"); number != in.end()) {
    if (const auto asked = awaited_.find(static_cast<std::uint32_t>(whole_from(*number))); asked != awaited_.end())
      asked->second.answer = in;
  } else if (const auto refused = in.find("refused"); refused != in.end()) {
    refused_ = error_from(*refused).message;
  }
}

void Wire::read() {
  const std::string bytes = transport_->read();
  if (bytes.empty()) return;
  for (const std::string& text : decoder_.feed(bytes)) {
    silent_for_ = 0;
    const json in = json::parse(text, nullptr, false);
    if (!in.is_object()) continue;
    try {
      take(in);
    } catch (const json::exception&) {
      continue;  // of another shape: passed over, like a line that was garbled
    }
  }
}

void Wire::poll() {
  if (!up_) return;
  read();
  const double now = transport_->now_s();
  silent_for_ += std::clamp(now - polled_at_, 0.0, longest_gap_counted_s);
  polled_at_ = now;
  if (!transport_->is_open())
    return lose(
        fmt::format("The connection to {} was cut. See to the cable and the controller's power, then connect "
                    "again.",
                    name()));
  if (silent_for_ > silent_after_s) {
    transport_->close();
    return lose(
        fmt::format("{} has stopped answering. A controller that loses its host stops the machine by itself; "
                    "look at the machine, then connect again.",
                    name()));
  }
  if (now - beat_at_ >= heartbeat_every_s) {
    beat_at_ = now;
    transport_->write(act_bytes(Act::heartbeat));
  }
  if (!unacknowledged_.empty() && now - sent_at_ > repeat_after_s) repeat(unacknowledged_.front().number);
  // A request that was taken, but whose answer was lost: a line that comes twice is not done twice, only answered.
  for (auto& [number, asked] : awaited_)
    if (!asked.answer && number <= done_ && now - asked.asked_at > repeat_after_s) {
      asked.asked_at = now;
      transport_->write("\n" + asked.line);
    }
}

/// A request that says when it was uttered and how long it holds, by this end's clock.
json Wire::with_deadline(json what, double within_s) const {
  if (!what.is_object()) return what;
  what["at"] = transport_->now_s();
  what["within_s"] = within_s;
  return what;
}

Result<json> Wire::request(const json& what) {
  const std::uint32_t asked = ask(with_deadline(what, request_holds_s));
  const double start = transport_->now_s();
  std::optional<json> answer;
  for (;;) {
    poll();
    if (!answer) answer = answer_to(asked);
    // Not before the state that it led to has come as well: who has the answer must not go by an older one.
    if (answer && state_after_ >= asked) break;
    if (!up_) return fail("offline", trouble_);
    if (transport_->now_s() - start > answer_within_s) {
      awaited_.erase(asked);
      return fail("offline", fmt::format("{} did not answer in time. Look at the machine, then try again.", name()));
    }
    transport_->wait(wait_step_s);
  }
  if (const auto error = answer->find("error"); error != answer->end()) {
    try {
      return tl::make_unexpected(error_from(*error));
    } catch (const json::exception&) {
      return fail("refused", "The controller refused without a reason that can be read.");
    }
  }
  return answer->value("value", json());
}

std::uint32_t Wire::ask(const json& what) {
  if (!up_) return 0;
  put(text_of(what));
  const std::uint32_t number = next_ - 1;
  awaited_[number] = {unacknowledged_.back().line, sent_at_, std::nullopt};
  return number;
}

std::optional<json> Wire::answer_to(std::uint32_t asked) {
  const auto found = awaited_.find(asked);
  if (found == awaited_.end() || !found->second.answer) return std::nullopt;
  std::optional<json> answer = std::move(found->second.answer);
  awaited_.erase(found);
  return answer;
}

void Wire::post(const json& what, double within_s) {
  if (up_) put(text_of(within_s > 0 ? with_deadline(what, within_s) : what));
}

int Wire::room() const {
  if (!up_ || unacknowledged_.size() >= most_unacknowledged || next_ > may_send_to_) return 0;
  return static_cast<int>(std::min<std::uint32_t>(may_send_to_ - next_ + 1, 4096));
}

void Wire::send_block(std::string_view block, std::uint32_t tag) {
  put(fmt::format("{}:{}", tag, block));
}

void Wire::act(Act act) {
  if (!up_) return;
  transport_->write(act_bytes(act));
  poll();
}

}  // namespace ypsi::link
