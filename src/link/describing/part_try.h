#pragma once
// One part of a description tried at the machine: what is said, what comes back, and what the machine does. Acts are
// tried by the LineLink that will work with the description later.
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "link/describing/part.h"
#include "link/lines/line_link.h"

namespace ypsi::link {

/// What a try has shown.
struct TryFound {
  Part part = Part::greeting;
  bool worked = false;
  std::string why;                              ///< in a sentence where something was refused; else empty
  std::string line;                             ///< what came back
  std::map<std::string, std::string> groups{};  ///< and what is read from it
  double seconds = 0;                           ///< until then
  MachinePosition from, to;                     ///< of a move, mm; as told, else as reckoned
  std::map<std::string, double> settings{};     ///< that were told, by our names

  static constexpr double dwell_s = 1;
  /// Of a block that was taken: its answer came once the dwell was done.
  bool waited_for_dwell() const { return seconds > 0.8 * dwell_s; }
};

/// How far and how fast it goes in a try, mm and mm/min.
struct TryMoves {
  static constexpr double jog = 5, interrupted = 20, rate = 600, probe = 5, probe_rate = 60;
  static constexpr double interrupted_after_s = 0.8;
};

class PartTry {
 public:
  /// `line` is open and outlives it. Precondition: can_be_tried(part).
  /// Of a draft whose flaw keeps it from being worked with, only what is said and answered can be tried.
  PartTry(Part part, LoggedTransport& line, const ControllerDescription& draft, const HandMemory& known);
  PartTry(const PartTry&) = delete;
  PartTry& operator=(const PartTry&) = delete;
  ~PartTry();

  /// Goes on with it. Call it often, also while nothing comes.
  void poll();
  const std::optional<TryFound>& found() const { return found_; }
  /// Ends it at once; what moves is told to stop, as far as it can be told.
  void give_up();

 private:
  void take_hold(const HandMemory& known);
  void end(bool worked, std::string why = {});
  void say();
  void listen();
  void hear(const std::string& line);
  void ask_for_settings();
  void begin_move();
  void follow_move();
  Result<void> run(const std::string& block);
  void interrupt();
  bool is_interrupted() const;

  Part part_;
  LoggedTransport& line_;
  ControllerDescription draft_;
  LinePattern pattern_;
  std::unique_ptr<LineLink> link_;  ///< of what moves
  std::optional<TryFound> found_;
  TryFound so_far_;
  double began_s_, until_s_;
  std::uint64_t heard_;              ///< lines of the log
  std::vector<std::string> to_ask_;  ///< settings, the next one last
  enum class Phase { opening, moving, interrupted, going_on } phase_ = Phase::opening;
  double phase_s_ = 0;
  MachinePosition stood_at_;
  std::uint32_t probes_before_ = 0;
};

}  // namespace ypsi::link
