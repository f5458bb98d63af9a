#pragma once
// A controller that takes G-code a line at a time, as the MachineLink that procedures and the window talk to. What its
// description says goes over the line; what it leaves out becomes a card for the owner. What the controller cannot be
// asked is looked after here: places before they are told, soft limits, where in the program it is.
#include <cstdint>
#include <deque>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/program/interpreter.h"
#include "link/by_hand/hand_link.h"
#include "link/lines/line_talk.h"

namespace ypsi::link {

class LineLink final : public MachineLink {
 public:
  /// `known`: what is taken for so until the line, or its owner, says otherwise.
  LineLink(std::unique_ptr<Transport> transport, ControllerDescription description, HandMemory known);

  /// Opens the line and reads the settings that it tells; poll() goes on with it. Error: `offline` with why.
  Result<void> begin();
  /// True once it has greeted and told, false while that may be yet. Error: `offline` with why not.
  Result<bool> opened() const;
  /// begin(), and waits for what comes of it: for programs without a window.
  Result<void> open();
  /// Hears, sends, and goes on with what is under way. Call it often.
  void poll();
  LineTalk& talk() { return talk_; }
  const LineTalk& talk() const { return talk_; }
  const ControllerDescription& description() const { return description_; }
  /// Whether its reports say what its inputs show; else their owner does, see hands().
  bool tells_inputs() const { return !description_.inputs.empty(); }
  /// A setting's value with the digits that the controller takes of it, which is what it then has.
  double as_taken(std::string_view name, double value) const;
  /// Since it was begun.
  std::size_t reports_heard() const { return reports_heard_; }
  /// Who does what the line cannot.
  HandLink& hands() { return hands_; }
  const HandLink& hands() const { return hands_; }
  /// Blocks that this machine's controller takes for its heads.
  void know_blocks(std::vector<OwnBlock> blocks) { own_blocks_ = std::move(blocks); }

  MachineStatus status() const override;
  Result<double> setting(std::string_view name) const override { return hands_.setting(name); }
  Result<void> set_setting(std::string_view name, double value) override;
  std::map<std::string, double> settings() const override { return hands_.known(); }
  std::vector<Refusal> refusals() override;
  Result<void> home() override;
  Result<void> jog(Axis axis, double distance, double rate) override;
  void end_jog() override;
  Result<void> begin_program() override;
  /// Also `not_taken` for a word that this controller does not understand and that nothing can be written for.
  Result<void> send(std::string_view block, std::uint32_t tag) override;
  void end_program() override;
  void stop() override;
  void hold() override;
  void go_on() override;
  void abandon() override;
  void tool_changed(int tool) override;
  void set_feed_override(double factor) override;

 private:
  enum class Act { none, home, jog, program };
  /// A straight bit of the way that was sent, to find the place in the program again.
  struct Stretch {
    std::uint32_t tag = 0;
    MachinePosition from, to;
    bool cutting = false;
  };
  struct LineSent {
    std::optional<Stretch> last{};  ///< of its way
    double spindle_rpm = 0;         ///< once it is done
  };
  struct Probing {
    std::uint32_t id = 0;
    bool must_touch = false;
    MachinePosition from, target;
    std::optional<bool> touched{};
    MachinePosition at;
  };

  /// An answer may take so much longer than what it answers.
  static constexpr double patience_s = 10, patience_factor = 3;
  static constexpr double there_mm = 0.03;          ///< as told with two digits, from a whole step
  static constexpr std::size_t enough_reports = 2;  ///< that it stands, where its place does not say so

  // line_link.cpp
  void read_settings();
  void settings_told();
  void hear(const Heard& heard);
  void hear_accepted(std::uint32_t id);
  void hear_report(const std::map<std::string, std::string>& groups);
  void hear_answer(const Heard& heard);
  void hear_refused(const Heard& heard);
  void hear_probe(const std::map<std::string, std::string>& groups);
  void hear_trouble(const std::string& why);
  void started_again();
  void adopt_hands();
  void do_what_a_block_does();
  bool place_told(const std::map<std::string, std::string>& groups, MachinePosition& at) const;
  WorkZero zero_in_use() const;
  bool stands_at(const MachinePosition& place) const;
  void find_place_in_program();
  std::optional<Error> off_the_way(double least, double skipped);
  bool stands() const;
  void look_for_lost_answers();
  static Error line_lost();
  // line_acts.cpp
  Result<void> may_start(const char* then) const;
  void start_afresh(Act act);
  void end_act();
  /// `halts`: the controller does not know of it, and is told to stop.
  void fail_act(Error why, bool halts = false);
  void go_on_with_act();
  void feed_jog();
  void go_on_with_home();
  void place_is_lost();
  bool takes_block(const std::string& words) const;
  void set_by_block(const SettingChange& change);
  bool jog_can_be_ended() const { return description_.acts.end_jog.said(); }
  // line_program.cpp
  std::uint32_t send_line(std::string line);
  void go_on_with_program();
  void end_probing();
  void stop_spindle();
  Result<std::string> in_words_it_takes(std::string_view block, const Program& read, const ModalState& before,
                                        std::uint32_t tag);
  void remember_way(const Program& read, const WorkPosition& from, std::uint32_t tag);
  std::string search_described(const Program& read, const WorkPosition& from) const;

  ControllerDescription description_;
  LineTalk talk_;
  HandLink hands_;
  std::vector<OwnBlock> own_blocks_;
  bool settings_known_ = false;
  std::uint32_t last_reading_ = 0;  ///< the last line that asks for settings
  std::set<std::string> told_by_line_;

  // as told, or as it follows from what was taken
  MachinePosition position_;
  std::array<bool, axis_count> homed_{};
  std::optional<MachineState> told_state_;
  MachinePosition stood_at_;  ///< as reported last ...
  double stood_since_ = 0;    ///< ... and since when
  MachineInputs inputs_;
  double feed_ = 0, spindle_rpm_ = 0, override_ = 1;
  int tool_ = 0;
  std::size_t reports_heard_ = 0;
  std::size_t standing_reports_ = 0;  ///< in a row, since the last answer
  std::string message_;
  std::optional<Error> refusal_;
  std::vector<Refusal> refusals_;
  ProbeResult probe_;
  HomingFound homing_;
  bool stopped_ = false, hands_moved_ = false;

  // what is under way
  Act act_ = Act::none;
  bool accepted_any_ = false, ending_ = false, held_ = false, hold_by_waiting_ = false, settle_sent_ = false;
  std::uint32_t act_from_ = 0;  ///< the first line of the act
  Axis jog_axis_ = Axis::x;
  double jog_at_ = 0, jog_to_ = 0, jog_rate_ = 0;
  bool jog_homed_ = false, jog_beyond_ = false;
  std::map<std::uint32_t, SettingChange> settings_sent_;  ///< by number, not answered yet
  std::map<std::string, std::uint32_t> read_back_;        ///< number of the last question for a setting
  std::map<std::uint32_t, LineSent> lines_sent_;

  // the program
  Interpreter interpreter_;
  WorkZero base_;
  bool all_sent_ = false, spindle_used_ = false;
  std::string before_next_;  ///< puts the modes back that a block was written otherwise in
  std::size_t answers_lost_ = 0;
  int off_way_reports_ = 0;
  double way_seen_at_ = 0, way_along_ = 0;  ///< when, and how far along the first stretch, mm
  int wanted_tool_ = 0;
  std::uint32_t tag_in_hand_ = 0, last_tag_ = 0;
  std::deque<Stretch> way_;
  std::optional<Probing> probing_;
  std::uint32_t shifts_ = 0;  ///< the line, not answered yet, after which the work's places mean others; 0: none
  double owed_s_ = 0;         ///< how long what is under way may take
};

}  // namespace ypsi::link
