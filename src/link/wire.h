#pragma once
// The host's end of the link: numbered lines that arrive once and in order whatever the transport does to them,
// requests with answers, acts at once, and the state as last told. docs/link.md.
#include <deque>
#include <map>
#include <memory>
#include <optional>

#include "link/frame.h"
#include "link/messages.h"
#include "link/transport.h"

namespace ypsi::link {

inline constexpr double heartbeat_every_s = 0.25;
inline constexpr double repeat_after_s = 0.2;   ///< a line that was not acknowledged is sent again
inline constexpr double silent_after_s = 1.0;   ///< nothing from the controller: taken for lost
inline constexpr double wait_step_s = 0.02;     ///< for whoever waits for what comes
inline constexpr double answer_within_s = 0.7;  ///< a request that has no answer by then has failed,
inline constexpr double request_holds_s = 0.5;  ///< and the controller does it no more, even if the answer takes longer
inline constexpr double continue_within_s = 0.5;  ///< a wish to go on that comes later is none

class Wire {
 public:
  explicit Wire(std::unique_ptr<Transport> transport) : transport_(std::move(transport)) {}

  void set_token(std::string token) { token_ = std::move(token); }
  /// Begins to open the transport and to shake hands, anew where it is up; poll() goes on with it. `within_s`: for the
  /// hands, once the transport is open. Error: `offline` with why.
  Result<void> begin(double within_s = 2);
  /// True once hands were shaken, false while they may be yet. Error: `offline` with why they were not.
  Result<bool> opened() const;
  /// Until something comes, or a moment has passed: for whoever waits.
  void wait_a_moment() { transport_->wait(wait_step_s); }
  /// Closes it, for a reason that trouble() gives.
  void give_up(std::string why);
  bool up() const { return up_; }
  /// Why it is not up, in a sentence; empty when it is.
  const std::string& trouble() const { return trouble_; }
  const Identity& identity() const { return identity_; }
  /// Counts handshakes: a controller that was started again is greeted anew by itself.
  std::uint32_t greetings() const { return greetings_; }
  double now_s() const { return transport_->now_s(); }
  std::string name() const { return transport_->name(); }

  /// Reads what has come, repeats what was lost, keeps the heart beating, greets who was started again. Call it often.
  void poll();
  /// Sends without waiting; an error in the answer is dropped. `within_s` above 0: void when it comes later.
  void post(const json& what, double within_s = 0);
  /// Sends without waiting and keeps the answer for `answer_to`; 0 while it is not up. `uttered_at` of now_s().
  std::uint32_t ask(const json& what) { return ask(what, transport_->now_s()); }
  std::uint32_t ask(const json& what, double uttered_at);
  /// The answer's "value", null where it has none, once it and the state that it led to have come; then it is forgotten
  /// here. Errors: the controller's; `offline` where it did not come in time.
  std::optional<Result<json>> answer_to(std::uint32_t asked);
  bool awaits(std::uint32_t asked) const { return awaited_.contains(asked); }
  int room() const;  ///< blocks that may be sent now
  /// Precondition: room() > 0.
  void send_block(std::string_view block, std::uint32_t tag);
  void act(Act act);

  /// As last told; `offline` while it is not up, the rest then as it was before.
  const MachineStatus& status() const { return status_; }
  std::size_t bad_lines() const { return decoder_.bad_lines(); }

 private:
  struct Sent {
    std::uint32_t number = 0;
    std::string line;
  };
  struct Asked {
    std::string line;
    double asked_at = 0;  ///< by now_s()
    double sent_at = 0;   ///< the same, or sent again
    std::optional<json> answer;
  };
  void put(std::string_view payload);
  json with_deadline(json what, double uttered_at, double within_s) const;
  void start_greeting();
  void greet();
  void keep_greeting();
  std::string why_no_greeting() const;
  void greeted();
  void read();
  void take(const json& in);
  void repeat(std::uint32_t from);
  void lose(std::string why);

  std::unique_ptr<Transport> transport_;
  UpDecoder decoder_;
  Identity identity_;
  MachineStatus status_;
  std::deque<Sent> unacknowledged_;
  std::map<std::uint32_t, Asked> awaited_;  ///< by number
  std::uint32_t next_ = 1, done_ = 0, may_send_to_ = 0, state_after_ = 0;
  bool up_ = false, greeting_ = false;
  bool carried_ = false, greeted_before_ = false;  ///< since begin(): the transport is open; hands were shaken once
  std::uint32_t greetings_ = 0;
  std::string trouble_ = "Not connected.", refused_, token_;
  double polled_at_ = 0, silent_for_ = 0, beat_at_ = 0, sent_at_ = 0, greet_at_ = 0, greeting_since_ = 0,
         greet_within_s_ = 0;
};

}  // namespace ypsi::link
