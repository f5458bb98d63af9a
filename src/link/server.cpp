#include "link/server.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <utility>

namespace ypsi::link {
namespace {

constexpr std::size_t kept_answers = 64;
constexpr double again_at_most_every_s = 0.02;

json answer(const Result<void>& r) {
  return r ? json::object() : json{{"error", to_json(r.error())}};
}

template <class T>
json answer(const Result<T>& r) {
  return r ? json{{"value", *r}} : json{{"error", to_json(r.error())}};
}

json unknown_request(const std::string& what) {
  return {{"error", {{"code", "unknown_request"}, {"message", "This controller does not know “" + what + "”."}}}};
}

double number(const json& in, const char* key) {
  const double value = in.at(key).get<double>();
  if (!(std::fabs(value) <= 1e9)) throw json::other_error::create(503, "out of range", nullptr);
  return value;
}

}  // namespace

void Server::say(const json& object) {
  output_ += up_line(text_of(object));
}

MachineStatus Server::status() const {
  MachineStatus s = behind_.machine->status();
  if (refusal_) s.refusal = refusal_;
  return s;
}

void Server::say_state() {
  const std::size_t before = output_.size();
  told_ = status();
  told_at_ = now_;
  tell_again_ = false;
  say({{"state", to_json(told_)}, {"after", last_request_}});
  if (line_rate_ > 0) state_takes_s_ = static_cast<double>(output_.size() - before) / line_rate_;
}

void Server::say_answer(std::uint32_t number) {
  json out = answers_[number];
  out["answer"] = number;
  say(out);
}

void Server::say_done() {
  done_owed_ = false;
  done_at_ = now_;
  const auto free = static_cast<std::ptrdiff_t>(server_look_ahead) - static_cast<std::ptrdiff_t>(inbox_.size());
  say({{"done", expected_ - 1}, {"credits", std::max<std::ptrdiff_t>(0, free)}});
}

void Server::ask_again() {
  if (asked_again_for_ == expected_ && now_ - asked_again_at_ < again_at_most_every_s) return;
  asked_again_for_ = expected_;
  asked_again_at_ = now_;
  say({{"again", expected_}});
}

void Server::say_hello() {
  say({{"hello", to_json(behind_.identity())}, {"link", version}});
}

void Server::restarted() {
  if (!std::exchange(has_host_, false)) return;
  inbox_.clear();
  answers_.clear();
  expected_ = 0;
  say_hello();
}

/// Whether a host is not taken: it is told why, and whoever is connected does not notice.
bool Server::refuse(const json& hello) {
  const auto say_no = [this](const char* code, const std::string& message) {
    say({{"refused", {{"code", code}, {"message", message}, {"where", ""}}}});
    return true;
  };
  if (hello.at("link") != version)
    return say_no("other_version", fmt::format("This controller speaks version {} of the link.", version));
  const auto told = hello.find("token");
  if (!token_.empty() && (told == hello.end() || *told != token_))
    return say_no("token",
                  "This machine is taken over a network only by whoever knows its token. Read it where the machine was "
                  "started, and type it where you connect.");
  return false;
}

void Server::greet(const json& hello) {
  if (refuse(hello)) return;
  if (has_host_) behind_.host_lost();  // a host that starts anew knows nothing of what runs
  inbox_.clear();
  answers_.clear();
  refusal_.reset();
  expected_ = 1;
  last_request_ = 0;
  host_clock_.reset();
  if (const auto at = hello.find("at"); at != hello.end() && at->is_number()) host_clock_ = now_ - at->get<double>();
  has_host_ = true;
  say_hello();
  say_state();
  say_done();
}

void Server::take_act(Act act) {
  if (!has_host_) return;
  MachineLink& machine = *behind_.machine;
  switch (act) {
    case Act::hold:
      machine.hold();
      break;
    case Act::abandon:
      inbox_.clear();
      machine.abandon();
      break;
    case Act::stop:
      inbox_.clear();
      machine.stop();
      break;
    case Act::end_jog:
      machine.end_jog();
      break;
    case Act::heartbeat:
      return;
  }
  say_state();
  tell_again_ = true;  // with the next poll, when it has begun to act
}

void Server::take_block(const std::string& payload) {
  Waiting block;
  const auto [rest, error] = std::from_chars(payload.data(), payload.data() + payload.size(), block.tag);
  const auto digits = static_cast<std::size_t>(rest - payload.data());
  if (program_refused_) return;
  if (error != std::errc() || digits >= payload.size() || payload[digits] != ':') {
    program_refused_ = true;
    refusal_ = Error{"malformed", "A block came without the number of its line; the program stops before it.", ""};
    return;
  }
  block.block = payload.substr(digits + 1);
  inbox_.push_back(std::move(block));
}

void Server::take(const DownLine& line) {
  const bool request = line.payload.starts_with('{');
  if (line.number == 0) {
    const json in = json::parse(line.payload, nullptr, false);
    if (in.is_object() && in.contains("hello") && in["hello"].is_object() && in["hello"].contains("link"))
      greet(in["hello"]);
    return;
  }
  if (!has_host_) return;
  if (line.number < expected_) {
    // It came before, and the answer was lost.
    done_owed_ = true;
    if (answers_.contains(line.number)) say_answer(line.number);
    return;
  }
  if (line.number > expected_) return ask_again();
  // A host that sends more than its credits has its line forgotten, and is asked again when there is room.
  if (!request && inbox_.size() >= static_cast<std::size_t>(server_look_ahead)) return ask_again();
  ++expected_;
  done_owed_ = true;
  if (!request) return take_block(line.payload);
  answers_[line.number] = do_request(json::parse(line.payload, nullptr, false));
  last_request_ = line.number;
  say_state();
  say_answer(line.number);
  if (answers_.size() > kept_answers) answers_.erase(answers_.begin());
}

/// Whether the sender waits for it no more. The clocks differ by what the quickest line took at least.
bool Server::comes_late(const json& request) {
  const auto at = request.find("at"), within = request.find("within_s");
  if (at == request.end() || !at->is_number() || within == request.end() || !within->is_number()) return false;
  const double behind = now_ - at->get<double>();
  host_clock_ = std::min(host_clock_.value_or(behind), behind);
  return behind - *host_clock_ > within->get<double>();
}

json Server::do_request(const json& in) {
  try {
    if (in.is_object() && comes_late(in))
      return {{"error",
               {{"code", "late"},
                {"message", "This came later than whoever sent it waited for it, so it was not done. Try again."}}}};
    const std::string& what = in.at("do").get_ref<const std::string&>();
    json out = do_machine(what, in);
    if (out.is_null() && behind_.bench) out = do_bench(what, in);
    return out.is_null() ? unknown_request(what) : out;
  } catch (const json::exception&) {
    return {{"error", {{"code", "wrong_type"}, {"message", "The request lacks a value or has one of another kind."}}}};
  }
}

json Server::do_machine(const std::string& what, const json& in) {
  MachineLink& m = *behind_.machine;
  if (what == "get") return answer(m.setting(in.at("name").get_ref<const std::string&>()));
  if (what == "set") return answer(m.set_setting(in.at("name").get_ref<const std::string&>(), number(in, "value")));
  if (what == "settings") return {{"value", m.settings()}};
  if (what == "home") return answer(m.home());
  if (what == "jog")
    return answer(m.jog(axis_from(in.at("axis")), number(in, "distance_mm"), number(in, "rate_mm_min")));
  if (what == "continue") {
    m.go_on();
    return json::object();
  }
  if (what == "begin") {
    const auto begun = m.begin_program();
    if (begun) {
      inbox_.clear();
      refusal_.reset();
      program_refused_ = false;
    }
    return answer(begun);
  }
  if (what == "end") {
    inbox_.push_back({0, {}, true});
    return json::object();
  }
  if (what == "tool_changed") {
    m.tool_changed(whole_from(in.at("tool")));
    return json::object();
  }
  if (what == "override") {
    m.set_feed_override(number(in, "factor"));
    return json::object();
  }
  return nullptr;
}

json Server::do_bench(const std::string& what, const json& in) {
  Bench& b = *behind_.bench;
  const auto word = [&](const char* key) -> const std::string& { return in.at(key).get_ref<const std::string&>(); };
  if (what == "gap") return {{"value", b.gap_seen()}};
  if (what == "stock") {
    const auto seen = b.stock_seen();
    return {{"value", seen ? json{seen->x0, seen->y0, seen->x1, seen->y1} : json()}};
  }
  if (what == "setter") {
    const auto seen = b.setter_seen();
    return {{"value", seen ? json(*seen) : json()}};
  }
  if (what == "tool") return {{"value", b.tool_seen()}};
  if (what == "surroundings") return {{"value", to_json(b.surroundings())}};
  if (what == "read_distance") return answer(b.read_distance(axis_from(in.at("axis")), word("instrument")));
  if (what == "free_way")
    return answer(b.read_free_way(axis_from(in.at("axis")), in.at("plus").get<bool>(), word("instrument")));
  if (what == "read_between") return answer(b.read_between(word("from"), word("to"), word("instrument")));
  if (what == "read_square")
    return answer(b.read_square(number(in, "length_mm"), in.at("turned").get<bool>(), word("instrument")));
  if (what == "read_blade")
    return answer(b.read_blade(axis_from(in.at("axis")), number(in, "height_mm"), in.at("turned").get<bool>(),
                               word("instrument")));
  if (what == "read_sweep")
    return answer(b.read_sweep(number(in, "radius_mm"), number(in, "angle_deg"), word("instrument")));
  if (what == "measure") return answer(b.measure(feature_from(in.at("feature")), word("instrument")));
  if (what == "pointer") return answer(b.pointer_from(word("spotted"), number(in, "power_percent")));
  if (what == "head_from") return answer(b.head_from(word("head"), word("spotted")));
  if (what == "read_strokes")
    return answer(b.read_strokes(stroke_from(in.at("from")), stroke_from(in.at("to")), axis_from(in.at("axis")),
                                 word("instrument")));
  if (what == "read_width") return answer(b.read_width(word("head"), word("instrument")));
  if (what == "read_strips")
    return answer(b.read_strips(word("head"), whole_from(in.at("strips")), word("instrument")));
  if (what == "try_cut")
    return answer(b.try_cut(word("head"), number(in, "level")).map([](const TrialSeen& seen) {
      return std::array{seen.through ? 1 : 0, seen.marked ? 1 : 0};
    }));
  if (what == "read_from_fence") return answer(b.read_from_fence(word("fence"), word("instrument")));
  if (what == "read_groove") return answer(b.read_groove(number(in, "tick"), word("instrument")));
  if (what == "spot") return answer(b.spot(word("name")));
  if (what == "arm") return answer(b.arm(word("point")));
  if (what == "put_tool") return answer(b.put_tool(whole_from(in.at("tool"))));
  if (what == "mark")
    b.mark(axis_from(in.at("axis")));
  else if (what == "clip")
    b.set_clip(in.at("on").get<bool>());
  else if (what == "turn_nose")
    b.turn_nose(number(in, "tick"));
  else if (what == "hold_switch")
    in.value("far", false) ? b.hold_far_switch(axis_from(in.at("axis")), in.at("on").get<bool>())
                           : b.hold_switch(axis_from(in.at("axis")), in.at("on").get<bool>());
  else if (what == "emergency_stop")
    b.press_emergency_stop(in.at("on").get<bool>());
  else if (what == "plate")
    b.lay_plate(plate_place_from(in.at("place")));
  else if (what == "fresh_stock")
    b.lay_fresh_stock();
  else if (what == "adjust_nut")
    b.adjust_nut(axis_from(in.at("axis")));
  else if (what == "clamp")
    b.lay_clamp(number(in, "x_mm"), number(in, "y_mm"));
  else if (what == "clamps_away")
    b.take_clamps_away();
  else if (what == "rail_end")
    b.move_rail_end(in.at("end") == "left" ? RailEnd::left : RailEnd::right, number(in, "distance_mm"));
  else if (what == "speed")
    b.set_speed(number(in, "factor"));
  else
    return nullptr;
  return json::object();
}

void Server::receive(std::string_view bytes) {
  if (!bytes.empty()) silent_for_ = 0;
  for (const auto& item : decoder_.feed(bytes)) {
    if (const auto* act = std::get_if<Act>(&item))
      take_act(*act);
    else if (const auto* line = std::get_if<DownLine>(&item))
      take(*line);
    else if (has_host_)
      ask_again();
  }
  feed();
  if (done_owed_) say_done();
}

void Server::feed() {
  while (!inbox_.empty()) {
    if (inbox_.front().end) {
      behind_.machine->end_program();
      inbox_.pop_front();
      continue;
    }
    const auto sent = behind_.machine->send(inbox_.front().block, inbox_.front().tag);
    if (!sent && sent.error().code == "full") return;
    if (sent) {
      inbox_.pop_front();
      continue;
    }
    // A program never goes on past a block that was refused: what follows it is dropped, and the host is told.
    inbox_.clear();
    if (sent.error().code == "not_running") return;
    program_refused_ = true;
    refusal_ = sent.error();
    say_state();
  }
}

void Server::poll(double now_s) {
  const double passed = std::clamp(now_s - now_, 0.0, longest_gap_counted_s);
  now_ = now_s;
  // A host that greeted before this end had a clock was compared with nothing.
  if (!std::exchange(has_clock_, true)) host_clock_.reset();
  if (!has_host_) return;
  silent_for_ += passed;
  if (silent_for_ > host_silent_after_s) return closed();
  const std::size_t waiting = inbox_.size();
  feed();
  if (inbox_.size() != waiting) say_done();
  const MachineStatus at = status();
  const double since = now_ - told_at_, may_after_s = 3 * state_takes_s_;
  const bool urgent = tell_again_ || at.state != told_.state || at.inputs != told_.inputs;
  if (urgent || (at != told_ && since >= std::max(state_every_s, may_after_s))) say_state();
  if (now_ - told_at_ >= std::max(same_state_every_s, may_after_s)) say_state();
  if (now_ - done_at_ >= alive_every_s) say_done();  // repeats what may have been lost
}

void Server::closed() {
  if (!has_host_) return;
  has_host_ = false;
  inbox_.clear();
  decoder_ = {};
  silent_for_ = 0;
  behind_.host_lost();
}

}  // namespace ypsi::link
