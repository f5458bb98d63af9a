#pragma once
// Streams a program to a machine, as fast as its look-ahead takes it.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/procedures/machine_link.h"
#include "core/program/own_blocks.h"

namespace ypsi {

enum class RunState { idle, running, finished, abandoned, failed };

class ProgramRun {
 public:
  /// Before start(): beams are switched off before the first block, and a block that would switch one on above its
  /// owner's cap is never sent: it ends the run.
  void watch_beams(const std::vector<Head>& heads);
  /// `text` must outlive the run. Starts at line `first` (from 1), after the blocks of `lead_in`; ends before line
  /// `until`, 0: at the end.
  Result<void> start(MachineLink& link, std::string_view text, std::uint32_t first = 1,
                     std::vector<std::string> lead_in = {}, std::uint32_t until = 0);
  /// Feeds blocks; call it often. Precondition: started.
  void tick();
  void abandon();
  RunState state() const { return state_; }
  std::uint32_t line_in_hand() const { return line_in_hand_; }  ///< from 1; 0 before the first
  const std::string& why() const { return why_; }               ///< with `failed`

 private:
  MachineLink* link_ = nullptr;
  /// The next block, or none at the end.
  std::optional<std::string_view> next_block() const;
  void fail_with(std::string why);
  std::optional<std::string> over_cap(std::string_view block) const;
  std::vector<Head> beams_;
  std::vector<OwnBlock> beam_blocks_;
  std::string_view text_;
  std::vector<std::string> lead_in_;
  std::size_t lead_in_at_ = 0;
  std::size_t at_ = 0;
  std::uint32_t until_ = 0, next_line_ = 1, line_in_hand_ = 0;
  bool all_sent_ = false;
  RunState state_ = RunState::idle;
  std::string why_;
};

}  // namespace ypsi
