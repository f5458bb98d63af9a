#pragma once
// The controller's end of the link: bytes in, bytes out, a MachineLink behind. A real controller's firmware would do
// the same. Time comes in as seconds of any clock that only rises.
#include <deque>
#include <functional>
#include <map>
#include <optional>
#include <string>

#include "link/frame.h"
#include "link/messages.h"

namespace ypsi::link {

inline constexpr int server_look_ahead = 256;      ///< blocks taken in beyond those the controller has
inline constexpr double state_every_s = 0.05;      ///< while it changes: 20 Hz
inline constexpr double same_state_every_s = 0.5;  ///< while it does not
inline constexpr double alive_every_s = 0.1;       ///< something short, which a bad line still carries
inline constexpr double host_silent_after_s = 1;   ///< without a byte from the host

class Server {
 public:
  struct Behind {
    MachineLink* machine = nullptr;
    Bench* bench = nullptr;  ///< of a simulated machine, else null
    std::function<Identity()> identity;
    std::function<void()> host_lost;  ///< what the controller does when its host is silent or gone
  };
  explicit Server(Behind behind) : behind_(std::move(behind)) {}

  void receive(std::string_view bytes);
  /// Feeds the controller, tells its state, watches for silence. Call it at least every 20 ms.
  void poll(double now_s);
  std::string take_output() { return std::exchange(output_, {}); }
  /// The connection was closed; the machine is told as if the host were silent.
  void closed();
  /// A host must tell this in its hello; empty: none need.
  void require(std::string token) { token_ = std::move(token); }
  bool has_host() const { return has_host_; }
  /// What the line carries, bytes/s: states take a third of it at most. 0: no bound.
  void set_line_rate(double bytes_per_s) { line_rate_ = bytes_per_s; }
  /// The supply failed: it knows of no host any more, and says hello.
  void restarted();

 private:
  struct Waiting {
    std::uint32_t tag = 0;
    std::string block;
    bool end = false;  ///< no block: the end of the program
  };
  void take(const DownLine& line);
  void take_act(Act act);
  void greet(const json& hello);
  void say_hello();
  bool refuse(const json& hello);
  bool comes_late(const json& request);
  void take_block(const std::string& payload);
  json do_request(const json& request);
  json do_machine(const std::string& what, const json& in);
  json do_bench(const std::string& what, const json& in);
  void feed();
  void say(const json& object);
  MachineStatus status() const;
  void say_state();
  void say_answer(std::uint32_t number);
  void say_done();
  void ask_again();

  Behind behind_;
  DownDecoder decoder_;
  std::string output_;
  std::deque<Waiting> inbox_;
  std::map<std::uint32_t, json> answers_;  ///< the last few, for requests that come twice
  std::uint32_t expected_ = 0, last_request_ = 0;
  bool has_host_ = false, has_clock_ = false, program_refused_ = false, done_owed_ = false;
  std::optional<Error> refusal_;
  std::string token_;
  std::optional<double> host_clock_;  ///< the host's clock behind this one, as the quickest line told it, s
  double now_ = 0, silent_for_ = 0, told_at_ = 0, done_at_ = 0, asked_again_at_ = -1, line_rate_ = 0,
         state_takes_s_ = 0;
  std::uint32_t asked_again_for_ = 0;
  MachineStatus told_;
  bool tell_again_ = false;  ///< an act has only begun
};

}  // namespace ypsi::link
