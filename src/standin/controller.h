#pragma once
// The stand-in's controller: takes blocks and realtime acts, turns the motors, watches the switches. It knows its own
// settings and counts its own steps; where the carriages are it learns from switches alone.
#include <array>
#include <deque>
#include <optional>
#include <random>

#include "core/motion/planner.h"
#include "core/procedures/machine_link.h"
#include "core/program/interpreter.h"
#include "standin/mechanics.h"

namespace ypsi::standin {

class Controller final : public MachineLink {
 public:
  explicit Controller(const Scenario& scenario);

  /// Lets `seconds` of the machine's time pass. Deterministic: the same calls give the same moves.
  void advance(double seconds);
  const std::array<AxisMechanics, axis_count>& mechanics() const { return mechanics_; }
  double now_s() const { return now_; }

  MachineStatus status() const override;
  Result<double> setting(std::string_view name) const override;
  Result<void> set_setting(std::string_view name, double value) override;
  Result<void> set_work_zero(Axis axis, double machine_coordinate) override;
  Result<void> home() override;
  Result<void> jog(Axis axis, double distance, double rate) override;
  void end_jog() override;
  Result<void> begin_program() override;
  Result<void> send(std::string_view block, std::uint32_t tag) override;
  void end_program() override;
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
    Axis axis() const { return order[at]; }
  };
  struct ActiveMove {
    Segment segment;
    Trapezoid profile;
    double t = 0;
    std::uint32_t tag = 0;
    bool cutting = false;
  };

  void step_moves(double seconds);
  void step_homing(double dt);
  bool start_next();
  void follow(const std::array<double, 3>& place);
  double next_ratio(double dt);
  void stop_with(std::string message);
  void forget_queue();
  void fill_look_ahead();
  void do_event(const Queued& event);
  void become_idle();
  void next_homing_phase();
  bool read_switch(Axis axis);
  void draw_switch_place(Axis axis);
  double limit_low(Axis a) const { return beliefs_[index(a)].soft_min; }
  double limit_high(Axis a) const { return beliefs_[index(a)].soft_max; }
  Kinematics kinematics() const;
  Result<void> may_start() const;
  /// `reach` in the work frame.
  Result<void> check_limits(const Extents& reach, std::uint32_t tag) const;
  MachinePosition believed() const;

  std::array<AxisTruth, axis_count> truths_;
  std::array<AxisBelief, axis_count> beliefs_;
  std::array<AxisMechanics, axis_count> mechanics_;
  std::array<std::int64_t, axis_count> steps_{};  ///< counted from the home coordinate
  std::array<bool, axis_count> homed_{};
  std::array<double, axis_count> switch_trips_at_{};  ///< this time's place, with its scatter
  std::array<bool, axis_count> switch_on_{};
  std::mt19937_64 random_;
  double now_ = 0;

  MachineState state_ = MachineState::not_homed;
  std::string message_;
  WorkZero zero_;
  std::deque<Queued> queue_;
  LookAhead ahead_;
  std::size_t planned_ = 0;  ///< how many at the front of the queue are in the look-ahead already
  std::optional<ActiveMove> active_;
  double v_ = 0;
  double ratio_ = 1, wanted_ratio_ = 1, override_ = 1;
  bool program_ = false, program_all_sent_ = false, abandoning_ = false, hold_ = false;
  Interpreter interpreter_;
  Program scratch_;
  std::uint32_t blocks_done_ = 0, tag_in_hand_ = 0;
  double spindle_ = 0;
  int tool_ = 1, wanted_tool_ = 0;
  std::optional<Homing> homing_;
};

}  // namespace ypsi::standin
