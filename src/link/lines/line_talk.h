#pragma once
// The talk with a controller that answers every line: what waits, what is under way and not answered, what came back.
// It knows nothing of machines. Bytes that are no line, and lines that nobody described, do no harm.
#include <cstdint>
#include <deque>
#include <memory>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "link/lines/controller_description.h"
#include "link/lines/line_log.h"

namespace ypsi::link {

/// A line that is to be answered.
struct Outgoing {
  std::uint32_t id = 0;
  std::string line;    ///< without its end
  bool alone = false;  ///< nothing is under way beside it
  /// What may come before its answer, and what that is called: heard as an answer.
  std::vector<std::pair<std::string, LinePattern>> answers;
};

/// What was heard.
struct Heard {
  enum class Kind {
    accepted,
    refused,  ///< `text` says why
    answer,   ///< to the line `id`; `text`: what it is called
    report,
    probe,
    trouble,  ///< it has ended what it did; `text` says why
    greeting  ///< not asked for: it has started again
  };
  Kind kind{};
  std::uint32_t id = 0;
  std::string text;
  std::map<std::string, std::string> groups;
};

/// The lines of a text, without ends and without empty ones.
std::vector<std::string> lines_of(std::string_view text);

class LineTalk {
 public:
  static constexpr std::size_t longest_line = 4096;  ///< bytes; what is longer is passed over

  LineTalk(std::unique_ptr<Transport> transport, const ControllerDescription& description);

  /// Opens the line, and forgets what was said on it before. Error: `offline` with why.
  Result<void> begin();
  /// True once it has greeted as described, false while it may yet. Error: `offline` with why not.
  Result<bool> opened() const;
  /// Reads, asks for a report where it is time, sends what may go. Call it often.
  void poll();

  /// Sent in its turn. The number counts up.
  std::uint32_t queue(std::string line, bool alone = false,
                      std::vector<std::pair<std::string, LinePattern>> answers = {});
  /// In front of everything that waits. A block among them is answered, and its number is given; else 0.
  std::uint32_t utter(const Utterance& utterance, const std::map<std::string, std::string>& places = {});
  /// After a refusal nothing is sent before it was looked at here: what follows may rest on what was refused.
  std::vector<Heard> take_heard() {
    refused_unseen_ = false;
    return std::exchange(heard_, {});
  }

  std::uint32_t next_id() const { return next_id_; }  ///< of the line that is queued next
  std::size_t waiting() const { return waiting_.size() + not_taken_.size(); }
  bool quiet() const { return waiting() == 0 && under_way_.empty(); }
  const std::deque<Outgoing>& under_way() const { return under_way_; }
  /// Since when the line has owed the same answer, s; 0 where it owes none.
  double owed_for_s() const;
  void wait(double seconds) { transport_->wait(seconds); }  ///< for something to hear, so long at most
  double now_s() const { return transport_->now_s(); }
  /// Neither is what is under way sent once more where it had no room.
  void forget_waiting() {
    waiting_.clear();
    not_taken_.clear();
    forgotten_before_ = next_id_;
  }
  /// No answer to these will come.
  void forget_under_way() {
    under_way_.clear();
    not_taken_.clear();
  }
  /// Something had no room, and what was sent behind it is not answered yet.
  bool passed_over() const { return !not_taken_.empty(); }
  const Transport& transport() const { return *transport_; }
  const LineLog& log() const { return transport_->log(); }
  std::size_t bad_lines() const { return strays_; }  ///< lines that nobody described, ever

 private:
  void give_up(std::string why);
  void read();
  void hear(const std::string& line);
  bool understand(const std::string& line);
  void hear_answer(Heard::Kind kind, std::string why = {});
  void hear_again();
  std::string reason(const std::map<std::string, std::string>& groups, const std::string& line) const;
  void ask_for_report();
  void send_what_may_go();
  bool has_room(const Outgoing& next) const;
  void write_line(const std::string& line);

  std::unique_ptr<LoggedTransport> transport_;
  ControllerDescription description_;
  LinePattern greeting_, accepted_, refused_, again_, report_, probe_, trouble_;
  std::deque<Outgoing> waiting_, under_way_;
  std::deque<Outgoing> not_taken_;  ///< had no room, and go once more when all that is under way is answered
  std::vector<Heard> heard_;
  std::string partial_, half_;
  bool too_long_ = false;
  enum class Phase { closed, opening, greeting, up } phase_ = Phase::closed;
  std::string why_ = "The line is not open.";
  std::uint32_t next_id_ = 1, forgotten_before_ = 0;
  bool refused_unseen_ = false;
  bool may_greet_again_ = false;  ///< it did by itself, and was asked as well
  double greet_until_ = 0, asked_at_ = 0, reported_at_ = 0, answered_at_ = 0, not_before_ = 0;
  std::size_t strays_ = 0;
};

}  // namespace ypsi::link
