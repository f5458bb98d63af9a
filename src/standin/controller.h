#pragma once
// The stand-in's controller: takes blocks and acts, turns the motors, reads the wires. It knows its own settings and
// counts its own steps; where the carriages are it learns from switches alone.
#include <array>
#include <deque>
#include <optional>

#include "core/motion/planner.h"
#include "core/procedures/machine_link.h"
#include "core/program/interpreter.h"
#include "standin/plant.h"
#include "standin/settings.h"

namespace ypsi::standin {

class Controller final : public MachineLink {
 public:
  Controller(Plant& plant, const std::array<AxisBelief, axis_count>& beliefs);

  /// Lets `seconds` of the machine's time pass. Deterministic: the same calls give the same moves.
  void advance(double seconds);
  double now_s() const { return now_; }
  /// Its host is silent: what runs is slowed down and ended.
  void link_lost();
  /// The supply failed for a moment: everything but the settings is gone.
  void restart();
  std::uint32_t boots() const { return boots_; }
  /// A program may be under way, and all of it that has come is done.
  bool has_nothing_to_do() const { return !active_ && queue_.empty() && dwell_left_ <= 0 && !probing_ && !homing_; }
  void forget_refusal() { refusal_.reset(); }

  MachineStatus status() const override;
  Result<double> setting(std::string_view name) const override { return settings_.get(name); }
  Result<void> set_setting(std::string_view name, double value) override;
  std::map<std::string, double> settings() const override;
  Result<void> home() override;
  Result<void> jog(Axis axis, double distance, double rate) override;
  void end_jog() override;
  Result<void> begin_program() override;
  Result<void> send(std::string_view block, std::uint32_t tag) override;
  void end_program() override { program_all_sent_ = true; }
  void stop() override;
  void hold() override;
  void go_on() override;
  void abandon() override;
  void tool_changed(int tool) override;
  void set_feed_override(double factor) override;

 private:
  struct Queued {  ///< one motion or event of the running program
    std::uint32_t tag = 0;
    std::optional<EventKind> event;
    double value = 0;
    Segment segment;
    bool cutting = false;
    OwnAct act{};  ///< of head_act
  };
  enum class HomingPhase { approach, back_off, latch, pull_off };
  struct Homing {
    std::array<Axis, axis_count> order{Axis::z, Axis::x, Axis::y};
    std::size_t at = 0;
    HomingPhase phase = HomingPhase::approach;
    double place = 0;      ///< machine coordinate by the old count, mm
    double speed = 0;      ///< signed, mm/s
    double start = 0;      ///< where this phase began
    bool slowing = false;  ///< the switch has told what was wanted
    std::int64_t latched = 0;
    std::array<bool, axis_count> knew{};  ///< which axes had been homed before
    MachinePosition shift;
    std::string found;  ///< what was noticed on the way
    Axis axis() const { return order[at]; }
  };
  struct ActiveMove {
    Segment segment;
    Trapezoid profile;
    double t = 0;
    std::uint32_t tag = 0;
    bool cutting = false;
  };
  struct Probing {
    bool must_touch = false, touched = false, waiting = true;  ///< waiting: its move has not begun
  };

  // controller.cpp
  Result<void> may_start() const;
  MachinePosition believed() const;
  Kinematics kinematics() const;
  bool moves() const { return active_ || program_ || homing_; }
  const AxisBelief& belief(Axis a) const { return settings_.axes[index(a)]; }
  bool switch_on(Axis a) const { return plant_.switch_line(a) != belief(a).switch_inverted; }
  bool probe_on() const { return plant_.probe_line() != settings_.probe_inverted; }
  void become_idle();
  void stop_with(MachineState state, std::string message);
  // controller_program.cpp
  Result<void> check_limits(const Extents& reach, const WorkPosition& from, std::uint32_t tag) const;
  void forget_queue();
  void fill_look_ahead();
  void do_event(const Queued& event);
  bool start_next();
  // controller_motion.cpp
  void step_moves(double seconds);
  void follow(const std::array<double, 3>& place);
  double next_ratio(double dt);
  bool watch_inputs();
  void end_probing();
  void step_homing(double dt);
  void next_homing_phase();
  void latch();

  Plant& plant_;
  Settings settings_;
  std::array<std::int64_t, axis_count> steps_{};  ///< counted from the home coordinate
  std::array<bool, axis_count> homed_{};
  std::array<bool, axis_count> limit_armed_{}, far_armed_{};  ///< the switch has been seen off since
  double now_ = 0;
  std::uint32_t boots_ = 1;

  MachineState state_ = MachineState::not_homed;
  std::string message_;
  std::deque<Queued> queue_;
  LookAhead ahead_;
  std::size_t planned_ = 0;  ///< how many at the front of the queue are in the look-ahead already
  std::optional<ActiveMove> active_;
  double v_ = 0, dwell_left_ = 0;
  double ratio_ = 1, wanted_ratio_ = 1, override_ = 1;
  bool program_ = false, program_all_sent_ = false, abandoning_ = false, hold_ = false, link_lost_ = false;
  bool dry_ = true;  ///< nothing to do now; counted when something had been before
  Interpreter interpreter_;
  Program scratch_;
  std::uint32_t tag_in_hand_ = 0, ran_dry_ = 0;
  double spindle_ = 0, tool_offset_ = 0;
  WorkZero base_zero_;  ///< G54's as the program began: in it the interpreter tells its moves
  int tool_ = 1, wanted_tool_ = 0, work_frame_ = 0;
  std::optional<Homing> homing_;
  std::optional<Probing> probing_;
  ProbeResult probe_;
  HomingFound homing_found_;
  std::optional<Error> refusal_;
};

}  // namespace ypsi::standin
