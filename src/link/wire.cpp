#include "link/wire.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

namespace ypsi::link {
namespace {

constexpr double greet_again_after_s = 0.3;
constexpr std::size_t most_unacknowledged = 1024, repeated_at_once = 64;

}  // namespace

void Wire::lose(std::string why) {
  up_ = false;
  trouble_ = std::move(why);
  unacknowledged_.clear();
  awaited_.clear();
  status_.state = MachineState::offline;
  status_.message = trouble_;
  status_.homed = {};  // nobody knows any more
  status_.feed = 0;
}

void Wire::give_up(std::string why) {
  greeting_ = false;
  transport_->close();
  lose(std::move(why));
}

void Wire::start_greeting() {
  up_ = false;
  greeting_ = true;
  unacknowledged_.clear();
  awaited_.clear();
  refused_.clear();
  greeting_since_ = greet_at_ = transport_->now_s();
}

/// The hello, again and again until it is answered.
void Wire::greet() {
  const double now = transport_->now_s();
  if (now < greet_at_) return;
  greet_at_ = now + greet_again_after_s;
  json greeting{{"link", version}, {"name", "Ypsilograph"}, {"at", now}};
  if (!token_.empty()) greeting["token"] = token_;
  // The line end sets it apart from whatever went before.
  transport_->write("\n" + down_line(0, text_of({{"hello", greeting}})));
}

Result<void> Wire::begin(double within_s) {
  decoder_ = {};
  carried_ = greeted_before_ = false;
  greet_within_s_ = within_s;
  lose(fmt::format("Connecting to {}.", name()));
  start_greeting();
  auto begun = transport_->open();
  if (!begun) give_up(begun.error().message);
  return begun;
}

Result<bool> Wire::opened() const {
  if (up_ || greeting_) return up_;
  return fail("offline", trouble_);
}

/// From the opening of the transport until hands are shaken, or it is given up.
void Wire::keep_greeting() {
  if (!carried_) {
    const auto opened = transport_->opened();
    if (!opened) return give_up(opened.error().message);
    carried_ = *opened;
    greeting_since_ = greet_at_ = transport_->now_s();
    if (!carried_) return;
  }
  read();
  if (!greeting_) return;
  const double within_s = greeted_before_ ? silent_after_s : greet_within_s_;
  if (refused_.empty() && transport_->is_open() && transport_->now_s() - greeting_since_ <= within_s) return greet();
  give_up(why_no_greeting());
}

std::string Wire::why_no_greeting() const {
  if (!refused_.empty()) return refused_;
  if (greeted_before_)
    return fmt::format("{} was started again and has not answered since. Look at it, then connect again.", name());
  if (decoder_.bad_lines() > 0)
    return fmt::format(
        "Something answers at {}, but it is not a controller that speaks this program's link. Choose "
        "another line, or its speed.",
        name());
  return fmt::format("Nothing answers at {}. See that the controller has power and that the line is the right one.",
                     name());
}

/// Whoever was greeted has answered: everything is counted from here.
void Wire::greeted() {
  greeting_ = false;
  up_ = greeted_before_ = true;
  ++greetings_;
  trouble_.clear();
  silent_for_ = 0;
  polled_at_ = beat_at_ = transport_->now_s();
  next_ = 1;
  done_ = state_after_ = 0;
  status_.refusal.reset();
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
    const bool same = std::exchange(identity_, told).boot == told.boot;
    if (greeting_) return greeted();
    if (same || !up_) return;
    // It was started again and knows nothing of what was said before.
    lose("The controller was started again.");
    start_greeting();
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
  if (greeting_) return keep_greeting();
  if (!up_) return;
  read();
  if (greeting_) return greet();  // it was started again
  const double now = transport_->now_s();
  silent_for_ += std::clamp(now - polled_at_, 0.0, longest_gap_counted_s);
  polled_at_ = now;
  if (!transport_->is_open())
    return lose(
        fmt::format("The connection to {} was cut. See to the cable and the controller's power, then connect "
                    "again.",
                    name()));
  if (silent_for_ > silent_after_s)
    return give_up(
        fmt::format("{} has stopped answering. A controller that loses its host stops the machine by itself; "
                    "look at the machine, then connect again.",
                    name()));
  if (now - beat_at_ >= heartbeat_every_s) {
    beat_at_ = now;
    transport_->write(act_bytes(Act::heartbeat));
  }
  if (!unacknowledged_.empty() && now - sent_at_ > repeat_after_s) repeat(unacknowledged_.front().number);
  // A request that was taken, but whose answer was lost: a line that comes twice is not done twice, only answered.
  for (auto& [number, asked] : awaited_)
    if (!asked.answer && number <= done_ && now - asked.sent_at > repeat_after_s) {
      asked.sent_at = now;
      transport_->write("\n" + asked.line);
    }
}

/// A request that says when it was uttered and how long it holds, by this end's clock.
json Wire::with_deadline(json what, double uttered_at, double within_s) const {
  if (!what.is_object()) return what;
  what["at"] = uttered_at;
  what["within_s"] = within_s;
  return what;
}

std::uint32_t Wire::ask(const json& what, double uttered_at) {
  if (!up_) return 0;
  put(text_of(with_deadline(what, uttered_at, request_holds_s)));
  const std::uint32_t number = next_ - 1;
  awaited_[number] = {unacknowledged_.back().line, sent_at_, sent_at_, std::nullopt};
  return number;
}

std::optional<Result<json>> Wire::answer_to(std::uint32_t asked) {
  const auto found = awaited_.find(asked);
  if (found == awaited_.end())
    return Result<json>(fail("offline", up_ ? "The machine was connected anew meanwhile." : trouble_));
  // Not before the state that it led to has come as well: who has the answer must not go by an older one.
  if (!found->second.answer || state_after_ < asked) {
    if (transport_->now_s() - found->second.asked_at <= answer_within_s) return std::nullopt;
    awaited_.erase(found);
    return Result<json>(
        fail("offline", fmt::format("{} did not answer in time. Look at the machine, then try again.", name())));
  }
  const json answer = std::move(*found->second.answer);
  awaited_.erase(found);
  const auto error = answer.find("error");
  if (error == answer.end()) return Result<json>(answer.value("value", json()));
  try {
    return Result<json>(tl::make_unexpected(error_from(*error)));
  } catch (const json::exception&) {
    return Result<json>(fail("refused", "The controller refused without a reason that can be read."));
  }
}

void Wire::post(const json& what, double within_s) {
  if (up_) put(text_of(within_s > 0 ? with_deadline(what, transport_->now_s(), within_s) : what));
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
