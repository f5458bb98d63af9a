#pragma once
// A machine whose wire is its owner: what a program asks of it becomes a card, one after the other, and what the owner
// says that was seen is what the machine is then taken to have done. Procedures know nothing of it.
#include <cstdint>
#include <deque>
#include <set>
#include <string>
#include <utility>

#include "core/procedures/machine_link.h"
#include "core/program/interpreter.h"
#include "link/by_hand/hand_memory.h"

namespace ypsi::link {

class HandLink final : public MachineLink {
 public:
  explicit HandLink(HandMemory memory);

  // -- the owner's side
  /// What is to be done next; none where nothing is.
  const HandCard* card() const { return cards_.empty() ? nullptr : &cards_.front(); }
  std::size_t cards_left() const { return cards_.size(); }
  /// Errors, and then the card stays: `gone` where it is not the one in hand; `missing` where a place is needed and not
  /// given; `not_finite`, `out_of_range`.
  Result<void> answer(std::uint32_t number, const HandAnswer& answer);
  /// What its screen shows at its inputs, as the owner sees it.
  void show_inputs(const MachineInputs& inputs);
  /// Where its screen says that it stands, which the owner may say at any time while nothing moves. Errors: `busy`;
  /// `not_finite`.
  Result<void> stands_at(const MachinePosition& at);
  /// It lost its place: what was asked of it is void, and it must be homed.
  void was_switched_off();
  /// Blocks that this machine's controller takes for its heads.
  void know_blocks(std::vector<OwnBlock> blocks) { own_blocks_ = std::move(blocks); }
  /// Asks, once, for what the controller has, but for what a line tells of it.
  void ask_what_it_has(const std::set<std::string>& told_otherwise = {});
  /// What a line has told: a setting; where it stands while no card moves it.
  void know(const std::string& name, double value);
  void follow(const MachinePosition& position, const std::array<bool, axis_count>& homed);
  /// Whether a card of a motion is in hand.
  bool moves() const;
  /// To be kept whenever changes() is another number than before.
  HandMemory memory() const;
  std::uint64_t changes() const { return changes_; }
  /// settings(), to look at: a line asks at every word that it hears.
  const std::map<std::string, double>& known() const { return settings_; }

  // -- the program's side; see MachineLink
  MachineStatus status() const override;
  Result<double> setting(std::string_view name) const override;
  Result<void> set_setting(std::string_view name, double value) override;
  std::map<std::string, double> settings() const override { return settings_; }
  std::vector<Refusal> refusals() override { return std::exchange(refusals_, {}); }
  Result<void> home() override;
  /// Also `limit` for a move that would pass a soft limit, except by so little that its owner can safely see whether
  /// the controller's own limit holds.
  Result<void> jog(Axis axis, double distance, double rate) override;
  void end_jog() override { break_off(); }
  Result<void> begin_program() override;
  Result<void> send(std::string_view block, std::uint32_t tag) override;
  void end_program() override;
  void stop() override;
  void hold() override;
  void go_on() override {}  ///< only its owner can
  void abandon() override;
  void tool_changed(int tool) override;
  void set_feed_override(double) override {}

 private:
  /// Error: `out_of_range` where no machine can stand there.
  static Result<void> sensible(const std::optional<MachinePosition>& at);
  HandCard& add(HandCard::Kind kind);
  void add_settings(std::vector<SettingChange> settings);
  /// Error: `busy` while a card of a motion, or a program, is not done; "...; `then`."
  Result<void> free_for(const char* then) const;
  /// The same for a motion; also `stopped`.
  Result<void> may_start(const char* then) const;
  void start_afresh();
  void drop_motions();
  void break_off();
  void close_section();
  Result<void> settle(HandCard& card, const HandAnswer& answer);
  Result<void> settle_settings(const HandCard& card, const HandAnswer& answer);
  Result<void> settle_program(HandCard& card, const HandAnswer& answer);
  void settle_look_up(const HandCard& card, const HandAnswer& answer);
  void set_homed(bool homed) { homed_ = {homed, homed, homed}; }
  void end_motion();
  double value_of(std::string_view name) const;

  std::map<std::string, double> settings_;  ///< as they will be once every card is done
  std::deque<HandCard> cards_;
  std::uint32_t next_number_ = 1;
  MachinePosition position_;
  std::array<bool, axis_count> homed_{};
  bool looked_up_ = false, stopped_ = false;
  int tool_ = 0;
  MachineInputs inputs_;
  ProbeResult probe_;
  HomingFound homing_;
  std::optional<Error> refusal_;
  std::vector<Refusal> refusals_;
  std::string message_;

  // the program under way
  bool program_ = false, all_sent_ = false;
  std::vector<OwnBlock> own_blocks_;
  Interpreter interpreter_;
  WorkZero base_;
  std::string section_;  ///< blocks not on a card yet
  std::uint32_t section_first_ = 0, section_last_ = 0, block_in_hand_ = 0;
  std::uint32_t probes_at_start_ = 0;
  mutable int sent_since_status_ = 0;
  std::uint64_t changes_ = 0;
  double spindle_rpm_ = 0, tool_offset_ = 0;
};

}  // namespace ypsi::link
